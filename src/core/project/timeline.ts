/** A timeline as the rest of the core sees it, whatever format it came in. */
import type { Rate } from '../time/rate';
import { framesTravelled, type Speed } from '../time/retime';
import type { Moment } from './moment';

export interface Timeline {
  readonly name: string;
  /** The rate that record positions are counted at. */
  readonly rate: Rate;
  readonly dropFrame: boolean;
  /** Record timecode of the first frame, as a frame count at `rate`. */
  readonly startFrame: number;
  readonly durationFrames: number;
  readonly tracks: readonly Track[];
  /** How many clip events there are, nested ones included. Their `index` runs from 0 in document order. */
  readonly eventCount: number;
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

export interface ClipEvent extends OnTrack {
  readonly type: 'clip';
  readonly index: number;
  readonly enabled: boolean;
  readonly sourceIn: Moment;
  readonly sourceDuration: Moment;
  readonly speed: Speed;
  readonly markerCount: number;
  readonly references: readonly MediaReference[];
  readonly activeKey: string;
}

export interface Gap extends OnTrack {
  readonly type: 'gap';
}

/** Laid over the cut between its neighbours: `start` is the cut. */
export interface Transition extends OnTrack {
  readonly type: 'transition';
  readonly inOffset: Moment;
  readonly outOffset: Moment;
}

export interface NestedStack extends OnTrack {
  readonly type: 'nested';
  readonly enabled: boolean;
  /** First frame shown, counted inside the nested timeline. */
  readonly windowStart: number;
  readonly speed: Speed;
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
}

export interface SequencePattern {
  readonly folderUrl: string;
  readonly prefix: string;
  readonly suffix: string;
  readonly padding: number;
  readonly startNumber: number;
  readonly step: number;
}

export function activeReference(event: ClipEvent): MediaReference | null {
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

/** Length of a nested timeline's window, counted inside it. */
export function windowFrames(nested: NestedStack): number {
  return nested.speed.num === nested.speed.den ? nested.durationFrames : Math.max(1, framesTravelled(nested.durationFrames, nested.speed));
}
