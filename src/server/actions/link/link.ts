import type { LinkStep } from '../../../core/planning/plan/step';
import type { Executor } from '../step-context';

/** What a change needs of the disks is done here; the change itself is made in a worker thread, see catalogue-change.ts. */
export const changeCatalogue: Executor<LinkStep> = async ({ change }, context) => {
  await context.makers.change(change.type).onDisk?.work(change, context);
  return context.changeCatalogue();
};
