import { describe, expect, it } from 'vitest';
import type { DrawnEvent, DrawnTrack, TimelineView } from '../../server/api/views';
import { drawingHeight, eventAt, LABEL_PX, RULER_PX, trackOrder, TRACK_PX } from './draw-timeline';

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
const track = (name: string, kind: DrawnTrack['kind'], events: DrawnEvent[]): DrawnTrack => ({
  name,
  kind,
  enabled: true,
  events,
  transitions: [],
  nested: [],
});
const tracks = [
  track('V1', 'video', [event(0, 0, 50), event(1, 50, 50)]),
  track('V2', 'video', [event(2, 20, 10)]),
  track('A1', 'audio', [event(3, 0, 100)]),
];
const timeline = { tracks } as unknown as TimelineView;

describe('the drawing of a timeline', () => {
  it('lays the highest picture track on top and sound below in order', () => {
    expect(trackOrder(tracks).map((entry) => entry.name)).toEqual(['V2', 'V1', 'A1']);
    expect(drawingHeight(tracks)).toBeGreaterThan(RULER_PX + 2 * TRACK_PX.video + TRACK_PX.audio);
  });

  it('finds the event under a point, zoomed and scrolled, ends exclusive', () => {
    const view = { widthPx: 500, heightPx: 200, firstFrame: 10, pxPerFrame: 4 };
    const x = (frame: number) => LABEL_PX + (frame - 10) * 4;
    const v1 = RULER_PX + TRACK_PX.video + 3 + 5;
    expect(eventAt(timeline, view, x(49) + 3, v1)?.index).toBe(0);
    expect(eventAt(timeline, view, x(50), v1)?.index).toBe(1);
    expect(eventAt(timeline, view, x(25), RULER_PX + 5)?.index).toBe(2);
    expect(eventAt(timeline, view, x(35), RULER_PX + 5)).toBeNull();
    expect(eventAt(timeline, view, x(35), 5)).toBeNull();
  });
});
