import type { StepRow } from '../catalogue/runs';
import { PlaceError, type Places } from '../stock/mounts';
import type { ActionTable, Inspected } from './action';
import { actionOf } from './actions';

/** What became of the files of a finished step. Steps that leave no file are whole. */
export async function inspectStep({ step, outcome }: StepRow, places: Places, table?: ActionTable): Promise<Inspected> {
  const { inspect } = actionOf(step, table);
  if (!outcome || !inspect) return { is: 'whole', outcome: null };
  try {
    return await inspect(step, outcome, places);
  } catch (error) {
    if (error instanceof PlaceError)
      return { is: 'away', message: `It was made, but cannot be looked at now. ${error.message} Plug it in, then resume.` };
    return { is: 'away', message: `It was made, but cannot be looked at now: ${(error as Error).message}. Look at the drive, then resume.` };
  }
}
