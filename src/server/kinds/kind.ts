/** What the server knows of a kind of plan. A new kind is a folder with one of these, and a line in the table (kinds.ts). */
import type Joi from 'joi';
import type { Plan } from '../../core/planning/plan/plan';
import type { TextKeeper } from '../../core/planning/plan/plan-text';
import type { CatalogueChange, LinkStep } from '../../core/planning/plan/step';
import type { Catalogue } from '../catalogue/catalogue';
import type { Window, WindowQuery } from '../list-window';
import type { StepOutcome, StepRow } from '../catalogue/runs';
import type { StepContext } from '../runs/step-context';
import type { Mounts, Places } from '../stock/mounts';

/** Why there is no plan for a request, in a sentence. */
export class PlanRequestError extends Error {}

export interface Asked {
  readonly catalogue: Catalogue;
  readonly mounts: Mounts;
  /** Null where the kind is about no project. */
  readonly projectId: string | null;
  readonly isUndoable: (kind: string) => boolean;
  /** Takes the texts of timelines over as they are made. */
  readonly keepText: TextKeeper;
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
  /** What it needs of the disks before it is made. */
  readonly onDisk?: (change: Change, context: StepContext) => Promise<void>;
  /** It stands on no other step: many are made in one transaction. */
  readonly standsAlone?: boolean;
  /** What is still told of it when the files it goes by turn out to be others. */
  readonly retract?: (change: Change, catalogue: Catalogue) => void;
  /** As the API tells it: without what is large and nobody reads. */
  readonly toTell?: (change: Change) => CatalogueChange;
}

/** The text of a file that a kind makes of what its run has done so far. `label`: what the plan says of it. */
export type TextMaker<Label> = (root: string, label: Label, context: StepContext) => string;

export interface Kind<Settings> {
  readonly form: Joi.ObjectSchema<Settings>;
  /** The plan as things stand now. Rejects with PlanRequestError where the request makes no sense any more. */
  readonly plan: (asked: Asked, settings: Settings) => Promise<Plan>;
  /** Whether a run of it can be taken back. */
  readonly undoable: boolean;
  /** By their type: the changes of the catalogue that it brings along. */
  readonly changes?: Readonly<Record<string, ChangeMaker<never>>>;
  /** By what they are: the texts that it makes of its own run. */
  readonly texts?: Readonly<Record<string, TextMaker<never>>>;
  /** It goes by the catalogue alone, so that it is made once while nothing there is another. */
  readonly isKept?: boolean;
  /** Whether a kept plan goes by more on the disks than the catalogue knows of: it is made anew before it runs. */
  readonly goesByDisks?: (plan: Plan) => boolean;
  /** It moves or copies files for good: not those that another run is about to. */
  readonly takesOver?: boolean;
  /** What of the plan besides its steps must be the same when it runs as when it was read. */
  readonly mustBeRead?: (plan: Plan) => unknown;
  /** What its sheet lists in windows; `group` is a part of the list. Throws Problem for a group that is not there. */
  readonly rows?: {
    readonly sorts: readonly [string, ...string[]];
    readonly of: (plan: Plan, settings: Settings, group: string, query: WindowQuery<never>) => Window<unknown>;
  };
  /** The plan as texts to keep without running it. */
  readonly toKeep?: (plan: Plan, settings: Settings, catalogue: Catalogue) => { readonly csv: () => string; readonly html: () => string };
  /** Its detail as the sheet gets it, where the whole would be too much. */
  readonly toTell?: (plan: Plan) => unknown;
}
