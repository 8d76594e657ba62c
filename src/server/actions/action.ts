/**
 * What the house knows of an action, which is what one step does. A new one is a folder with one of these, a line in the table
 * (actions.ts), and its step in the core.
 */
import type { Place } from '../../core/media/item';
import type { CatalogueChange, Step } from '../../core/planning/plan/step';
import type { MadeFile } from '../../core/planning/undo/undo';
import type { Catalogue } from '../catalogue/catalogue';
import type { StepOutline, StepRow } from '../catalogue/runs';
import type { StepOutcome } from '../catalogue/step-outcome';
import type { Places } from '../stock/mounts';
import type { ChangeContext, Executor, Makers } from './step-context';

/** `own`: what steps of one run do one after another; `stock`: a shelf is looked through. */
export type Occupied = { readonly shelf: string } | { readonly stock: string } | 'catalogue' | 'encoder' | 'own';

/**
 * What became of a finished step. `whole`: it stands there as the step left it (`outcome` where it was touched but is equal byte for
 * byte); `gone`: it must be made again; `altered` and `away`: why it cannot count, in a sentence.
 */
export type Inspected =
  | { readonly is: 'whole'; readonly outcome: StepOutcome | null }
  | { readonly is: 'gone' }
  | { readonly is: 'altered' | 'away'; readonly message: string };

export interface Where {
  readonly catalogue: Catalogue;
  readonly places: Places;
  readonly runId: number;
}

/** A step in the journal, of one action. */
export type RowOf<S extends Step> = StepRow & { readonly step: S };

/** Many steps in one go, in the thread that changes the catalogue. */
export interface Together {
  /** How many at a time. */
  readonly most: number;
  /** What they are, in words: "250 files". */
  readonly unit: string;
  readonly allows: (step: StepOutline, makers: Makers) => boolean;
  /** Does them and journals what became of each; gives the ordinals of those that must be done by themselves. */
  readonly work: (rows: readonly StepRow[], context: ChangeContext & Where, makers: Makers) => Promise<readonly number[]>;
}

export interface Action<S extends Step> {
  /** Rejects with what the user is told of it. */
  readonly execute: Executor<S>;
  /** What it needs for itself, in the order in which it waits for it. */
  readonly occupies: (step: S, makers: Makers) => readonly Occupied[];
  readonly together?: Together;
  /** What became of what it left; absent where it leaves no file. */
  readonly inspect?: (step: S, outcome: StepOutcome, places: Places) => Promise<Inspected>;
  /** Beside which file its half-made one stands. */
  readonly halfMade?: (step: S) => Place;
  /** Beside which file it leaves what it writes for the step after it; null where it writes for none. */
  readonly twin?: (step: S) => Place | null;
  /** Before anyone asks, after an end of the process: those that stand in their middle are brought to an end. */
  readonly takeUp?: (rows: readonly RowOf<S>[], where: Where) => void;
  /** Of one that is cancelled in its middle: done with and journalled, where that is quicker than to take it back; else false. */
  readonly finish?: (row: RowOf<S>, where: Where) => boolean;
  /** What is said where it is cancelled in its middle; absent: that its half-made file was removed. */
  readonly cancelled?: string;
  /** What is said where it is cancelled when its file stands whole under its name; absent: then it is done. */
  readonly cancelledWhole?: string;
  /** Files that are the run's own: of a step that is done, and of one that did not come to its end. */
  readonly made?: (row: RowOf<S>, where: Pick<Where, 'catalogue' | 'runId'>) => readonly MadeFile[];
  /** The step that takes it back in that phase, beside the removal of what it made; null where it did nothing. */
  readonly undo?: (row: RowOf<S>, phase: number) => Step | null;
  /** What it may have changed of the catalogue though it did not come to its end. */
  readonly undoHalf?: (row: RowOf<S>, runId: number) => readonly CatalogueChange[];
  /** As the API tells it: without what is large and nobody reads. */
  readonly toTell?: (step: S, makers: Makers) => Step;
}

export type ActionTable = { readonly [A in Step['action']]: Action<Extract<Step, { action: A }>> };

/** On its own shelf. */
export function ownShelf({ from, to }: Step): Occupied {
  return { shelf: (to ?? from)!.shelfId };
}
