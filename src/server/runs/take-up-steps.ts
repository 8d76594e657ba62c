import { actionOf } from '../actions/actions';
import type { ActionTable } from '../actions/action';
import type { Catalogue } from '../catalogue/catalogue';
import type { Places } from '../stock/mounts';

/** Steps that the end of the process left in their middle, as far as their actions bring them to an end before anyone asks. */
export function takeUpSteps(
  runId: number,
  table: ActionTable,
  { catalogue, places }: { readonly catalogue: Catalogue; readonly places: Places },
): void {
  const { runs } = catalogue;
  const begun = runs.outline(runId).filter(({ state }) => state === 'doing' || state === 'publishing');
  for (const action of new Set(begun.map((row) => row.action))) {
    const rows = begun.filter((row) => row.action === action).map(({ ordinal }) => runs.step(runId, ordinal));
    actionOf({ action }, table).takeUp?.(rows, { catalogue, places, runId });
  }
}
