/** What an executor may use and must report. */
import type { FileIdentity } from '../../core/media/identity';
import type { Step } from '../../core/planning/plan/step';
import type { Catalogue } from '../catalogue/catalogue';
import type { MadeFrame, Pending, StepOutcome, StepRow } from '../catalogue/runs';
import type { Config } from '../config';
import type { Places } from '../stock/mounts';
import type { SharedControl } from '../workers/control';
import type { Handed } from './handed';

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
}

export type Executor<S extends Step> = (step: S, context: StepContext) => Promise<StepOutcome>;

/** A source with its path and the state in which it was found. */
export interface Source {
  readonly path: string;
  readonly identity: FileIdentity;
}
