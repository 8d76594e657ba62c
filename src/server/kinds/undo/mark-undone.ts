/** The last word of an undo: what the run left half-made goes, and the run counts as undone. */
import { rmdir } from 'node:fs/promises';
import type { Step } from '../../../core/planning/plan/step';
import type { MarkUndone } from '../../../core/planning/undo/undo';
import { clearHalfMade } from '../../actions/clean-up';
import { StepFailure } from '../../errors/explain-error';
import type { ChangeMaker, StepContext } from '../../actions/step-context';

export const markUndone: ChangeMaker<MarkUndone> = {
  onDisk: { at: () => [], work: clearOnDisk },
  make({ runId }, context) {
    context.catalogue.runs.markUndone(runId, context.runId);
    return { bytes: 0, checked: `run ${runId}` };
  },
};

/** Throws StepFailure where nothing was taken back. */
async function clearOnDisk({ runId }: MarkUndone, context: StepContext): Promise<void> {
  const nothing = `Nothing of run ${runId} was taken back: what it did was changed or moved since. It can still be undone.`;
  const { catalogue } = context;
  // Where files stayed, folders alone are no undo.
  const madeOnlyFolders = catalogue.runs.steps(context.runId).every(({ step }) => step.action === 'link' && (step.change.last ?? step.change.type === 'mark-undone')); // prettier-ignore
  if (!madeOnlyFolders && catalogue.outcomes.tookNothing(context.runId)) throw new StepFailure(nothing);
  const cleared = await clearAway(runId, context);
  if (madeOnlyFolders && cleared === 0) throw new StepFailure(nothing);
}

/** The run that these steps undo; null when they are no undo. */
export function undoneRun(steps: readonly Step[]): number | null {
  for (const step of steps) if (step.action === 'link' && step.change.type === 'mark-undone') return (step.change as MarkUndone).runId;
  return null;
}

/** Half-made files of the run go, and the folders it made where they are empty; what anyone else put there keeps them. Gives how many folders went. */
async function clearAway(runId: number, { catalogue, places }: StepContext): Promise<number> {
  let cleared = 0;
  for (const row of catalogue.runs.steps(runId)) await clearHalfMade(row, { catalogue, places, runId });
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
