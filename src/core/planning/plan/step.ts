/** A step of a plan: one thing done to one file, or one change of the catalogue. */
import type { FileIdentity } from '../../media/identity';
import { sequenceName } from '../../media/image-sequence';
import { below, type Item, type MediaFacts, type Place, type SequenceFacts } from '../../media/item';
import type { MediaLink, Part } from '../../project/clip';
import type { Recipe } from '../../rendition/recipe';
import type { FrameRange } from '../../time/range';
import type { Rate } from '../../time/rate';
import type { PlanText } from './plan-text';

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
  /** The next step makes a second copy there: the bytes that this one reads are written for both. */
  readonly twin?: Place;
  /** Path inside the ZIP file at `from`; the file itself where it is left out. */
  readonly entry?: string;
  /** A file of that name stands there that looks the same: equal in every byte, it is left as it is. */
  readonly orEqual?: true;
}

/** A part of a file without re-encoding. `range` counts item frames from 0, half-open. */
export interface TrimStep extends StepBase {
  readonly action: 'trim';
  readonly range: FrameRange;
  readonly facts: MediaFacts;
  /** Names of events that read the part, a few of them; absent in older journals. */
  readonly usedBy?: string;
}

/** Numbered frames copied one by one; `from` and `to` are folders. */
export interface FramesStep extends StepBase {
  readonly action: 'frames';
  /** As of a copy step: folder of the second copy, which the next step makes. */
  readonly twin?: Place;
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

export interface WriteStep extends StepBase {
  readonly action: 'write';
  readonly content:
    | { readonly type: 'text'; readonly text: PlanText }
    /** A timeline of taken media; a part that could not be cut is a whole file then. */
    | { readonly type: 'timeline'; readonly text: PlanText; readonly parts: readonly CutPart[] }
    | { readonly type: 'zip'; readonly entries: readonly ZipEntry[]; readonly sequences?: readonly GuardedSequence[] }
    /** What the kind makes of what the run has done below `root` so far; see the kinds on the server. */
    | { readonly type: 'made'; readonly what: string; readonly root: string; readonly label: unknown };
}

/** A text, or a file of a shelf as it is (stored without compression: media is compressed already). */
export type ZipEntry =
  | { readonly path: string; readonly text: PlanText }
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
  /** `from` is where the stock lists this sequence: every frame of it is read. */
  readonly frames?: SequenceFacts;
  /** Nothing is read: it is told on which other drives a verified copy stands, at least on so many. */
  readonly copies?: { readonly wanted: number };
  /** Its frames are decoded instead; half-open, counted from the first. `content`: as items have it; null where not every byte is known. */
  readonly decode?: { readonly facts: MediaFacts; readonly ranges: readonly FrameRange[]; readonly content: string | null };
}

/** A shelf is looked through: each file is read that is not known as it is. `from`: its root. */
export interface StockStep extends StepBase {
  readonly action: 'stock';
}

export interface RemoveStep extends StepBase {
  readonly action: 'remove';
  /** Checksum the file must still have; it is left alone otherwise. Null: none is known, and it must be untouched since it was `made`. */
  readonly sha256: string | null;
  /** The file as the run left it, or as the plan saw it: another one in its place is left alone, equal or not. Null in older journals. */
  readonly made: FileIdentity | null;
  /** Who reads it that the user knows of: whoever else does when it comes to it keeps it. Absent in older journals: nobody is asked. */
  readonly known?: KnownReaders;
  /** What is asked before the last whole copy of a content goes; absent where nobody asks: older journals, texts. */
  readonly copyOf?: CopyOf;
}

/** What a file that goes is a copy or a part of. */
export interface CopyOf {
  /** Where the stock lists it: the sequence, where it is a frame. */
  readonly listed: Place;
  readonly source: Place | null;
  readonly sourcePrint: string | null;
  /** The user has read that there is no other, and wants it removed all the same. */
  readonly isLastKnown: boolean;
}

export interface KnownReaders {
  /** Renditions that link it. */
  readonly renditions: readonly string[];
  /** Clips that have no other file attached. */
  readonly losing: readonly string[];
}

/** Numbered frames that move together; the names of both sides stand beside each other. */
export interface MovedFrames {
  readonly names: readonly string[];
  readonly asNames: readonly string[];
  /** Identity of each frame as the stocktake saw it (see packIdentity); null where none is known. */
  readonly holds: readonly string[] | null;
  readonly from: SequenceFacts;
  readonly to: SequenceFacts;
}

/**
 * A file to another place, with all that links it. Within a file system it gets its new name beside the old one, the
 * catalogue follows, then the old name goes: at any moment it stands where it is linked. Between two it is copied, read
 * back, and its source removed. `from` and `to` are folders where it is a sequence.
 */
