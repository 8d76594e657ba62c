/** A plan: what a run would do, file by file. The same object in the API, on the sheet, in the journal, on the receipt. */
import type { Clip, LinkState, MediaLink } from '../project/clip';
import type { TimelineReads } from '../project/reads';
import type { Timeline } from '../project/timeline';
import type { OtioObject } from '../interchange/otio/otio-types';
import type { FileIdentity } from '../media/identity';
import type { Item, MediaFacts, Place, SequenceFacts } from '../media/item';
import type { FrameRange } from '../time/range';
import type { Rate } from '../time/rate';
import { formatBytes } from '../manifest/words';
import { asks, stops, type Finding } from './finding';

export type PlanKind = 'relink' | 'pull' | 'crate' | 'restore' | 'undo' | 'export' | 'unpack';

/** What must still be so of the source when the step runs. */
export interface Precondition {
  readonly sizeBytes: number;
  readonly modifiedMs: number;
  /** As the stocktake saw the file; absent or null where an earlier version did. */
  readonly identity?: FileIdentity | null;
  /** Looked at again where the file was moved or restored but looks the same. */
  readonly fingerprint?: string | null;
}

interface StepBase {
  /** Steps of a phase may run side by side; a phase begins when the one before it is over. */
  readonly phase: number;
  readonly from: Place | null;
  readonly to: Place | null;
  readonly expectedBytes: number;
  readonly bytesExact: boolean;
  readonly reason: string;
  readonly mustHold: Precondition | null;
}

export interface CopyStep extends StepBase {
  readonly action: 'copy';
  /** Path inside the ZIP file at `from`; the file itself where it is left out. */
  readonly entry?: string;
}

/** A part of a file without re-encoding. `range` counts item frames from 0, half-open. */
export interface TrimStep extends StepBase {
  readonly action: 'trim';
  readonly range: FrameRange;
  readonly facts: MediaFacts;
}

/** Numbered frames copied one by one; `from` and `to` are folders. */
export interface FramesStep extends StepBase {
  readonly action: 'frames';
  readonly names: readonly string[];
  /** Names they get, where theirs are not portable; absent where they keep them. */
  readonly asNames?: readonly string[];
  /** Identity of each frame as the stocktake saw it (see packIdentity), beside `names`; null where none is known. */
  readonly holds: readonly string[] | null;
  readonly sequence: SequenceFacts;
}

/** A sequence as the stocktake saw it: its frames may look the same and be others. */
export interface GuardedSequence {
  readonly folder: Place;
  readonly facts: SequenceFacts;
  readonly fingerprint: string | null;
}

export type MadeContent = 'bag-declaration' | 'bag-manifest' | 'bag-info' | 'bag-tag-manifest' | 'crate-report';

export interface WriteStep extends StepBase {
  readonly action: 'write';
  readonly content:
    | { readonly type: 'text'; readonly text: string }
    /** A timeline of taken media; a part that could not be cut is a whole file then. */
    | { readonly type: 'timeline'; readonly text: string; readonly parts: readonly CutPart[] }
    | { readonly type: 'zip'; readonly entries: readonly ZipEntry[]; readonly sequences?: readonly GuardedSequence[] }
    | { readonly type: 'made'; readonly what: MadeContent; readonly root: string; readonly label: CrateLabel };
}

/** A text, or a file of a shelf as it is (stored without compression: media is compressed already). */
export type ZipEntry =
  | { readonly path: string; readonly text: string }
  | { readonly path: string; readonly from: Place; readonly sizeBytes: number; readonly mustHold: Precondition | null };

/** A cut file that a timeline links, and what its reference must say when the file had to be copied whole. */
export interface CutPart {
  /** Address of the file as the timeline has it. */
  readonly url: string;
  readonly to: Place;
  /** Item frame at which the part begins, and the length of the whole file, at `rate`. */
  readonly startFrame: number;
  readonly wholeFrames: number;
  readonly rate: Rate;
}

/** Read every byte and compare with a checksum made earlier; where none is, it is entered. */
export interface CheckStep extends StepBase {
  readonly action: 'check';
  readonly sha256: string | null;
}

export interface RemoveStep extends StepBase {
  readonly action: 'remove';
  /** Checksum the file must still have; it is left alone otherwise. */
  readonly sha256: string;
  /** The file as the run left it: another one in its place is left alone, equal or not. Null in older journals. */
  readonly made: FileIdentity | null;
}

