/** Second copies that steps write for those after them, as an end of the process leaves them. */
import { rm } from 'node:fs/promises';
import { below } from '../../core/media/item';
import type { Catalogue } from '../catalogue/catalogue';
import type { StepRow } from '../catalogue/runs';
import type { Places } from '../stock/mounts';
import { twinPath } from './part-name';

interface Where {
  readonly catalogue: Catalogue;
  readonly places: Places;
  readonly runId: number;
}

/** What an end of the process left of second copies whose first ones are made: their own steps write them anew. */
export async function clearLeftTwins(runId: number, { catalogue, places }: Pick<Where, 'catalogue' | 'places'>): Promise<void> {
  const { runs } = catalogue;
  const rows = runs.outline(runId);
  for (const [index, { ordinal, state, action }] of rows.entries()) {
    if (state === 'done' || (action !== 'copy' && action !== 'frames') || rows[index - 1]?.state !== 'done') continue;
    await clearTwin(runs.step(runId, rows[index - 1]!.ordinal), { catalogue, places, runId }).catch(() => undefined);
    await clearTwin(runs.step(runId, ordinal), { catalogue, places, runId }).catch(() => undefined);
  }
}

/** Of one step that writes for the next. */
export async function clearTwin({ step, ordinal }: StepRow, { catalogue, places, runId }: Where): Promise<void> {
  if ((step.action !== 'copy' && step.action !== 'frames') || !step.twin) return;
  const target = places.resolve(step.action === 'frames' ? below(step.twin, 'frame') : step.twin);
  await rm(twinPath(target, { catalogue, runId, ordinal }), { force: true, recursive: true });
}
