/** What the runner tells its steps apart by. */
import { fileName } from '../../core/media/item';
import type { Step } from '../../core/planning/plan/step';
import type { StepOutline, StepRow } from '../catalogue/runs';
import type { ActionTable, Together } from '../actions/action';
import { actionOf } from '../actions/actions';
import { MAKERS } from '../kinds/kinds';

/** How the step is done with others in one go; null where it is done by itself. */
export function togetherWith(row: StepOutline, table: ActionTable): Together | null {
  const { together } = actionOf(row, table);
  return together?.allows(row, MAKERS) ? together : null;
}

/** Ordinal of the second copy that is made in the same read; null where there is none. */
export function twinOf({ ordinal, step }: StepRow, table: ActionTable): number | null {
  return (actionOf(step, table).twin?.(step) ?? null) === null ? null : ordinal + 1;
}

/** Their ordinals, so many at a time: what goes together goes so, the rest one by one. */
export function inBatches(rows: readonly StepOutline[], table: ActionTable): number[][] {
  const single: number[][] = [];
  const batches = new Map<Together, number[]>();
  for (const row of rows) {
    const together = togetherWith(row, table);
    if (together) batches.set(together, appended(batches.get(together), row.ordinal));
    else single.push([row.ordinal]);
  }
  const cut = ([{ most }, all]: [Together, number[]]) =>
    Array.from({ length: Math.ceil(all.length / most) }, (_, index) => all.slice(index * most, (index + 1) * most));
  return [...single, ...[...batches].flatMap(cut)];
}

/** Grown in place: a run may have a hundred thousand. */
function appended(list: number[] | undefined, ordinal: number): number[] {
  if (!list) return [ordinal];
  list.push(ordinal);
  return list;
}

export function stepName(step: Step): string {
  return fileName((step.to ?? step.from)?.path ?? step.reason);
}

export function shelvesOf({ from, to }: Step): string[] {
  return [from, to].flatMap((place) => (place ? [place.shelfId] : []));
}