export interface LinkStep extends StepBase {
  readonly action: 'link';
  readonly change: LinkChange;
}

export type LinkChange =
  | {
      readonly type: 'relink';
      readonly clipId: string;
      readonly renditionId: string;
      readonly position: number;
      readonly link: MediaLink;
      /** Only while the clip is still linked so; absent in older journals. */
      readonly only?: MediaLink;
      /** Files that must be copies of each other, by every byte, when the link is made. */
      readonly equalTo?: readonly Place[];
      /** A clip that is linked another way by now is left so; otherwise the step fails. */
      readonly leaveIfChanged?: boolean;
    }
  | { readonly type: 'adopt'; readonly timelines: readonly AdoptedTimeline[]; readonly base: Place }
  | {
      readonly type: 'open-crate';
      readonly projectId: string;
      readonly name: string;
      readonly rate: Rate;
      readonly dropFrame: boolean;
      readonly timelines: readonly AdoptedTimeline[];
      readonly base: Place;
    }
  | { readonly type: 'record-crate'; readonly crateId: string; readonly name: string; readonly root: Place; readonly holds?: CrateHolds }
  | { readonly type: 'forget-timelines'; readonly timelineIds: readonly string[] }
  | { readonly type: 'forget-crate'; readonly crateId: string }
  | { readonly type: 'mark-undone'; readonly runId: number };

export interface AdoptedTimeline {
  readonly name: string;
  readonly text: string;
  /** Folder of the document, so that its relative links resolve. */
  readonly folder: string;
  readonly parts?: readonly CutPart[];
}

/** A clip that the timelines of a crate use and whose media is not in it. */
export interface LackingClip {
  readonly name: string;
  readonly state: LinkState;
  readonly events: number;
}

/** Of the clips that its timelines use. */
export interface CrateHolds {
  readonly clips: number;
  /** How many it lacks, by the state they were in. */
  readonly lacks: Readonly<Partial<Record<LinkState, number>>>;
}

export interface CrateLabel {
  readonly crateName: string;
  readonly projectName: string;
  readonly rate: Rate;
  readonly dropFrame: boolean;
  readonly madeAt: string;
  readonly timelineNames: readonly string[];
  /** Absent in plans of earlier versions. */
  readonly lacks?: readonly LackingClip[];
  readonly note: string;
}

export type Step = CopyStep | TrimStep | FramesStep | WriteStep | CheckStep | RemoveStep | LinkStep;

/** A line of the plan sheet; the screen formats the figures. */
export interface PlanLine {
  readonly label: string;
  readonly files?: number;
  readonly clips?: number;
  readonly bytes?: number;
  readonly text?: string;
}

export interface ShelfFill {
  readonly shelfId: string;
  readonly name: string;
  readonly capacityBytes: number;
  readonly freeBytes: number;
  readonly addsBytes: number;
}

export interface Plan<Detail = unknown> {
  readonly kind: PlanKind;
  readonly title: string;
  readonly projectId: string | null;
  readonly headline: { readonly value: number; readonly of: number; readonly unit: 'bytes' | 'clips' | 'files'; readonly words: string };
  readonly lines: readonly PlanLine[];
  readonly fills: readonly ShelfFill[];
  readonly findings: readonly Finding[];
  readonly steps: readonly Step[];
  /** Why it cannot run as it stands; null when it can. */
  readonly blocked: string | null;
  /** What the screen lists beside the sheet. */
  readonly detail: Detail;
}

export interface ShelfSnapshot {
  readonly id: string;
  readonly name: string;
  readonly attached: boolean;
  readonly writable: boolean;
  readonly capacityBytes: number;
  readonly freeBytes: number;
}

export interface TimelineSnapshot {
  readonly id: string;
  readonly model: Timeline;
  readonly document: OtioObject;
  /** Clip of each event by its index; null for generators and the like. */
  readonly clipIds: readonly (string | null)[];
  /** Item of the clip that each event names, by its position; null or absent where its track decides. */
  readonly positions?: readonly (number | null)[];
  /** What it reads, where that is kept; see readsOf. */
  readonly reads?: TimelineReads;
}

/** All a planner knows: read once, never changed. */
export interface Snapshot {
  readonly project: { readonly id: string; readonly name: string; readonly rate: Rate; readonly dropFrame: boolean };
  readonly clips: readonly Clip[];
  readonly timelines: readonly TimelineSnapshot[];
  readonly shelves: readonly ShelfSnapshot[];
  readonly items: readonly Item[];
  /** Names of shelves that were taken off the list, by their id: clips may still link them. */
  readonly retiredShelves?: ReadonlyMap<string, string>;
  /** By item id: identity of each frame that is there, in order; only where a planner asked for it. */
  readonly frames?: ReadonlyMap<string, readonly string[]>;
}

