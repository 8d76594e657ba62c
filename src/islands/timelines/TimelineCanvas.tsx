import { ActionIcon } from '@mantine/core';
import { useCallback, useEffect, useRef, useState, type KeyboardEvent, type MouseEvent } from 'react';
import type { TimelineView } from '../../server/api/views';
import { token } from '../shared/chart';
import { draw, drawingHeight, eventAt, LABEL_PX, trackOrder, type View } from './draw-timeline';

const COLOURS = [
  '--paper',
  '--paper-2',
  '--sunk',
  '--line',
  '--ink',
  '--soft',
  '--spruce',
  '--spruce-2',
  '--ochre',
  '--ochre-2',
  '--brick',
  '--brick-2',
  '--dusk',
  '--dusk-2',
  '--plum',
  '--plum-2',
];
const MOST_PX_PER_FRAME = 40;

interface Props {
  readonly view: TimelineView;
  readonly selected: number | null;
  readonly highlighted: ReadonlySet<string> | null;
  readonly onSelect: (index: number | null) => void;
}

/** The timeline to scale. Ctrl and wheel or + and − zoom, arrows walk from event to event. */
export function TimelineCanvas({ view: timeline, selected, highlighted, onSelect }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [width, setWidth] = useState(0);
  const [zoom, setZoom] = useState(1);
  const height = drawingHeight(timeline.tracks);
  const fitted = Math.max(0.0001, (width - LABEL_PX - 12) / Math.max(1, timeline.durationFrames));
  const pxPerFrame = Math.min(MOST_PX_PER_FRAME, fitted * zoom);
  const fullWidth = Math.max(width, LABEL_PX + timeline.durationFrames * pxPerFrame + 12);

  const now = useCallback(
    (): View => ({ widthPx: width, heightPx: height, firstFrame: (scroller.current?.scrollLeft ?? 0) / pxPerFrame, pxPerFrame }),
    [width, height, pxPerFrame],
  );
  const paint = useCallback(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || width === 0) return;
    const ratio = window.devicePixelRatio || 1;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    draw(context, timeline, now(), Object.fromEntries(COLOURS.map((name) => [name, token(name)])), token('--text'), selected, highlighted);
  }, [timeline, now, width, selected, highlighted]);

  useEffect(() => {
    const resize = new ResizeObserver(() => setWidth(scroller.current?.clientWidth ?? 0));
    resize.observe(scroller.current!);
    return () => resize.disconnect();
  }, []);
  useEffect(() => {
    paint();
    void document.fonts.ready.then(paint);
    const scheme = new MutationObserver(paint);
    scheme.observe(document.documentElement, { attributeFilter: ['data-mantine-color-scheme'] });
    return () => scheme.disconnect();
  }, [paint]);

  /** Zooms about a point, so that what lies under it stays there. */
  const zoomBy = useCallback(
    (factor: number, atPx: number) => {
      const next = Math.min(MOST_PX_PER_FRAME / fitted, Math.max(1, zoom * factor));
      const frame = ((scroller.current?.scrollLeft ?? 0) + atPx - LABEL_PX) / pxPerFrame;
      setZoom(next);
      requestAnimationFrame(() => {
        if (scroller.current) scroller.current.scrollLeft = frame * Math.min(MOST_PX_PER_FRAME, fitted * next) - atPx + LABEL_PX;
      });
    },
    [zoom, fitted, pxPerFrame],
  );
  useEffect(() => {
    const element = scroller.current!;
    const onWheel = (event: WheelEvent) => {
      if (!event.ctrlKey) return;
      event.preventDefault();
      zoomBy(event.deltaY < 0 ? 1.25 : 0.8, event.clientX - element.getBoundingClientRect().left);
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [zoomBy]);

  const onClick = (event: MouseEvent) => {
    const box = canvas.current!.getBoundingClientRect();
    onSelect(eventAt(timeline, now(), event.clientX - box.left, event.clientY - box.top)?.index ?? null);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === '+' || event.key === '=') zoomBy(1.5, width / 2);
    else if (event.key === '-') zoomBy(1 / 1.5, width / 2);
    else if (event.key === 'Escape') onSelect(null);
    else if (event.key === 'ArrowRight' || event.key === 'ArrowLeft') {
      event.preventDefault();
      const events = trackOrder(timeline.tracks).flatMap((track) => [...track.events].sort((a, b) => a.start - b.start));
      const at = events.findIndex((entry) => entry.index === selected);
      const next = events[Math.min(events.length - 1, Math.max(0, at + (event.key === 'ArrowRight' ? 1 : -1)))];
      if (next) {
        onSelect(next.index);
        const x = next.start * pxPerFrame;
        if (scroller.current && (x < scroller.current.scrollLeft || x > scroller.current.scrollLeft + width - 80))
          scroller.current.scrollLeft = x - width / 3;
      }
    }
  };
  const ratio = typeof window === 'undefined' ? 1 : window.devicePixelRatio || 1;
  return (
    <div className="panel canvas-box">
      <div
        className="canvas-scroll"
        ref={scroller}
        onScroll={paint}
        tabIndex={0}
        role="application"
        aria-label={`${timeline.name}, ${timeline.events} events. Arrows walk from event to event, plus and minus zoom.`}
        onKeyDown={onKeyDown}
      >
        <div style={{ width: fullWidth, height }}>
          <canvas ref={canvas} width={Math.round(width * ratio)} height={Math.round(height * ratio)} style={{ width, height }} onClick={onClick} />
        </div>
      </div>
      <div className="canvas-zoom">
        <ActionIcon size={24} variant="default" aria-label="Zoom out" onClick={() => zoomBy(1 / 1.5, width / 2)} disabled={zoom <= 1}>
          −
        </ActionIcon>
        <ActionIcon size={24} variant="default" aria-label="Zoom in" onClick={() => zoomBy(1.5, width / 2)}>
          +
        </ActionIcon>
      </div>
    </div>
  );
}
