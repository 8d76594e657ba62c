import { ActionIcon, Button } from '@mantine/core';
import { useCallback, useEffect, useImperativeHandle, useMemo, useRef, useState, type KeyboardEvent, type MouseEvent, type Ref } from 'react';
import type { TimelineView } from '../../server/projects/views/timeline';
import { token } from '../shared/token';
import { draw, frameAt, LABEL_PX, type Colours, type View } from './draw-timeline';
import { drawnEvents, hitAt, lanesHeight, lanesOf, nestingOf } from './lanes';

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
const MOST_PX_PER_FRAME = 100;
/** Browsers lay out no box much wider than this. */
const MOST_WIDTH_PX = 16_000_000;

export interface CanvasHandle {
  /** Scrolls an event into view, opening what it is nested in. */
  reveal(index: number): void;
}

interface Props {
  readonly view: TimelineView;
  readonly selected: number | null;
  readonly highlighted: ReadonlySet<string> | null;
  readonly onSelect: (index: number | null) => void;
  readonly ref?: Ref<CanvasHandle>;
}

/** The timeline to scale. Ctrl and wheel or + and − zoom, 0 fits, arrows walk from event to event, Enter opens nested ones. */
export function TimelineCanvas({ view: timeline, selected, highlighted, onSelect, ref }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const colours = useRef<Colours | null>(null);
  const hover = useRef<number | null>(null);
  const [width, setWidth] = useState(0);
  const [zoom, setZoom] = useState(1);
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
  const lanes = useMemo(() => lanesOf(timeline.tracks, open), [timeline, open]);
  const height = lanesHeight(lanes);
  const fitted = Math.max(0.00001, (width - LABEL_PX - 12) / Math.max(1, timeline.durationFrames));
  const most = Math.max(fitted, Math.min(MOST_PX_PER_FRAME, MOST_WIDTH_PX / Math.max(1, timeline.durationFrames)));
  const pxPerFrame = Math.min(most, fitted * zoom);
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
    colours.current ??= Object.fromEntries(COLOURS.map((name) => [name, token(name)]));
    draw(context, { timeline, lanes, open, selected, highlighted, hover: hover.current, colours: colours.current, font: token('--text') }, now());
  }, [timeline, lanes, open, now, width, selected, highlighted]);

  // What is asked for later paints as things stand then.
  const latest = useRef(paint);
  latest.current = paint;
  useEffect(() => {
    const resize = new ResizeObserver(() => setWidth(scroller.current?.clientWidth ?? 0));
    resize.observe(scroller.current!);
    return () => resize.disconnect();
  }, []);
  useEffect(() => {
    paint();
    void document.fonts.ready.then(paint);
    const scheme = new MutationObserver(() => {
      colours.current = null;
      paint();
    });
    scheme.observe(document.documentElement, { attributeFilter: ['data-mantine-color-scheme'] });
    return () => scheme.disconnect();
  }, [paint]);

  /** Zooms about a point, so that what lies under it stays there. */
  const zoomBy = useCallback(
    (factor: number, atPx: number) => {
      const next = Math.min(most / fitted, Math.max(1, zoom * factor));
      const frame = ((scroller.current?.scrollLeft ?? 0) + atPx - LABEL_PX) / pxPerFrame;
      setZoom(next);
      requestAnimationFrame(() => {
        if (scroller.current) scroller.current.scrollLeft = frame * Math.min(most, fitted * next) - atPx + LABEL_PX;
      });
    },
    [zoom, fitted, most, pxPerFrame],
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

  const toggle = (ids: readonly string[], wanted?: boolean) =>
    setOpen((old) => {
      const next = new Set(old);
      for (const id of ids) {
        if (wanted ?? !next.has(id)) next.add(id);
        else next.delete(id);
      }
      return next;
    });
  const reveal = useCallback(
    (index: number) => {
      const around = nestingOf(timeline.tracks, index);
      if (around.length > 0) toggle(around, true);
      const event = drawnEvents(timeline.tracks, null).find((entry) => entry.index === index);
      if (!event || !scroller.current) return;
      const x = event.start * pxPerFrame;
      if (x < scroller.current.scrollLeft || x > scroller.current.scrollLeft + width - 120) scroller.current.scrollLeft = x - width / 3;
    },
    [timeline, pxPerFrame, width],
  );
  useImperativeHandle(ref, () => ({ reveal }), [reveal]);

  const at = (event: MouseEvent) => {
    const box = canvas.current!.getBoundingClientRect();
    return { y: event.clientY - box.top, frame: frameAt(event.clientX - box.left, now()), onLabels: event.clientX - box.left < LABEL_PX };
  };
  const onClick = (event: MouseEvent) => {
    const { y, frame } = at(event);
    const hit = hitAt(lanes, y, frame);
    if (hit && 'nested' in hit) toggle([hit.nested.id]);
    else onSelect(hit ? hit.event.index : null);
  };
  const onMove = (event: MouseEvent) => {
    const { frame, onLabels } = at(event);
    hover.current = onLabels ? null : frame;
    requestAnimationFrame(() => latest.current());
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const events = () => drawnEvents(timeline.tracks, open);
    const walk = (to: (index: number, count: number) => number) => {
      event.preventDefault();
      const list = events();
      const next =
        list[
          Math.min(
            list.length - 1,
            Math.max(
              0,
              to(
                list.findIndex((entry) => entry.index === selected),
                list.length,
              ),
            ),
          )
        ];
      if (!next) return;
      onSelect(next.index);
      reveal(next.index);
    };
    const allNested = (tracks: TimelineView['tracks']): string[] =>
      tracks.flatMap((track) => track.nested.flatMap((nested) => [nested.id, ...allNested(nested.tracks)]));
    const keys: Readonly<Record<string, () => void>> = {
      '+': () => zoomBy(1.5, width / 2),
      '=': () => zoomBy(1.5, width / 2),
      '-': () => zoomBy(1 / 1.5, width / 2),
      '0': () => setZoom(1),
      Escape: () => onSelect(null),
      Enter: () => toggle(allNested(timeline.tracks), open.size === 0),
      ArrowRight: () => walk((index) => index + 1),
      ArrowLeft: () => walk((index) => index - 1),
      Home: () => walk(() => 0),
      End: () => walk((_, count) => count - 1),
    };
    const act = keys[event.key];
    if (!act || event.ctrlKey || event.metaKey || event.altKey) return;
    // These keys mean the drawing while it is in hand, not the stages.
    event.stopPropagation();
    act();
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
        aria-label={`${timeline.name}, ${timeline.events} events. Arrows walk from event to event, plus and minus zoom, Enter opens nested timelines.`}
        onKeyDown={onKeyDown}
      >
        <div style={{ width: fullWidth, height }}>
          <canvas
            ref={canvas}
            width={Math.round(width * ratio)}
            height={Math.round(height * ratio)}
            style={{ width, height }}
            onClick={onClick}
            onMouseMove={onMove}
            onMouseLeave={() => ((hover.current = null), paint())}
          />
        </div>
      </div>
      <div className="canvas-zoom">
        <Button size="compact-xs" variant="default" onClick={() => setZoom(1)} disabled={zoom <= 1}>
          Whole
        </Button>
        <ActionIcon size={24} variant="default" aria-label="Zoom out" onClick={() => zoomBy(1 / 1.5, width / 2)} disabled={zoom <= 1}>
          −
        </ActionIcon>
        <ActionIcon size={24} variant="default" aria-label="Zoom in" onClick={() => zoomBy(1.5, width / 2)} disabled={pxPerFrame >= most * 0.999}>
          +
        </ActionIcon>
      </div>
    </div>
  );
}
