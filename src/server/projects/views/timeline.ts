/** A timeline, drawn or in a list, as screens and scripts get it. */
import type { MediaFacts } from '../../../core/media/item';
import type { LinkState } from '../../../core/project/clip';
import type { SourceCount } from '../../../core/project/source-count';
import type { FrameRange, RangeSet } from '../../../core/time/range';
import type { Rate } from '../../../core/time/rate';
import type { Finding } from '../../../core/words/finding';

export interface TimelineSummary {
  readonly id: string;
  /** Of timelines whose place it took. */
  readonly formerIds: readonly string[];
  readonly name: string;
  readonly format: string;
  readonly sourceName: string;
  readonly broughtInAt: string;
  readonly rate: Rate;
  readonly dropFrame: boolean;
  readonly startFrame: number;
  readonly durationFrames: number;
  readonly events: number;
  readonly clips: number;
  readonly offlineEvents: number;
  /** Running time of its sources, and what it uses of that, in seconds; stills have none. */
  readonly mediaSeconds: number;
  readonly usedSeconds: number;
  /** What versions of one cut have in common. */
  readonly family: string;
  readonly findings: readonly Finding[];
}

export interface DrawnMarker {
  /** Record frame. */
  readonly at: number;
  readonly name: string;
  readonly colour: string;
}

export interface DrawnEvent {
  readonly index: number;
  readonly name: string;
  readonly start: number;
  readonly durationFrames: number;
  readonly clipId: string | null;
  readonly state: LinkState | 'made-here';
  readonly enabled: boolean;
  /** 1 is normal speed; 0 holds a frame; null varies. */
  readonly speed: number | null;
  readonly nestedIn: string | null;
  /** Source timecode of the first frame, and of the first one no longer in. */
  readonly sourceIn: string;
  readonly sourceOut: string;
  /** Item frames that it reads; absent where it reads none. */
  readonly reads?: FrameRange;
  /** How its source timecode is counted, where its source runs at another rate than the timeline. */
  readonly count?: EventCountView;
  readonly markers?: readonly DrawnMarker[];
}

export interface EventCountView {
  readonly as: SourceCount;
  /** As the user wants it; null where the media decides. */
  readonly chosen: SourceCount | null;
  readonly sourceRate: Rate;
  readonly sourceDropFrame: boolean;
}

/** Events whose sources run at another rate than the timeline. */
export interface TimelineCounts {
  readonly events: number;
  /** Of these, counted in frames of their source. */
  readonly bySource: number;
  readonly chosen: SourceCount | null;
  /** Whether the media would have some counted otherwise, since it is known now. */
  readonly isOutdated: boolean;
}

export interface DrawnSpan {
  readonly start: number;
  readonly end: number;
  readonly name: string;
}

/** A nested timeline at its place, its tracks laid on the outer record. */
export interface DrawnNested extends DrawnSpan {
  readonly id: string;
  readonly enabled: boolean;
  readonly speed: number | null;
  readonly tracks: readonly DrawnTrack[];
}

export interface DrawnTrack {
  readonly name: string;
  readonly kind: 'video' | 'audio' | 'other';
  readonly enabled: boolean;
  /** In order of their begin; those of nested timelines are inside these. */
  readonly events: readonly DrawnEvent[];
  readonly transitions: readonly DrawnSpan[];
  readonly nested: readonly DrawnNested[];
}

export interface SourceUse {
  readonly itemId: string | null;
  readonly clipId: string;
  /** Place of the item, or its address: what usage is asked by. */
  readonly key: string;
  readonly name: string;
  readonly clipName: string;
  readonly reel: string | null;
  readonly state: LinkState;
  readonly lengthFrames: number;
  readonly usedFrames: number;
  readonly used: RangeSet;
  readonly events: number;
  readonly sizeBytes: number | null;
  readonly facts: MediaFacts | null;
  /** Item frame to show as its picture. */
  readonly posterFrame: number;
}

export interface TimelineView extends TimelineSummary {
  readonly tracks: readonly DrawnTrack[];
  readonly markers: readonly DrawnMarker[];
  readonly sources: readonly SourceUse[];
  /** Null where all sources run at the rate of the timeline. */
  readonly counts: TimelineCounts | null;
}
