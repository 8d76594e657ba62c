/** Steps that a run does in the thread that changes the catalogue; see change.worker.ts. */
import type { StepOutcome } from '../catalogue/runs';
import type { Config } from '../config';
import { StepFailure } from '../errors/explain-error';
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

async function ask(job: ChangeJob): Promise<Exclude<ChangeAnswer, { error: unknown }>> {
  return orThrow(await inThread<ChangeAnswer>({ worker: 'change', most: 1 }, job));
}
