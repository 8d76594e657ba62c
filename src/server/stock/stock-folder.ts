/** Takes stock of one folder of a shelf, without the rest of it: for files that a run has just made. */
import { randomUUID } from 'node:crypto';
import { joinPath, type Place } from '../../core/media/item';
import type { Catalogue } from '../catalogue/catalogue';
import type { Mounts } from './mounts';
import { readItem } from './stocktake';
import { walkShelf } from './walk';

export async function stockFolder(catalogue: Catalogue, mounts: Mounts, folder: Place): Promise<void> {
  const { files } = await walkShelf(mounts.resolve(folder));
  for (const found of files) {
    const path = joinPath(folder.path, found.path);
    const old = catalogue.items.at({ shelfId: folder.shelfId, path });
    if (old && old.sizeBytes === found.sizeBytes && old.modifiedMs === found.modifiedMs) continue;
    catalogue.items.put(await readItem(folder.shelfId, { ...found, path }, old?.id ?? randomUUID()));
  }
}