export interface MoveStep extends StepBase {
  readonly action: 'move';
  readonly frames?: MovedFrames;
  /** The places are on two file systems: the file is copied, then its source removed. */
  readonly across: boolean;
  /** Name it came with, as the catalogue keeps it before and after; null: none is kept. */
  readonly originalBefore: string | null;
  readonly originalAfter: string | null;
  /** Undo of a move that may have stopped in its middle: the file may stand under both names. */
  readonly settles?: boolean;
  /** The folder that goes whole, with all that is in it, of which this is a part. */
  readonly whole?: Place;
  /** What is another file by now is left where it is. */
  readonly leaveIfChanged?: boolean;
}

/** A rendition encoded from a file or a sequence, proven against it, and linked to clips beside their source. */
export interface EncodeStep extends StepBase {
  readonly action: 'encode';
  readonly facts: MediaFacts;
  /** Identity of each frame of a sequence as the stocktake saw it (see packIdentity); null for files. */
  readonly frames: readonly string[] | null;
  readonly rendition: 'proxy' | 'mezzanine';
  readonly recipe: Recipe;
  /** Clips that get it, with what of their source stands beside the picture. */
  readonly clips: readonly {
    readonly clipId: string;
    readonly sound: readonly MediaLink[];
    /** Which part of its source was encoded; absent: all of it. */
    readonly part?: Pick<Part, 'position' | 'range'>;
  }[];
}

/** A change of the catalogue. What it says beyond its type stands with the kind that makes it. */
export interface CatalogueChange {
  readonly type: string;
  /** Of what takes a run back: only when all else is back. */
  readonly last?: boolean;
}

export interface LinkStep extends StepBase {
  readonly action: 'link';
  readonly change: CatalogueChange;
}

export type Step = CopyStep | TrimStep | FramesStep | WriteStep | CheckStep | StockStep | RemoveStep | MoveStep | EncodeStep | LinkStep;

/** A step that changes the catalogue and no file. `mustHold`: what it goes by of the file that is linked. */
export function linkStep<Change extends CatalogueChange>(
  phase: number,
  reason: string,
  change: Change,
  more: Partial<Pick<LinkStep, 'from' | 'to' | 'mustHold'>> = {},
): LinkStep & { readonly change: Change } {
  return { action: 'link', phase, from: null, to: null, expectedBytes: 0, bytesExact: true, reason, mustHold: null, ...more, change };
}

/** What a move left of its files: identity of the one, or packed of each frame. */
export interface MovedState {
  readonly identity: FileIdentity | null;
  readonly frames: readonly string[] | null;
}

/** The move that takes another back. `settles`: that one may stand in its middle. */
export function moveBack(step: MoveStep, phase: number, { identity, frames: held }: MovedState, settles: boolean): MoveStep {
  const { frames, mustHold, whole: _whole, ...rest } = step;
  return {
    ...rest,
    phase,
    from: step.to,
    to: step.from,
    reason: 'back to where it was',
    originalBefore: step.originalAfter,
    originalAfter: step.originalBefore,
    mustHold: mustHold && { ...mustHold, identity: identity ?? mustHold.identity ?? null },
    leaveIfChanged: true,
    ...(settles ? { settles } : {}),
    ...(frames ? { frames: { names: frames.asNames, asNames: frames.names, holds: held ?? frames.holds, from: frames.to, to: frames.from } } : {}),
  };
}

/** Where the stock lists what a move takes, before or after it. */
export function movedItem(step: MoveStep, side: 'from' | 'to'): Place {
  const place = step[side]!;
  return step.frames ? below(place, sequenceName(step.frames[side])) : place;
}

/** Files that a step is about: each frame of a sequence is one. */
export function filesOf(step: Step): number {
  if (step.action === 'frames') return step.names.length;
  return step.action === 'move' && step.frames ? step.frames.names.length : 1;
}

/** Source of a step as it was when the plan was made. */
export function precondition(item: Item): Precondition {
  return { sizeBytes: item.sizeBytes, modifiedMs: item.modifiedMs, identity: item.identity, fingerprint: item.fingerprint };
}

/** Whether a step is made of what the steps before it left: made only when all of them are done, and again when one changed. */
export function isDerived(step: Step): boolean {
  return isDerivedKind(step.action, step.action === 'write' ? step.content.type : null);
}

/** Like `isDerived`. `what`: kind of content that is written. */
export function isDerivedKind(action: Step['action'], what: string | null): boolean {
  return action === 'link' || (action === 'write' && (what === 'made' || what === 'timeline'));
}
