/** Where the tracks of a timeline lie on the drawing: picture above with the highest on top, sound below; nested ones opened in place. */
import type { DrawnEvent, DrawnNested, DrawnTrack } from '../../server/projects/views/timeline';

export const RULER_PX = 24;
export const TRACK_PX = { video: 44, audio: 30, other: 24 } as const;
const NESTED_TRACK_PX = { video: 34, audio: 26, other: 22 } as const;
const GAP_PX = 3;

export interface Lane {
  readonly track: DrawnTrack;
  readonly top: number;
  readonly height: number;
  /** 0 for the timeline's own tracks, 1 for those of a nested one, … */
  readonly depth: number;
  /** The nested timeline this lane belongs to; null for the timeline's own. */
  readonly inside: DrawnNested | null;
}

/** Tracks from the top: picture tracks with the highest first, then sound in order, as layers lie. */
export function trackOrder(tracks: readonly DrawnTrack[]): DrawnTrack[] {
  const video = tracks.filter((track) => track.kind === 'video').reverse();
  return [...video, ...tracks.filter((track) => track.kind !== 'video')];
}

/** Every lane from the top; `open` holds the ids of nested timelines that are opened. */
export function lanesOf(tracks: readonly DrawnTrack[], open: ReadonlySet<string>): Lane[] {
  const lanes: Lane[] = [];
  let top = RULER_PX;
  const visit = (list: readonly DrawnTrack[], depth: number, inside: DrawnNested | null): void => {
    for (const track of trackOrder(list)) {
      const height = (depth === 0 ? TRACK_PX : NESTED_TRACK_PX)[track.kind];
      lanes.push({ track, top, height, depth, inside });
      top += height + GAP_PX;
      for (const nested of track.nested) if (open.has(nested.id)) visit(nested.tracks, depth + 1, nested);
    }
  };
  visit(tracks, 0, null);
  return lanes;
}

export function lanesHeight(lanes: readonly Lane[]): number {
  const last = lanes.at(-1);
  return (last ? last.top + last.height : RULER_PX) + GAP_PX + 4;
}

/** Every event in the order the arrows walk: track by track, in record order, into nested timelines that are open (all for null). */
export function drawnEvents(tracks: readonly DrawnTrack[], open: ReadonlySet<string> | null): DrawnEvent[] {
  return trackOrder(tracks).flatMap((track) => {
    if (track.nested.length === 0) return track.events;
    const inside = track.nested.filter((nested) => open === null || open.has(nested.id));
    const pieces = [
      ...track.events.map((event) => ({ start: event.start, events: [event] })),
      ...inside.map((nested) => ({ start: nested.start, events: drawnEvents(nested.tracks, open) })),
    ];
    return pieces.sort((a, b) => a.start - b.start).flatMap((piece) => piece.events);
  });
}

/** Ids of the nested timelines around an event, outermost first; empty where it is on a track of the timeline. */
export function nestingOf(tracks: readonly DrawnTrack[], index: number): string[] {
  for (const track of tracks) {
    for (const nested of track.nested) {
      if (nested.tracks.some((inner) => inner.events.some((event) => event.index === index))) return [nested.id];
      const deeper = nestingOf(nested.tracks, index);
      if (deeper.length > 0) return [nested.id, ...deeper];
    }
  }
  return [];
}

/** First of `events` (in record order) that ends after `frame`: what lies before need not be drawn. */
export function firstAfter(events: readonly DrawnEvent[], frame: number): number {
  let low = 0;
  let high = events.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (events[middle]!.start + events[middle]!.durationFrames > frame) high = middle;
    else low = middle + 1;
  }
  return low;
}

export type Hit = { readonly event: DrawnEvent } | { readonly nested: DrawnNested } | null;

/** What lies at a height and a record frame. */
export function hitAt(lanes: readonly Lane[], yPx: number, frame: number): Hit {
  const lane = lanes.find(({ top, height }) => yPx >= top && yPx < top + height);
  if (!lane) return null;
  const event = lane.track.events[firstAfter(lane.track.events, frame)];
  if (event && frame >= event.start) return { event };
  const nested = lane.track.nested.find(({ start, end }) => frame >= start && frame < end);
  return nested ? { nested } : null;
}
