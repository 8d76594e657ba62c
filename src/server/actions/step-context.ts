/** What an executor may use and must report; and what kinds bring along for it. */
import type { FileIdentity } from '../../core/media/identity';
import type { Place } from '../../core/media/item';
import type { CatalogueChange, LinkStep, Step } from '../../core/planning/plan/step';
import type { StocktakeFigures } from '../../core/planning/stocktake/stocktake';
import type { Catalogue } from '../catalogue/catalogue';
import type { StepRow } from '../catalogue/runs';
import type { MadeFrame, Pending, StepOutcome } from '../catalogue/step-outcome';
import type { Config } from '../config';
import type { Places } from '../stock/mounts';
import type { SharedControl } from '../threads/control';
import type { Handed } from './made/handed';

export interface StepContext {
  readonly config: Config;
  readonly catalogue: Catalogue;
  readonly places: Places;
  readonly runId: number;
  readonly ordinal: number;
  readonly control: SharedControl;
  readonly signal: AbortSignal;
  /** What an earlier try may have left under the final name. */
  readonly pending: Pending | null;
  /** What the step before has written for this one, or this one writes for the next; null for steps without a twin. */
  readonly handed: Handed | null;
  /** How far it is, where that is more than bytes. */
  report(figures: StocktakeFigures): void;
  /** Whether the same was asked for again meanwhile, so that what was seen until now is yesterday's; where not, it is not asked any more. */
  wasAskedAgain(): boolean;
  /** File whose growth shows the progress of an outside tool; null when none runs. */
  watch(path: string | null): void;
  /** Journals that the file is finished and about to get its final name; null: nothing of the step's stands there. */
  publishing(pending: Pending | null): Promise<void>;
  /** Changes the catalogue; waits, with a word to the user, while its disk has no room. */
  change(work: () => void): Promise<void>;
  /** Journals a frame that is about to get its final name, or got it. */
  madeFrame(frame: MadeFrame): Promise<void>;
  /** Journals that a frame did not get its final name after all. */
  lostFrame(name: string): Promise<void>;
  /** Journals a folder that the step made. */
  madeFolder(path: string, shelfId: string): Promise<void>;
  /** The run's journal as it stands. */
  journal(): StepRow[];
  /** What kinds bring along. */
  readonly makers: Makers;
  /** Makes the change of the catalogue that the step is, in the thread that changes it. */
  changeCatalogue(): Promise<StepOutcome>;
}

export type Executor<S extends Step> = (step: S, context: StepContext) => Promise<StepOutcome>;

/** A source with its path and the state in which it was found. */
export interface Source {
  readonly path: string;
  readonly identity: FileIdentity;
}

export interface ChangeContext {
  readonly catalogue: Catalogue;
  readonly places: Pick<Places, 'rootOf'>;
  readonly runId: number;
  /** The run's journal as it stands. */
  readonly journal: () => StepRow[];
}

/** How a change of the catalogue is made, in one transaction with its entry in the journal. */
export interface ChangeMaker<Change extends CatalogueChange> {
  /** Throws StepFailure where it cannot be made. What it leaves in `back` is the change that takes it back. */
  readonly make: (change: Change, context: ChangeContext, step: LinkStep) => StepOutcome;
  /** What it needs of the disks before it is made. `at`: where; the shelves of these are its own meanwhile, and no other run's changes wait. */
  readonly onDisk?: {
    readonly at: (change: Change) => readonly Place[];
    readonly work: (change: Change, context: StepContext) => Promise<void>;
  };
  /** It stands on no other step, and needs nothing of the disks: many are made in one transaction. */
  readonly standsAlone?: boolean;
  /** What is still told of it when the files it goes by turn out to be others. */
  readonly retract?: (change: Change, catalogue: Catalogue) => void;
  /** As the API tells it: without what is large and nobody reads. */
  readonly toTell?: (change: Change) => CatalogueChange;
}

/** The text of a file that a kind makes of what its run has done so far. `label`: what the plan says of it. */
export type TextMaker<Label> = (root: string, label: Label, context: StepContext) => string;

export interface Makers {
  /** Undefined where no kind of this version makes it. */
  readonly find: (type: string) => ChangeMaker<CatalogueChange> | undefined;
  /** Throws where no kind of this version makes it. */
  readonly change: (type: string) => ChangeMaker<CatalogueChange>;
  readonly text: (what: string) => TextMaker<unknown>;
}
