/** What the server knows of a kind of plan. A new kind is a folder with one of these, and a line in the table (kinds.ts). */
import type Joi from 'joi';
import type { Plan } from '../../core/planning/plan/plan';
import type { TextKeeper } from '../../core/planning/plan/plan-text';
import type { Catalogue } from '../catalogue/catalogue';
import type { Window, WindowQuery } from '../../core/lists/list-window';
import type { ChangeMaker, TextMaker } from '../actions/step-context';
import type { Mounts } from '../stock/mounts';

export interface PlanContext {
  readonly catalogue: Catalogue;
  readonly mounts: Mounts;
  /** Null where the kind is about no project. */
  readonly projectId: string | null;
  readonly isUndoable: (kind: string) => boolean;
  /** Takes the texts of timelines over as they are made. */
  readonly keepText: TextKeeper;
}

/**
 * `Detail`: what its plans hold beside their steps; `Told`: the same as its sheet gets it. Written as methods, so that the table can
 * hold all of them beside each other.
 */
export interface Kind<Settings, Detail, Told> {
  readonly form: Joi.ObjectSchema<Settings>;
  /** The plan as things stand now. Rejects with PlanRequestError where the request makes no sense any more. */
  plan(asked: PlanContext, settings: Settings): Promise<Plan<Detail>>;
  /** Whether a run of it can be taken back. */
  readonly undoable: boolean;
  /** By their type: the changes of the catalogue that it brings along. */
  readonly changes?: Readonly<Record<string, ChangeMaker<never>>>;
  /** By what they are: the texts that it makes of its own run. */
  readonly texts?: Readonly<Record<string, TextMaker<never>>>;
  /** Planned from the catalogue alone: a plan is kept until the catalogue changes. */
  readonly isKept?: boolean;
  /** Whether a kept plan also depends on what only the disks know: then it is planned again before it runs. */
  goesByDisks?(plan: Plan<Detail>): boolean;
  /** Moves or copies files for good, and so leaves out files that another run is about to move or copy. */
  readonly takesOver?: boolean;
  /** What of the plan besides its steps must be the same when it runs as when it was read. */
  mustBeRead?(plan: Plan<Detail>): unknown;
  /** What of the project follows from its being begun; in the transaction that enters the run. */
  begun?(plan: Plan<Detail>, catalogue: Catalogue): void;
  /** What its sheet lists in windows; `group` is a part of the list. Throws Problem for a group that is not there. */
  readonly rows?: {
    readonly sorts: readonly [string, ...string[]];
    of(plan: Plan<Detail>, settings: Settings, group: string, query: WindowQuery<never>): Window<unknown>;
  };
  /** The plan as texts to keep without running it. */
  toKeep?(plan: Plan<Detail>, settings: Settings, catalogue: Catalogue): { readonly csv: () => string; readonly html: () => string };
  /** Its detail as the sheet gets it, where the whole would be too much. */
  toTell?(plan: Plan<Detail>): Told;
}

/** A kind; what is told of its plans follows from `toTell`. */
export function defineKind<Settings, Detail>() {
  return <Told = Detail>(kind: Kind<Settings, Detail, Told>): Kind<Settings, Detail, Told> => kind;
}
