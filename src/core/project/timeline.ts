/** A timeline as the rest of the core sees it, whatever format it came in. */
import type { SourceWord } from '../interchange/otio/source-word';
import type { Rate } from '../time/rate';
import type { Retime } from '../time/retime';
import type { Moment } from './moment';
import type { EventCount } from './source-count';

export interface Timeline {
  readonly name: string;
  /** The rate that record positions are counted at. */
  readonly rate: Rate;
  readonly dropFrame: boolean;
  /** Record timecode of the first frame, as a frame count at `rate`. */
  readonly startFrame: number;
  readonly durationFrames: number;
  readonly tracks: readonly Track[];
  /** Marks on the timeline as a whole. */
  readonly markers: readonly Marker[];
  /** How many clip events there are, nested ones included. Their `index` runs from 0 in document order. */
  readonly eventCount: number;
}

/** A mark with a note. On an event it counts in source frames, on a timeline in record frames from its first. */
export interface Marker {
  readonly name: string;
  readonly note: string;
  /** Colour word of the format, in capitals; empty for none. */
  readonly colour: string;
  readonly at: Moment;
  readonly duration: Moment;
}

export interface Track {
  readonly name: string;
  readonly kind: 'video' | 'audio' | 'other';
  readonly enabled: boolean;
  readonly items: readonly TrackItem[];
}

interface OnTrack {
  readonly name: string;
  /** Record position inside the parent, frames at the timeline's rate. */
  readonly start: number;
  readonly durationFrames: number;
}

/** Where an item of another rate lies between the timeline's frames. */
interface MayBeUnaligned {
  /** Whether it begins and ends on whole frames; otherwise it reaches into the frame at `start + durationFrames`. */
  readonly aligned: boolean;
}

export interface ClipEvent extends OnTrack, MayBeUnaligned, Retime {
  readonly type: 'clip';
  readonly index: number;
  readonly enabled: boolean;
  readonly sourceIn: Moment;
  readonly sourceDuration: Moment;
  /** Rate of one event frame: that of `sourceIn`, unless a fractional in point is counted at a finer one. */
  readonly units: Rate;
  /** An effect that changes time in a way that is not told: any frame of the media may be used. */
  readonly retimeUnknown: boolean;
  /** Names of effects that do not change time. */
  readonly otherEffects: readonly string[];
  readonly markers: readonly Marker[];
  readonly references: readonly MediaReference[];
  readonly activeKey: string;
  /** What was said of how its source timecode is counted; absent where nobody spoke of it. */
  readonly count?: EventCount;
}

export interface Gap extends OnTrack {
  readonly type: 'gap';
}

/** Laid over the cut between its neighbours: `start` is the cut. */
export interface Transition extends OnTrack {
  readonly type: 'transition';
  /** Code of a wipe, "W001"; empty for others. */
  readonly code: string;
  readonly inOffset: Moment;
  readonly outOffset: Moment;
}

export interface NestedStack extends OnTrack, MayBeUnaligned, Retime {
  readonly type: 'nested';
  readonly enabled: boolean;
  /** First frame shown, counted inside the nested timeline; the one that holds it where the window begins between two. */
  readonly windowStart: number;
  /** Whether the window begins on a whole frame: otherwise it reaches into one more at its end. */
  readonly windowAligned: boolean;
  /** An effect that changes time in a way that is not told: all that is inside may be shown. */
  readonly retimeUnknown: boolean;
  readonly tracks: readonly Track[];
}

export type TrackItem = ClipEvent | Gap | Transition | NestedStack;

export interface MediaReference {
  readonly key: string;
  readonly kind: 'external' | 'sequence' | 'generator' | 'missing' | 'unknown';
  readonly name: string;
  /** Address as it stands in the document; for a sequence, of the display name `head[first-last]tail`. */
  readonly url: string | null;
  readonly availableStart: Moment | null;
  readonly availableDuration: Moment | null;
  readonly sequence: SequencePattern | null;
  /** Reel name where the format carries one. */
  readonly reel: string | null;
  /** What a generator makes, as the document calls it: "black", "SMPTEBars"; absent for media. */
  readonly makes?: string;
  /** Our own word in the metadata: frames are found by their number, not by their time. */
  readonly byFrame?: boolean;
  /** What it says of its source in our own metadata, where that is of the file it leads to. */
  readonly source?: SourceWord;
}

export interface SequencePattern {
  readonly folderUrl: string;
  readonly prefix: string;
  readonly suffix: string;
  readonly padding: number;
  readonly startNumber: number;
  readonly step: number;
}

export function activeReference<Reference extends { readonly key: string }>(event: {
  readonly references: readonly Reference[];
  readonly activeKey: string;
}): Reference | null {
  return event.references.find((reference) => reference.key === event.activeKey) ?? event.references[0] ?? null;
}

/** Every clip event of a list of tracks, nested ones included, in document order. */
export function* clipEvents(tracks: readonly Track[]): Generator<ClipEvent> {
  for (const track of tracks) {
    for (const item of track.items) {
      if (item.type === 'clip') yield item;
      else if (item.type === 'nested') yield* clipEvents(item.tracks);
    }
  }
}

/** Indices of the clip events on sound tracks, nested ones included. */
export function soundEvents(tracks: readonly Track[], found: Set<number> = new Set()): ReadonlySet<number> {
  for (const { kind, items } of tracks) {
    for (const item of items) {
      if (item.type === 'clip' && kind === 'audio') found.add(item.index);
      else if (item.type === 'nested') soundEvents(item.tracks, found);
    }
  }
  return found;
}
