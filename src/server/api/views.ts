/** What the API answers: the screens and scripts read these. */
import type { Finding } from '../../core/planning/finding';
import type { LinkState, RenditionKind } from '../../core/project/clip';
import type { Place, MediaFacts } from '../../core/media/item';
import type { FrameRange, RangeSet } from '../../core/time/range';
import type { Rate } from '../../core/time/rate';
import type { ShelfSnapshot } from '../../core/planning/plan';
import type { RunRow, StepRow } from '../catalogue/runs';
import type { StocktakeProgress } from '../stock/stocktake';

export interface ShelfView extends ShelfSnapshot {
  readonly mountPath: string | null;
  readonly seenAt: string | null;
  readonly stocktakeAt: string | null;
  readonly items: number;
  readonly itemBytes: number;
  readonly stocktake: StocktakeProgress | null;
  /** Name of its drive in the simulated bay; null for a real folder. */
  readonly bayDrive: string | null;
}

export interface FolderView {
  readonly path: string | null;
  readonly parent: string | null;
  readonly folders: readonly { readonly path: string; readonly name: string; readonly shelfId: string | null; readonly isCrate: boolean }[];
}

export interface ProjectView {
  readonly id: string;
  readonly name: string;
  readonly rate: Rate;
  readonly dropFrame: boolean;
  readonly createdAt: string;
  readonly usedAt: string;
  readonly timelines: number;
  readonly clips: number;
  readonly mediaBytes: number;
  /** Bytes the project itself takes in the catalogue: its timelines. */
  readonly projectBytes: number;
  readonly states: Readonly<Record<LinkState, number>>;
  readonly lastCrate: { readonly name: string; readonly madeAt: string; readonly shelfName: string; readonly bytes: number } | null;
}

export interface OverviewView extends ProjectView {
  readonly offlineEvents: number;
  readonly events: number;
  readonly usedBytes: number;
  readonly folders: number;
  readonly shelves: number;
  readonly byKind: readonly { readonly kind: string; readonly bytes: number; readonly items: number }[];
  readonly byShelf: readonly { readonly name: string; readonly usedBytes: number; readonly unusedBytes: number }[];
  readonly advice: readonly Advice[];
}

export interface Advice {
  readonly stage: 'shelves' | 'timelines' | 'relink' | 'pull' | 'crates';
  readonly title: string;
  readonly why: string;
}

export interface ClipView {
  readonly id: string;
  readonly name: string;
  readonly binPath: string;
  readonly state: LinkState;
  readonly fileName: string;
  readonly place: Place | null;
  readonly url: string;
  readonly renditions: readonly RenditionKind[];
  readonly itemId: string | null;
  readonly events: number;
}

export interface TimelineSummary {
  readonly id: string;
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
  readonly findings: readonly Finding[];
}

export interface DrawnEvent {
  readonly index: number;
  readonly name: string;
  readonly start: number;
  readonly durationFrames: number;
  readonly clipId: string | null;
  readonly state: LinkState | 'made-here';
  readonly enabled: boolean;
  /** 1 is normal speed; 0 holds a frame. */
  readonly speed: number;
  readonly nestedIn: string | null;
  readonly sourceIn: string;
  readonly sourceOut: string;
}

export interface DrawnTrack {
  readonly name: string;
  readonly kind: 'video' | 'audio' | 'other';
  readonly enabled: boolean;
  readonly events: readonly DrawnEvent[];
  readonly transitions: readonly { readonly start: number; readonly end: number; readonly name: string }[];
  readonly nested: readonly { readonly start: number; readonly end: number; readonly name: string }[];
}

export interface SourceUse {
  readonly itemId: string | null;
  readonly clipId: string;
  readonly name: string;
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
  readonly sources: readonly SourceUse[];
  /** Item frames read by each event, by its index. */
  readonly eventRanges: Readonly<Record<number, FrameRange>>;
}

export interface RunSummary extends Omit<RunRow, 'plan'> {
  readonly stepsDone: number;
  readonly steps: number;
  readonly failed: number;
  readonly bytesDone: number;
  readonly bytes: number;
  /** Bytes a second; null when not going on. */
  readonly speed: number | null;
  readonly secondsLeft: number | null;
  readonly current: readonly string[];
}

export interface RunView extends RunSummary {
  readonly plan: RunRow['plan'];
  readonly rows: readonly StepRow[];
}
