/** Making one file: a part beside its destination is written and proven, then it gets its final name. */
import { rm } from 'node:fs/promises';
import { fileName, folderOf, type Place } from '../../../core/media/item';
import type { Pending, StepOutcome } from '../../catalogue/step-outcome';
import { identify, standingAt } from '../../stock/identify';
import { StepFailure } from '../../errors/explain-error';
import { partPath } from '../../stock/part-name';
import { ensureFolder } from './folders';
import { publish, whatStands, takeBack } from './safe-write';
import type { StepContext } from '../step-context';

/**
 * Makes one file by `produce`. Whatever goes wrong, nothing stays behind under either name that is not whole. What an
 * earlier try made is recognised and kept; with `anew` it is taken away and made again.
 */
export async function makeFile(
  to: Place,
  expectedBytes: number,
  context: StepContext,
  produce: (part: string) => Promise<StepOutcome>,
  anew = false,
): Promise<StepOutcome> {
  const target = context.places.resolve(to);
  const part = partPath(target, context);
  await rm(part, { force: true }).catch(() => undefined);
  if (context.pending) {
    const kept = await keepEarlier(target, context.pending, context, anew);
    if (kept) return kept;
    await context.publishing(null);
  }
  if (standingAt(target)) throw Object.assign(new Error(target), { code: 'EEXIST' });
  const { freeBytes } = await context.places.space(context.places.resolve({ shelfId: to.shelfId, path: '' }));
  if (freeBytes !== null && expectedBytes > freeBytes) throw Object.assign(new Error(target), { code: 'ENOSPC' });
  await ensureFolder({ shelfId: to.shelfId, path: folderOf(to.path) }, context);
  try {
    return await publishPart(part, target, await produce(part), context);
  } finally {
    await rm(part, { force: true }).catch(() => undefined);
  }
}

/** The outcome of an earlier try that still stands; null when there is nothing to keep. Throws for a file altered since. */
async function keepEarlier(target: string, pending: Pending, context: StepContext, anew: boolean): Promise<StepOutcome | null> {
  if (anew && (await takeBack(target, pending))) return null;
  const what = await whatStands(target, pending, context.control);
  if (what === 'altered')
    throw new StepFailure(
      `${fileName(target)} was altered since this run made it. Nothing is overwritten: move it away to have it made again, then resume.`,
    );
  if (what !== 'ours') return null;
  const { claimed: _claimed, ...outcome } = pending;
  return { ...outcome, identity: await identify(target) };
}

async function publishPart(part: string, target: string, outcome: StepOutcome, context: StepContext): Promise<StepOutcome> {
  let pending: Pending = { ...outcome, identity: await identify(part) };
  await context.publishing(pending);
  try {
    await publish(part, target, async () => {
      pending = { ...pending, claimed: true };
      await context.publishing(pending);
    });
  } catch (error) {
    // It may stand there in spite of the error. Where that cannot be told now, it stays pending.
    const taken = (error as NodeJS.ErrnoException).code === 'EEXIST';
    const what = taken ? 'foreign' : await whatStands(target, pending).catch(() => null);
    if (what !== 'ours') {
      if (what !== null) await context.publishing(null);
      throw error;
    }
  }
  return { ...outcome, identity: await identify(target) };
}
