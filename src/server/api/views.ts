/** What the API answers: the screens and scripts read these. */
import type { Homes } from '../../core/rendition/homes';
import type { ReadOrder } from '../../core/rendition/read-order';
import type { Scheme } from '../../core/scheme/scheme';
import type { Finding } from '../../core/words/finding';
import type { ItemUsage, UsageReport } from '../../core/usage/usage-report';
import type { Bin } from '../../core/project/bins';
import type { Clip, Conform, MatchedBy, LinkState, RenditionKind } from '../../core/project/clip';
import type { ChangeKind } from '../../core/project/compare';
import type { SourceCount } from '../../core/project/source-count';
import type { CardRule } from '../../core/media/card';
import type { Item, ItemKind, Place, MediaFacts } from '../../core/media/item';
import type { FrameRange, RangeSet } from '../../core/time/range';
import type { Rate } from '../../core/time/rate';
import type { ShelfSnapshot } from '../../core/planning/plan/snapshot';
import type { CrateStanding } from '../../core/planning/package/crate-standing';
import type { CrateRow } from '../catalogue/crates';
import type { OpenedFrom } from '../catalogue/projects';
import type { RunRemarks, RunRow } from '../catalogue/runs';
import type { StocktakeProgress } from '../stock/stocktake';
import type { Window } from '../list-window';

export interface ShelfView extends ShelfSnapshot {
  readonly mountPath: string | null;
  readonly seenAt: string | null;
  readonly stocktakeAt: string | null;
  readonly items: number;
  readonly itemBytes: number;
  readonly stocktake: StocktakeProgress | null;
  /** Name of its drive in the simulated bay; null for a real folder. */
  readonly bayDrive: string | null;
  /** Other folders that bear this shelf's marker: copies of it, until they get an identity of their own. */
  readonly copies: readonly string[];
  /** The other shelf that it is a folder of, and which; null for most. Files on both have two entries. */
  readonly inside: { readonly shelf: string; readonly path: string } | null;
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
  readonly readOrder: ReadOrder;
  readonly homes: Homes;
  /** Shelves that it reads before others, in order. */
  readonly drives: readonly string[];
  /** What was wrong with the crate that it was opened from; null where nothing was. */
  readonly openedFrom: OpenedFrom | null;
  readonly timelines: number;
  readonly clips: number;
  readonly mediaBytes: number;
  /** Bytes the project itself takes in the catalogue: its timelines. */
  readonly projectBytes: number;
  readonly states: Readonly<Record<LinkState, number>>;
  /** The crate that is worth most as it stands today; null where there is none. */
  readonly lastCrate:
    | (CrateView & {
        /** Name of the shelf, where every file of the project is read from the drive that it stands on; null otherwise. */
        readonly sharesDrive: string | null;
      })
    | null;
  readonly copies: CopiesView;
}

/** A crate as it stands by what the last stocktakes saw. */
export interface CrateView extends CrateRow {
  /** What it lacks of the clips that it was made for; null where it lacks nothing. */
  readonly lacks: string | null;
  readonly standing: CrateStanding;
  /** What is wrong with its files, in words; null while it is whole. */
  readonly trouble: string | null;
  /** It lacks nothing, and every file stands there and is what it was when it was read last. */
  readonly isSafe: boolean;
  readonly shelfName: string;
  readonly attached: boolean;
  /** Last stocktake of its shelf; null where there was none. */
  readonly seenAt: string | null;
}

/** Files of the sources of a project, each content once, by the drives that hold a copy of which every byte was read. */
export interface CopiesView {
  readonly files: number;
  /** On two drives or more, on one. */
  readonly twice: number;
  readonly once: number;
  /** So many drives hold every one of them. */
  readonly leastDrives: number;
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
  readonly stage: 'shelves' | 'timelines' | 'sort' | 'relink' | 'pull' | 'proxies' | 'crates' | 'runs';
  readonly title: string;
  readonly why: string;
  /** What the stage is to be about, in its address. */
  readonly query?: string;
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
  readonly events: number;
  readonly note: string;
  readonly colour: string;
  readonly conform: Conform;
  readonly madeBy: Clip['madeBy'];
  /** Items of its source: several where picture and sound have files of their own. */
  readonly items: readonly { readonly name: string; readonly kind: ItemKind | null; readonly place: Place | null }[];
  /** Null where only the other one is set. */
  readonly marks: { readonly in: string | null; readonly out: string | null } | null;
  readonly rateDiffers: boolean;
  readonly poster: { readonly itemId: string; readonly frame: number } | null;
  readonly length: string;
  /** How its source was matched where nothing proves it; null where it is proven or was linked otherwise. */
  readonly matchedBy: MatchedBy | null;
  /** Files that are equal to its source in every byte, that one counted; attached or not. */
  readonly copies: number;
  /** Where it is linked, while a copy is read in its stead. */
  readonly linkedAt: Place | null;
  /** Files that hold some of its frames. */
  readonly parts: number;
}

