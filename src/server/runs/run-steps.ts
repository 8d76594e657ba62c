/** What the runner tells its steps apart by. */
import { fileName } from '../../core/media/item';
import type { Step } from '../../core/planning/plan/step';
import type { StepOutline, StepRow } from '../catalogue/runs';
import { standsAlone } from '../kinds/kinds';

export function isLoneChange({ action, what }: StepOutline): boolean {
  return action === 'link' && what !== null && standsAlone(what);
}

export function isLoneChangeStep(step: Step): boolean {
  return step.action === 'link' && standsAlone(step.change.type);
}

/** Ordinal of the second copy that is made in the same read; null where there is none. */
export function twinOf({ ordinal, step }: StepRow): number | null {
  return (step.action === 'copy' || step.action === 'frames') && step.twin ? ordinal + 1 : null;
}

/** Their ordinals, so many at a time. */
export function inBatches(rows: readonly StepOutline[], most: number): number[][] {
  return Array.from({ length: Math.ceil(rows.length / most) }, (_, index) =>
    rows.slice(index * most, (index + 1) * most).map(({ ordinal }) => ordinal),
  );
}

export function stepName(step: Step): string {
  return fileName((step.to ?? step.from)?.path ?? step.reason);
}
