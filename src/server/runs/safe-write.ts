/** A file gets its final name only when it is whole, flushed and read back, and never over another file. */
import { link, mkdir, open, rename, rm, unlink } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { partName } from './part-name';

export function partPath(target: string, runId: number, ordinal: number): string {
  return join(dirname(target), partName(runId, ordinal));
}

/** Makes the folder and removes what an earlier try left; returns where the half-made file goes. */
export async function preparePart(target: string, runId: number, ordinal: number): Promise<string> {
  await mkdir(dirname(target), { recursive: true });
  const part = partPath(target, runId, ordinal);
  await rm(part, { force: true });
  return part;
}

/** Gives a finished part its final name. Rejects with EEXIST when something stands there. */
export async function publish(part: string, target: string): Promise<void> {
  try {
    await link(part, target);
    await unlink(part);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code !== 'EPERM' && code !== 'ENOTSUP' && code !== 'EOPNOTSUPP' && code !== 'ENOSYS' && code !== 'EMLINK') throw error;
    // No hard links here: claim the name first, then put the part over our own claim.
    await (await open(target, 'wx')).close();
    await rename(part, target);
  }
  await flushFolder(dirname(target));
}

/** Makes a rename last through a power cut, where the system can flush folders. */
async function flushFolder(folder: string): Promise<void> {
  const handle = await open(folder, 'r').catch(() => null);
  await handle?.sync().catch(() => undefined);
  await handle?.close();
}
