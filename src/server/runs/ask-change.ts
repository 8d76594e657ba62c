/** Steps that a run does in the thread that changes the catalogue; see change.worker.ts. */
import type { StepOutcome } from '../catalogue/step-outcome';
import type { Config } from '../config';
import { StepFailure } from '../errors/explain-error';
import { HeldUp } from '../stock/held-up';
import { silentDrives } from '../threads/silent-drives';
import { DOES_NOT_ANSWER } from './live-run';
import { inThread, orThrow } from '../threads/pool';
import type { ChangeAnswer, ChangeJob } from './change.worker';

/** Makes a change. Rejects as the step would. */
export async function runChange(config: Config, runId: number, ordinal: number): Promise<StepOutcome> {
  const answer = await ask({ config, runId, ordinals: [ordinal], together: false });
  if ('failed' in answer) throw new StepFailure(answer.failed);
  return (answer as { readonly outcome: StepOutcome }).outcome;
}

/** Does many of one action in one go; what becomes of each is in the journal. Gives those that must be done by themselves. */
export async function runTogether(config: Config, runId: number, ordinals: readonly number[]): Promise<readonly number[]> {
  const answer = await ask({ config, runId, ordinals, together: true });
  return 'left' in answer ? answer.left : [];
}

/** One that waits for a drive that does not answer is given up: the transaction that it is ends with its thread, as if it had not begun. */
async function ask(asked: Omit<ChangeJob, 'silent' | 'touch'>): Promise<Exclude<ChangeAnswer, { error: unknown }>> {
  const held = new HeldUp();
  try {
    const job: ChangeJob = { ...asked, silent: silentDrives.now(), touch: held.touch };
    return orThrow(await inThread<ChangeAnswer>({ worker: 'change', most: 1 }, job, held.signal));
  } catch (error) {
    throw held.signal.aborted ? new StepFailure(DOES_NOT_ANSWER) : error;
  } finally {
    held.end();
  }
}
