/** Takes stock of one folder of a shelf, without the rest of it: for files that a run has just made. */
import { joinPath, type Place } from '../../core/media/item';
import type { Catalogue } from '../catalogue/catalogue';
import { enterItem } from './enter-item';
import type { Places } from './mounts';
import { readItem } from './read-item';
import { isGone } from './stocktake';
import { walkShelf } from './walk';

export async function stockFolder(catalogue: Catalogue, places: Places, folder: Place): Promise<void> {
  const { files, closedFolders } = await walkShelf(places.resolve(folder));
  const known = new Map(catalogue.items.knownOn(folder.shelfId, folder.path).map((entry) => [entry.item.place.path, entry]));
  for (const found of files) {
    const path = joinPath(folder.path, found.path);
    const old = known.get(path);
    const frames = old ? (catalogue.items.framesOf([old.item.id]).get(old.item.id) ?? null) : null;
    const before = old ? { ...old, frames } : null;
    const read = await readItem(folder.shelfId, { ...found, path }, before);
    // The shelf must still be there when it is written down.
    places.resolve(folder);
    if (read !== null && read.how !== 'known') enterItem(catalogue, read, found, before);
  }
  // A stocktake in the middle of the run may have seen half a sequence: that is none any more.
  const met = new Set(files.map((found) => joinPath(folder.path, found.path)));
  const closed = closedFolders.map((path) => joinPath(folder.path, path));
  const root = places.rootOf(folder.shelfId);
  if (root === null) return;
  const gone = [...known.values()].map(({ item }) => item).filter((item) => !met.has(item.place.path) && isGone(root, item, closed));
  catalogue.items.markGone(gone, new Date().toISOString(), catalogue.shelves.get(folder.shelfId)?.stocktakeAt ?? null);
}
