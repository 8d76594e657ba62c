/** The last word of an undo: what the run left half-made goes, and the run counts as undone. */
import { rm, rmdir } from 'node:fs/promises';
import { joinPath } from '../../../core/media/item';
import type { Step } from '../../../core/planning/plan/step';
import type { MarkUndone } from '../../../core/planning/undo/undo';
import { clearTwin } from '../../runs/left-twins';
import { partPath } from '../../runs/part-name';
import { StepFailure } from '../../runs/explain-error';
import type { StepContext } from '../../runs/step-context';
import type { ChangeMaker } from '../kind';

export const markUndone: ChangeMaker<MarkUndone> = {
  async onDisk({ runId }, context) {
    const nothing = `Nothing of run ${runId} was taken back: what it did was changed or moved since. It can still be undone.`;
    // Where files stayed, folders alone are no undo.
    const madeOnlyFolders = context.catalogue.runs.steps(context.runId).every(({ step }) => step.action === 'link' && (step.change.last ?? step.change.type === 'mark-undone')); // prettier-ignore
    if (!madeOnlyFolders && context.catalogue.outcomes.tookNothing(context.runId)) throw new StepFailure(nothing);
    const cleared = await clearAway(runId, context);
    if (madeOnlyFolders && cleared === 0) throw new StepFailure(nothing);
  },
  make({ runId }, context) {
    context.catalogue.runs.markUndone(runId, context.runId);
    return { bytes: 0, checked: `run ${runId}` };
  },
};

/** The run that these steps undo; null when they are no undo. */
export function undoneRun(steps: readonly Step[]): number | null {
  for (const step of steps) if (step.action === 'link' && step.change.type === 'mark-undone') return (step.change as MarkUndone).runId;
  return null;
}

/** Half-made files of the run go, and the folders it made where they are empty; what anyone else put there keeps them. Gives how many folders went. */
async function clearAway(runId: number, { catalogue, places }: StepContext): Promise<number> {
  let cleared = 0;
  for (const row of catalogue.runs.steps(runId)) {
    const { step, ordinal, state } = row;
    await clearTwin(row, { catalogue, places, runId }).catch(() => undefined);
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
      cleared++;
    } catch {
      // Not empty, not there, or its shelf is away: it stays.
    }
  }
  return cleared;
}
