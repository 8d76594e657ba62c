import type { LinkStep } from '../../../core/planning/plan/step';
import { changeMaker } from '../../kinds/kinds';
import { runChange } from '../../workers/pool';
import type { Executor } from '../step-context';

/** What a change needs of the disks is done here; the change itself is made in a worker thread, see catalogue-change.ts. */
export const changeCatalogue: Executor<LinkStep> = async ({ change }, context) => {
  await changeMaker(change.type).onDisk?.(change, context);
  return runChange(context.config, context.runId, context.ordinal);
};
