import { rm, rmdir } from 'node:fs/promises';
import { joinPath } from '../../../core/media/item';
import type { LinkChange, LinkStep } from '../../../core/planning/plan';
import { stockFolder } from '../../stock/stock-folder';
import { runChange } from '../../workers/pool';
import { enterMade } from '../checksums';
import { partPath } from '../make-file';
import type { Executor, StepContext } from '../step-context';

/** What a change needs of the disks is done here; the change itself is made in a worker thread, see catalogue-change.ts. */
export const changeCatalogue: Executor<LinkStep> = async (step, context) => {
  await onDisk(step.change, context);
  return runChange(context.config, context.runId, context.ordinal);
};

/** What a change needs of the disks before it is made. */
async function onDisk(change: LinkChange, context: StepContext): Promise<void> {
  if (change.type === 'adopt' || change.type === 'open-crate') {
    await stockFolder(context.catalogue, context.places, change.base);
    await enterMade(context.journal(), context);
  }
  if (change.type === 'mark-undone') await clearAway(change.runId, context);
}

/** Half-made files of the run go, and the folders it made where they are empty; what anyone else put there keeps them. */
async function clearAway(runId: number, { catalogue, places }: StepContext): Promise<void> {
  for (const { step, ordinal, state } of catalogue.runs.steps(runId)) {
    if (state === 'done' || !step.to || step.action === 'link') continue;
    const own = step.action === 'frames' ? { ...step.to, path: joinPath(step.to.path, 'frame') } : step.to;
    try {
      await rm(partPath(places.resolve(own), { catalogue, runId, ordinal }), { force: true });
    } catch {
      // Its shelf is away.
    }
  }
  for (const folder of catalogue.runs.folders(runId)) {
    try {
      await rmdir(places.resolve(folder));
    } catch {
      // Not empty, not there, or its shelf is away: it stays.
    }
  }
}