/** What a shelf is called, as far as it is known. */
export function shelfNameIn({ shelves, retiredShelves }: Pick<Snapshot, 'shelves' | 'retiredShelves'>, shelfId: string): string {
  const retired = retiredShelves?.get(shelfId);
  return shelves.find((shelf) => shelf.id === shelfId)?.name ?? (retired === undefined ? 'an unknown shelf' : `${retired} (off the list)`);
}

/** Source of a step as it was when the plan was made. */
export function precondition(item: Item): Precondition {
  return { sizeBytes: item.sizeBytes, modifiedMs: item.modifiedMs, identity: item.identity, fingerprint: item.fingerprint };
}

/** Bytes the steps will put on each shelf. */
export function shelfFills(steps: readonly Step[], shelves: readonly ShelfSnapshot[]): ShelfFill[] {
  const adds = new Map<string, number>();
  for (const step of steps) {
    if (!step.to || step.action === 'link') continue;
    adds.set(step.to.shelfId, (adds.get(step.to.shelfId) ?? 0) + step.expectedBytes);
  }
  return shelves
    .filter((shelf) => adds.has(shelf.id))
    .map((shelf) => ({
      shelfId: shelf.id,
      name: shelf.name,
      capacityBytes: shelf.capacityBytes,
      freeBytes: shelf.freeBytes,
      addsBytes: adds.get(shelf.id)!,
    }));
}

/** Problems of settings that are merely not made yet. */
const NOT_YET: ReadonlySet<string> = new Set(['no-destination', 'no-folder-name', 'no-crate-name', 'no-timeline']);

/** What keeps a plan from running, as a finding. */
export function blockedBy(problem: { readonly code: string; readonly message: string; readonly hint: string } | null): Finding[] {
  if (!problem) return [];
  const { code, message, hint } = problem;
  return [NOT_YET.has(code) ? asks(code, message, hint) : stops(code, message, hint)];
}

/** Why nothing can be written to `shelfId`, or null. */
export function destinationProblem(
  shelves: readonly ShelfSnapshot[],
  shelfId: string,
  needsBytes: number,
): { code: string; message: string; hint: string } | null {
  const shelf = shelves.find((entry) => entry.id === shelfId);
  if (!shelf) return { code: 'no-destination', message: 'No destination is chosen.', hint: 'Choose the shelf the new files go to.' };
  if (!shelf.attached)
    return { code: 'destination-unplugged', message: `${shelf.name} is not plugged in.`, hint: 'Plug it in or choose another shelf.' };
  if (!shelf.writable)
    return { code: 'destination-read-only', message: `${shelf.name} cannot be written to.`, hint: 'Change its permissions or choose another shelf.' };
  if (needsBytes > shelf.freeBytes) {
    return {
      code: 'destination-full',
      message: `${shelf.name} has too little room: ${formatBytes(needsBytes)} needed, ${formatBytes(shelf.freeBytes)} free.`,
      hint: 'Choose another shelf, shorter handles or fewer timelines.',
    };
  }
  return null;
}

/** Whether a step is made of what the steps before it left: made only when all of them are done, and again when one changed. */
export function isDerived(step: Step): boolean {
  return isDerivedKind(step.action, step.action === 'write' ? step.content.type : null);
}

/** As isDerived. `what`: kind of content that is written. */
export function isDerivedKind(action: Step['action'], what: string | null): boolean {
  return action === 'link' || (action === 'write' && (what === 'made' || what === 'timeline'));
}

/** The name in a path that hides a file from every stocktake; null when there is none. */
export function hiddenName(path: string): string | null {
  return path.split('/').find((name) => name.startsWith('.')) ?? null;
}

/** Why nothing may be put below `path`, or null: stocktakes pass over hidden folders. */
export function hiddenProblem(path: string): { code: string; message: string; hint: string } | null {
  const name = hiddenName(path);
  if (name === null) return null;
  return {
    code: 'hidden-folder',
    message: `"${name}" begins with a dot and is hidden: stocktakes pass over it, so what goes there would count as missing.`,
    hint: 'Choose a folder whose name does not begin with a dot.',
  };
}
