/** What an executor may use and must report. */
import { existsSync } from 'node:fs';
import { rm, stat } from 'node:fs/promises';
import type { Precondition, Step } from '../../core/planning/plan';
import type { Place } from '../../core/media/item';
import type { Catalogue } from '../catalogue/catalogue';
import type { StepOutcome, StepRow } from '../catalogue/runs';
import type { Mounts } from '../stock/mounts';
import type { SharedControl } from '../workers/control';
import { StepFailure } from './explain-error';
import { preparePart, publish } from './safe-write';

export interface StepContext {
  readonly catalogue: Catalogue;
  readonly mounts: Mounts;
  readonly runId: number;
  readonly ordinal: number;
  readonly control: SharedControl;
  readonly signal: AbortSignal;
  /** File whose growth shows the progress of an outside tool; null when none runs. */
  watch(path: string | null): void;
  /** Journals that the file is finished and about to get its final name. */
  publishing(outcome: StepOutcome): void;
  /** The run's journal as it stands. */
  journal(): StepRow[];
}

export type Executor<S extends Step> = (step: S, context: StepContext) => Promise<StepOutcome>;

/** Throws StepFailure when the source is not what the plan saw. */
export async function checkPrecondition(path: string, wanted: Precondition | null, name: string): Promise<void> {
  if (!wanted) return;
  const info = await stat(path);
  if (info.size !== wanted.sizeBytes || Math.floor(info.mtimeMs) !== wanted.modifiedMs) {
    throw new StepFailure(`${name} was changed after the plan was made. Take stock of its shelf, then make a new plan.`);
  }
}

/**
 * Makes one file: `produce` writes and proves the part, then it gets its final name. Whatever goes wrong, nothing
 * stays behind under either name.
 */
export async function makeFile(
  to: Place,
  expectedBytes: number,
  context: StepContext,
  produce: (part: string) => Promise<StepOutcome>,
): Promise<StepOutcome> {
  const target = context.mounts.resolve(to);
  if (existsSync(target)) throw Object.assign(new Error(target), { code: 'EEXIST' });
  const { freeBytes } = await context.mounts.space(context.mounts.rootOf(to.shelfId)!);
  if (expectedBytes > freeBytes) throw Object.assign(new Error(target), { code: 'ENOSPC' });
  const part = await preparePart(target, context.runId, context.ordinal);
  try {
    const outcome = await produce(part);
    context.publishing(outcome);
    await publish(part, target);
    return outcome;
  } finally {
    await rm(part, { force: true }).catch(() => undefined);
  }
}
