import { describe, expect, it } from 'vitest';
import type { DrawnEvent, DrawnNested, DrawnTrack } from '../../server/projects/views/timeline';
import { frameAt, LABEL_PX, tickStep, toPx } from './draw-timeline';
import { drawnEvents, firstAfter, hitAt, lanesHeight, lanesOf, nestingOf, RULER_PX, TRACK_PX } from './lanes';

const event = (index: number, start: number, durationFrames: number): DrawnEvent => ({
  index,
  name: `e${index}`,
  start,
  durationFrames,
  clipId: null,
  state: 'present',
  enabled: true,
  speed: 1,
  nestedIn: null,
  sourceIn: '',
  sourceOut: '',
});
const track = (name: string, kind: DrawnTrack['kind'], events: DrawnEvent[], nested: DrawnNested[] = []): DrawnTrack => ({
  name,
  kind,
  enabled: true,
  events,
  transitions: [],
  nested,
});
const montage: DrawnNested = {
  id: '0.2',
  name: 'Montage',
  start: 100,
  end: 160,
  enabled: true,
  speed: 1,
  tracks: [track('V1', 'video', [event(4, 100, 30), event(5, 130, 30)])],
};
const tracks = [
  track('V1', 'video', [event(0, 0, 50), event(1, 50, 50)], [montage]),
  track('V2', 'video', [event(2, 20, 10)]),
  track('A1', 'audio', [event(3, 0, 100)]),
];
const CLOSED = new Set<string>();
const OPEN = new Set(['0.2']);

describe('the lanes of a timeline', () => {
  it('lie with the highest picture track on top, sound below, nested ones under their track once opened', () => {
    const names = (open: ReadonlySet<string>) => lanesOf(tracks, open).map((lane) => `${lane.track.name}${lane.depth > 0 ? '*' : ''}`);
    expect(names(CLOSED)).toEqual(['V2', 'V1', 'A1']);
    expect(names(OPEN)).toEqual(['V2', 'V1', 'V1*', 'A1']);
    expect(lanesHeight(lanesOf(tracks, OPEN))).toBeGreaterThan(lanesHeight(lanesOf(tracks, CLOSED)));
  });

  it('tell what lies at a point, ends exclusive: an event, a nested timeline, or nothing', () => {
    const lanes = lanesOf(tracks, OPEN);
    const v1 = RULER_PX + TRACK_PX.video + 3 + 5;
    const at = (y: number, frame: number) => {
      const hit = hitAt(lanes, y, frame);
      return hit === null ? null : 'event' in hit ? hit.event.index : hit.nested.name;
    };
    expect([at(v1, 49.9), at(v1, 50), at(v1, 120), at(v1, 160)]).toEqual([0, 1, 'Montage', null]);
    expect([at(RULER_PX + 5, 25), at(RULER_PX + 5, 35), at(5, 25)]).toEqual([2, null, null]);
    expect(at(v1 + TRACK_PX.video + 3, 131)).toBe(5);
  });

  it('are walked lane by lane; an event tells what it is nested in', () => {
    expect(drawnEvents(tracks, CLOSED).map((entry) => entry.index)).toEqual([2, 0, 1, 3]);
    expect(drawnEvents(tracks, null).map((entry) => entry.index)).toEqual([2, 0, 1, 4, 5, 3]);
    expect([nestingOf(tracks, 5), nestingOf(tracks, 1)]).toEqual([['0.2'], []]);
  });

  it('find the first event in view among many without looking at each', () => {
    const many = Array.from({ length: 20_000 }, (_, index) => event(index, index * 10, 8));
    expect([firstAfter(many, 0), firstAfter(many, 8), firstAfter(many, 123_457), firstAfter(many, 1e9)]).toEqual([0, 1, 12_345, 20_000]);
  });

  it('have few ticks however long the timeline, single frames when they are wide', () => {
    expect([tickStep(25, 100), tickStep(25, 4), tickStep(25, 0.01)]).toEqual([1, 25, 15_000]);
    for (const frames of [1e5, 1e8, 1e13]) expect(frames / tickStep(25, 700 / frames)).toBeLessThan(9);
  });

  it('keep frames and pixels apart exactly, zoomed and scrolled', () => {
    const view = { widthPx: 500, heightPx: 200, firstFrame: 10, pxPerFrame: 4 };
    expect(toPx(10, view)).toBe(LABEL_PX);
    expect(frameAt(toPx(37, view), view)).toBe(37);
  });
});
