/** What steps leave half-made: found by their names, which are the same after a crash. */
import { rm } from 'node:fs/promises';
import type { StepRow } from '../catalogue/runs';
import { StepStopped } from '../errors/explain-error';
import { partPath, twinPath } from '../stock/part-name';
import type { ActionTable, Where } from './action';
import { actionOf } from './actions';
import { whatStands } from './made/safe-write';

export const HALF_MADE_REMOVED = 'Cancelled; the half-made file was removed.';

export interface CleanUpContext extends Where {
  readonly journal: <T>(write: () => T | Promise<T>) => Promise<T>;
  readonly table?: ActionTable;
}

/** A step that a crash left in hand and that is cancelled now: finished if its file got its name, else taken away. */
export async function cleanUp(row: StepRow, context: CleanUpContext): Promise<void> {
  const { catalogue, places, runId, journal, table } = context;
  const { runs } = catalogue;
  const { step, ordinal, pending } = row;
  const { halfMade, finish, cancelled = HALF_MADE_REMOVED, cancelledWhole } = actionOf(step, table);
  const now = new Date().toISOString();
  let message = cancelled;
  try {
    if (finish && (await journal(() => finish(row, context)))) return;
    if (step.to && halfMade) {
      const target = places.resolve(halfMade(step));
      await rm(partPath(target, { catalogue, runId, ordinal }), { force: true });
      await clearTwin(row, context);
      const isWhole = pending !== null && (await whatStands(target, pending)) === 'ours';
      if (isWhole && cancelledWhole === undefined) return await journal(() => runs.finish(runId, ordinal, pending, now));
      if (isWhole) message = cancelledWhole!;
      else if (pending) await journal(() => runs.setPending(runId, ordinal, null));
    }
  } catch (error) {
    if (error instanceof StepStopped) throw error;
    message = 'Cancelled while its shelf was away: what may be half-made there goes when the run is resumed or undone with the shelf plugged in.';
  }
  await journal(() => runs.fail(runId, ordinal, 'cancelled', message, now));
}

/** Of a run that is undone: whatever a step left half-made, for itself or for the next. What lies on a shelf that is away stays. */
export async function clearHalfMade(row: StepRow, where: Where): Promise<void> {
  const { step, ordinal, state } = row;
  await clearTwin(row, where).catch(() => undefined);
  const { halfMade } = actionOf(step);
  if (state === 'done' || !step.to || !halfMade) return;
  try {
    await rm(partPath(where.places.resolve(halfMade(step)), { ...where, ordinal }), { force: true });
  } catch {
    // Its shelf is away.
  }
}

/** What an end of the process left of second copies whose first ones are made: their own steps write them anew. */
export async function clearLeftTwins(where: Where): Promise<void> {
  const { runs } = where.catalogue;
  const rows = runs.outline(where.runId);
  for (const [index, row] of rows.entries()) {
    if (row.state === 'done' || !actionOf(row).twin || rows[index - 1]?.state !== 'done') continue;
    await clearTwin(runs.step(where.runId, rows[index - 1]!.ordinal), where).catch(() => undefined);
    await clearTwin(runs.step(where.runId, row.ordinal), where).catch(() => undefined);
  }
}

/** Of one step that writes for the next. */
async function clearTwin({ step, ordinal }: StepRow, where: Where): Promise<void> {
  const beside = actionOf(step).twin?.(step) ?? null;
  if (beside !== null) await rm(twinPath(where.places.resolve(beside), { ...where, ordinal }), { force: true, recursive: true });
}
