/** A file gets its final name only when it is whole, flushed and read back, and never over another file. */
import { link, open, rename, rm, unlink } from 'node:fs/promises';
import { dirname } from 'node:path';
import { isSameObject, isUntouched } from '../../../core/media/identity';
import type { Pending } from '../../catalogue/step-outcome';
import { standingAt } from '../../stock/identify';
import { flushFolder, NO_LINKS } from './folders';
import { newControl, type SharedControl } from '../../threads/control';
import { runCopy } from '../../files/copy-files';

/**
 * Gives a finished part its final name. Rejects with EEXIST when something stands there. Without hard links the name
 * is claimed by an empty file and the part put over that claim; `claiming` journals it before, so that a claim is
 * known as one after a crash.
 */
export async function publish(part: string, target: string, claiming: () => Promise<void>): Promise<void> {
  try {
    await link(part, target);
  } catch (error) {
    if (!NO_LINKS.has((error as NodeJS.ErrnoException).code ?? '')) throw error;
    await claiming();
    await (await open(target, 'wx')).close();
    await rename(part, target);
    await flushFolder(dirname(target));
    return;
  }
  // The file stands under its final name: a part that cannot be taken away is litter, no failure.
  await unlink(part).catch(() => undefined);
  await flushFolder(dirname(target));
}

/**
 * What became of a file that an earlier try made or was about to name: `ours` stands there whole, `altered` is ours
 * and was changed since, `foreign` is another file, `none` is nothing (an empty claim of ours is taken away). Throws
 * what the file system says.
 */
export async function whatStands(
  target: string,
  pending: Pending,
  control: SharedControl = newControl(),
): Promise<'ours' | 'altered' | 'foreign' | 'none'> {
  const standing = standingAt(target);
  if (standing === null) return 'none';
  if (pending.claimed && standing.sizeBytes === 0 && pending.bytes > 0) {
    await rm(target);
    return 'none';
  }
  const known = pending.identity ?? null;
  if (known !== null && isUntouched(known, standing)) return 'ours';
  const isOurs = known !== null && isSameObject(known, standing);
  // Older journals and file systems without hard links know the file by its content only.
  if (!isOurs && known !== null && !pending.claimed) return 'foreign';
  const { sha256, stopped } = await runCopy({ write: null, target, control });
  if (!stopped && sha256 === pending.sha256) return 'ours';
  return isOurs ? 'altered' : 'foreign';
}

/** Takes away a file of ours that must be made anew. False when what stands there is not ours as we made it. */
export async function takeBack(target: string, made: Pending): Promise<boolean> {
  const what = await whatStands(target, made);
  if (what === 'ours') await unlink(target);
  return what === 'ours' || what === 'none';
}