/** An item as lists have it. */
export interface ListedItem extends Item {
  /** Which part of which clip it holds, in words. */
  readonly partOf?: string;
}

/** A file of a clip's source; see docs/api.md. */
export interface ClipFileView {
  /** `part`: it holds some frames; `earlier`: what was linked before another took its place. */
  readonly of: 'source' | 'part' | 'earlier';
  /** What a part holds, in words; null for others. */
  readonly holds: string | null;
  readonly position: number;
  readonly place: Place;
  readonly shelfName: string;
  readonly isAttached: boolean;
  readonly isGone: boolean;
  readonly isRead: boolean;
  readonly isLinked: boolean;
  readonly isChosen: boolean;
  /** It lies in a folder of the project's own. */
  readonly isOwn: boolean;
  /** Name of the sealed package it lies in; null outside of any. */
  readonly crate: string | null;
  readonly seenAt: string | null;
  readonly verifiedAt: string | null;
}

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

/** Who uses a part of an item, in words. */
export interface PartUseView {
  readonly timelineId: string | null;
  readonly timelineName: string;
  readonly eventIndex: number | null;
  readonly name: string;
  readonly track: string;
  readonly nestedIn: readonly string[];
  /** Record timecode; empty where a bin uses it. */
  readonly record: string;
  /** Item frames, half-open. */
  readonly range: FrameRange;
  readonly sound: boolean;
}

/** An item and how much of it is used. */
export interface ItemUsageView extends Omit<ItemUsage, 'uses'> {
  readonly usedBytes: number | null;
}

/** The same with those who use it, from first to last. */
export interface ItemUsesView extends ItemUsageView {
  readonly uses: Window<PartUseView>;
}

export type BinOnlyView = UsageReport['binOnly'][number];

/** Bytes of whole files, and of what of them is used. */
export interface UsageTotals {
  /** `parts`: files beside them that hold parts of them, where those are asked for; they add nothing to the bytes. */
  readonly used: { readonly items: number; readonly parts: number; readonly bytes: number; readonly usedBytes: number };
  readonly never: { readonly items: number; readonly parts: number; readonly bytes: number };
  readonly binOnly: number;
}

export interface BinView extends Bin {
  /** Clips in it, without those of bins below. */
  readonly clips: number;
  /** Clips in it and in bins below that no timeline uses. */
  readonly unused: number;
}

export interface BinsView {
  readonly bins: readonly BinView[];
  /** Clips of the project, and how many of them no timeline uses. */
  readonly clips: number;
  readonly unused: number;
  readonly undo: string | null;
  readonly redo: string | null;
}

/** What is seen of an event: item frames, half-open. */
export interface ShotLook {
  readonly itemId: string;
  readonly name: string;
  readonly range: FrameRange;
}

export interface ComparedEvent {
  readonly kind: ChangeKind;
  readonly name: string;
  readonly track: string;
  readonly nestedIn: readonly string[];
  /** Record timecode in each version; null where it is not there. */
  readonly before: string | null;
  readonly after: string | null;
  /** Frames: positive is later in the source. */
  readonly inShift: number;
  readonly outShift: number;
  readonly beforeSource: string | null;
  readonly afterSource: string | null;
  readonly speed: string | null;
  readonly switched: 'on' | 'off' | null;
  readonly afterIndex: number | null;
  readonly beforeLook: ShotLook | null;
  readonly afterLook: ShotLook | null;
}

export interface CompareView {
  readonly counts: Readonly<Record<ChangeKind, number>>;
  /** Every change but `same`, in the order of the newer version. */
  readonly changes: readonly ComparedEvent[];
}

/** Rules by which cards are known, each with how many cards it finds on the shelves of the list. */
export interface CardRulesView {
  readonly standard: readonly (CardRule & { readonly cards: number })[];
  readonly own: readonly (CardRule & { readonly id: number; readonly cards: number })[];
}

/** `isOwn`: the house's own, which can be changed. `revision` counts its changes; 0 for what comes with the application. */
export interface SchemeView {
  readonly scheme: Scheme;
  readonly isOwn: boolean;
  readonly revision: number;
}

export interface RunSummary extends Omit<RunRow, 'plan'> {
  /** Whether its kind can be taken back at all. */
  readonly undoable: boolean;
  readonly stepsDone: number;
  readonly steps: number;
  readonly failed: number;
  readonly bytesDone: number;
  readonly bytes: number;
  /** Bytes a second; null when not going on. */
  readonly speed: number | null;
  readonly secondsLeft: number | null;
  readonly current: readonly string[];
  /** What the run waits for by itself, in a sentence. */
  readonly trouble: string | null;
  /** The run that has what this one needs to go on; null while it works, or waits for nobody. */
  readonly waitsFor: number | null;
}

export interface RunView extends RunSummary, RunRemarks {
  readonly plan: RunRow['plan'];
}
