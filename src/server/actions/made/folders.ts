/** Folders of runs, and what the file system says of names. */
import { mkdir, open } from 'node:fs/promises';
import { dirname } from 'node:path';
import { folderOf, type Place } from '../../../core/media/item';
import { standingAt } from '../../stock/identify';
import type { Places } from '../../stock/mounts';
import type { StepContext } from '../step-context';

/** Codes by which a file system says that it has no hard links, or no more for this file. */
export const NO_LINKS: ReadonlySet<string> = new Set(['EPERM', 'ENOTSUP', 'EOPNOTSUPP', 'ENOSYS', 'EMLINK']);

/** Makes a rename last through a power cut, where the system can flush folders. */
export async function flushFolder(folder: string): Promise<void> {
  const handle = await open(folder, 'r').catch(() => null);
  await handle?.sync().catch(() => undefined);
  await handle?.close();
}

/** The folder and those above it under whose names nothing stands, the topmost first. */
export function missingFolders(folder: Place, places: Pick<Places, 'resolve'>): string[] {
  const missing: string[] = [];
  for (let { path } = folder; path !== '' && standingAt(places.resolve({ ...folder, path })) === null; path = folderOf(path)) missing.unshift(path);
  return missing;
}

/** Makes the folder and those above it that are not there; each is journalled as the run's own and flushed into the one above. */
export async function ensureFolder(folder: Place, context: StepContext): Promise<void> {
  for (const path of missingFolders(folder, context.places)) {
    const absolute = context.places.resolve({ ...folder, path });
    // Before it stands: an end of the process between the two would leave one that nobody knows of.
    await context.madeFolder(path, folder.shelfId);
    try {
      await mkdir(absolute);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'EEXIST') continue;
      throw error;
    }
    await flushFolder(dirname(absolute));
  }
}
