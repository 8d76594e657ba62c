import { describe, expect, it } from 'vitest';
import type { DrawnEvent, DrawnTrack, TimelineView } from '../../server/projects/views/timeline';
import { draw, ellipsed, speedWords, type Scene, type View } from './draw-timeline';
import { lanesOf } from './lanes';

/** A canvas that only counts, and keeps what was written. */
function counting() {
  const calls: Record<string, number> = {};
  const texts: string[] = [];
  const context = new Proxy(
    {},
    {
      get: (_, name: string) =>
        name === 'measureText'
          ? (text: string) => ({ width: text.length * 6 })
          : (...args: unknown[]) => {
              calls[name] = (calls[name] ?? 0) + 1;
              if (name === 'fillText') texts.push(String(args[0]));
            },
      set: () => true,
    },
  );
  return { context: context as unknown as CanvasRenderingContext2D, calls, texts };
}

const event = (index: number, start: number, durationFrames: number, own: Partial<DrawnEvent> = {}): DrawnEvent => ({
  index,
  name: `e${index}`,
  start,
  durationFrames,
  clipId: `c${index}`,
  state: 'present',
  enabled: true,
  speed: 1,
  nestedIn: null,
  sourceIn: '',
  sourceOut: '',
  ...own,
});
const track = (events: DrawnEvent[], own: Partial<DrawnTrack> = {}): DrawnTrack => ({
  name: 'V1',
  kind: 'video',
  enabled: true,
  events,
  transitions: [],
  nested: [],
  ...own,
});
const timeline = (tracks: DrawnTrack[], markers: TimelineView['markers'] = []) =>
  ({ tracks, markers, rate: { num: 25, den: 1 }, dropFrame: false, startFrame: 0, durationFrames: 1_000_000 }) as unknown as TimelineView;
function drawn(tracks: DrawnTrack[], view: Partial<View>, open: readonly string[] = [], markers: TimelineView['markers'] = []) {
  const { context, calls, texts } = counting();
  const opened = new Set(open);
  const scene: Scene = {
    timeline: timeline(tracks, markers),
    lanes: lanesOf(tracks, opened),
    open: opened,
    selected: null,
    highlighted: null,
    hover: null,
    colours: {},
    font: 'x',
  };
  draw(context, scene, { widthPx: 1000, heightPx: 200, firstFrame: 0, pxPerFrame: 1, ...view });
  return { calls, texts };
}

describe('drawing', () => {
  const many = [track(Array.from({ length: 20_000 }, (_, index) => event(index, index * 50, 50)))];

  it('touches only what is in view, zoomed in or out', () => {
    const inside = drawn(many, { firstFrame: 500_000, pxPerFrame: 1 });
    expect(inside.calls.fillRect).toBeLessThan(80);
    expect(inside.texts.filter((text) => text.startsWith('e'))).toHaveLength(21);
    // The whole of it on 1000 pixels: a mark or two a pixel, not one an event.
    const whole = drawn(many, { pxPerFrame: 0.001 });
    expect(whole.calls.fillRect).toBeLessThan(3500);
  });

  it('names nested timelines closed and opened, their events only when open', () => {
    const nested = {
      id: '0.0',
      name: 'Montage',
      start: 0,
      end: 400,
      enabled: true,
      speed: 1,
      tracks: [track([event(7, 0, 200), event(8, 200, 200)])],
    };
    const tracks = [track([], { nested: [nested] })];
    expect(drawn(tracks, {}).texts).toEqual(expect.arrayContaining(['▸ Montage']));
    expect(drawn(tracks, {}).texts).not.toContain('e7');
    expect(drawn(tracks, {}, ['0.0']).texts).toEqual(expect.arrayContaining(['▾ Montage', 'e7', 'e8']));
  });

  it('says how fast a retimed event runs, and lets a mark’s name stand before a timecode', () => {
    const texts = drawn([track([event(0, 0, 200, { speed: 0.5 }), event(1, 200, 200, { speed: null }), event(2, 400, 200, { speed: 0 })])], {}).texts;
    expect(texts).toEqual(expect.arrayContaining(['50 %', 'varies', 'held']));
    expect([speedWords(-1), speedWords(1 / 3)]).toEqual(['-100 %', '33.3 %']);
    const labels = (markers: TimelineView['markers']) => drawn([track([])], { pxPerFrame: 4 }, [], markers).texts;
    expect(labels([])).toContain('00:00:02:00');
    expect(labels([{ at: 51, name: 'Bell rings', colour: 'RED' }])).toEqual(expect.arrayContaining(['Bell rings', '00:00:04:00']));
    expect(labels([{ at: 51, name: 'Bell rings', colour: 'RED' }])).not.toContain('00:00:02:00');
  });

  it('a name that is too long ends in an ellipsis, between whole signs, and none is written where nothing fits', () => {
    const context = { measureText: (text: string) => ({ width: [...text].length * 6 }) as TextMetrics };
    expect(ellipsed(context, 'Tuning fork', 66)).toBe('Tuning fork');
    expect(ellipsed(context, 'Tuning fork', 65)).toBe('Tuning fo…');
    expect(ellipsed(context, 'Tuning fork', 48)).toBe('Tuning…');
    expect(ellipsed(context, '🔔🔔🔔🔔', 18)).toBe('🔔🔔…');
    expect(ellipsed(context, 'Tuning fork', 11)).toBe('');
    const long = drawn([track([event(0, 0, 30, { name: 'The founder lifts the ladle' })])], { pxPerFrame: 2 }).texts;
    expect(long.some((text) => text.endsWith('…') && 'The founder lifts the ladle'.startsWith(text.slice(0, -1)))).toBe(true);
  });
});
