/** A step that a crash left in hand and that is cancelled now: finished if its file got its name, else taken away. */
import { rm } from 'node:fs/promises';
import { joinPath } from '../../core/media/item';
import type { Catalogue } from '../catalogue/catalogue';
import type { StepRow } from '../catalogue/runs';
import type { Places } from '../stock/mounts';
import { StepStopped } from './explain-error';
import { moveFiles } from './move-files';
import { clearTwin } from './left-twins';
import { partPath } from './part-name';
import { settle } from './safe-write';

export interface CleanUpContext {
  readonly catalogue: Catalogue;
  readonly places: Places;
  readonly runId: number;
  readonly journal: <T>(write: () => T | Promise<T>) => Promise<T>;
}

export async function cleanUp(row: StepRow, { catalogue, places, runId, journal }: CleanUpContext): Promise<void> {
  const { runs } = catalogue;
  const now = new Date().toISOString();
  const { to } = row.step;
  let message = 'Cancelled; the half-made file was removed.';
  try {
    // Between two names: it is quicker finished than taken back.
    if (row.step.action === 'move' && row.pending !== null && row.pending.sha256 === undefined)
      return void (await journal(() => moveFiles([row], { catalogue, places, runId })));
    if (to && row.step.action !== 'link') {
      const own = row.step.action === 'frames' ? { ...to, path: joinPath(to.path, 'frame') } : to;
      const target = places.resolve(own);
      await rm(partPath(target, { catalogue, runId, ordinal: row.ordinal }), { force: true });
      await clearTwin(row, { catalogue, places, runId });
      const { pending } = row;
      const isWhole = pending !== null && (await settle(target, pending)) === 'ours';
      if (isWhole && row.step.action !== 'move') return await journal(() => runs.finish(runId, row.ordinal, pending, now));
      if (isWhole)
        message = 'Cancelled when it was copied and not yet removed where it was: it stands in both places until the run is resumed or undone.';
      else if (pending) await journal(() => runs.setPending(runId, row.ordinal, null));
    }
  } catch (error) {
    if (error instanceof StepStopped) throw error;
    message = 'Cancelled while its shelf was away: what may be half-made there goes when the run is resumed or undone with the shelf plugged in.';
  }
  await journal(() => runs.fail(runId, row.ordinal, 'cancelled', message, now));
}
