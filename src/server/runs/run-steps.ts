/** What the runner tells its steps apart by. */
import { fileName } from '../../core/media/item';
import type { Step } from '../../core/planning/plan';
import type { StepOutline } from '../catalogue/runs';

/** A new link for one clip: it stands on no other step. */
export function isRelink({ action, what }: StepOutline): boolean {
  return action === 'link' && what === 'relink';
}

export function isRelinkStep(step: Step): boolean {
  return step.action === 'link' && step.change.type === 'relink';
}

/** The run that these steps undo; null when they are no undo. */
export function undoneRun(steps: readonly Step[]): number | null {
  for (const step of steps) if (step.action === 'link' && step.change.type === 'mark-undone') return step.change.runId;
  return null;
}

export function stepName(step: Step): string {
  return fileName((step.to ?? step.from)?.path ?? step.reason);
}
