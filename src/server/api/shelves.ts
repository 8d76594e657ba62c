import { existsSync, readdirSync, statSync } from 'node:fs';
import { basename, dirname, join, resolve } from 'node:path';
import { joinPath, placeKey, type Item } from '../../core/media/item';
import { partName } from '../../core/project/part-name';
import { byName } from '../../core/naming/by-name';
import type { House } from '../house';
import { shelfSnapshots } from '../projects/snapshot';
import { registerShelf } from '../stock/register-shelf';
import { readMarker } from '../stock/marker';
import { nestingsAmong, type Nesting } from '../stock/nested-shelves';
import { endpoint, endpointWithBody } from './endpoint';
import { notFound, Problem } from './problem';
import { renameForm } from '../../core/forms/project-forms';
import { newShelfForm } from '../../core/forms/shelf-forms';
import { plugSchema } from './schemas';
import type { FolderView, ListedItem, ShelfView } from './views';
import { ITEM_SORTS } from '../catalogue/item-window';
import type { Window } from '../list-window';
import { windowOf } from './window';

type ItemSort = keyof typeof ITEM_SORTS;
const ITEM_ORDERS = Object.keys(ITEM_SORTS) as [ItemSort, ...ItemSort[]];

async function shelfViews(house: House): Promise<ShelfView[]> {
  const snapshots = await shelfSnapshots(house.catalogue, house.mounts);
  const counts = house.catalogue.items.countsByShelf();
  const rows = new Map(house.catalogue.shelves.list().map((row) => [row.id, row]));
  const drives = house.bay?.drives() ?? [];
  const nestings = nestingsAmong(house.mounts, [...rows.keys()]);
  return snapshots.flatMap((shelf) => {
    const row = rows.get(shelf.id);
    // Taken off the list meanwhile.
    if (!row) return [];
    const count = counts.get(shelf.id) ?? { items: 0, bytes: 0 };
    const root = house.mounts.rootOf(shelf.id);
    return {
      ...shelf,
      // Shown so that it can be copied; it is not kept in the catalogue.
      mountPath: root,
      seenAt: row.seenAt,
      stocktakeAt: row.stocktakeAt,
      items: count.items,
      itemBytes: count.bytes,
      stocktake: house.stocktakes.get(shelf.id)?.progress ?? null,
      copies: house.mounts.copiesOf(shelf.id),
      inside: insideOf(shelf.id, nestings, rows),
      bayDrive: drives.find((drive) => drive.name === (root ? basename(root) : shelf.name))?.name ?? null,
    };
  });
}

function insideOf(shelfId: string, nestings: readonly Nesting[], rows: ReadonlyMap<string, { readonly name: string }>): ShelfView['inside'] {
  const nesting = nestings.find(({ inner }) => inner === shelfId);
  return nesting ? { shelf: rows.get(nesting.outer)?.name ?? '', path: nesting.path } : null;
}

export const listShelves = endpoint(({ house }) => shelfViews(house));

export const addShelf = endpointWithBody(newShelfForm, ({ house, body }) => {
  const shelf = registerShelf(house.catalogue, house.mounts, body.path, body.name, body.ownIdentity);
  house.tell({ type: 'changed' });
  return { id: shelf.id, name: shelf.name };
});

export const renameShelf = endpointWithBody(renameForm, ({ house, params, body }) => {
  const shelf = house.catalogue.shelves.get(params.shelf!);
  if (!shelf) throw notFound('shelf');
  house.catalogue.shelves.put(shelf.id, body.name.trim(), shelf.registeredAt);
  house.tell({ type: 'changed' });
});

/** Takes the shelf off the list; its files, its marker and what links it stay. Registered again, all is as before. */
export const removeShelf = endpoint(async ({ house, params }) => {
  const shelf = house.catalogue.shelves.get(params.shelf!);
  if (!shelf) throw notFound('shelf');
  const run = house.catalogue.runs.unfinishedOn(shelf.id);
  if (run !== null) throw new Problem(409, 'busy', `Run ${run} uses ${shelf.name} just now.`, 'Cancel it or wait for its end.');
  await house.stopStocktake(shelf.id);
  house.catalogue.shelves.retire(shelf.id, new Date().toISOString());
  house.tell({ type: 'changed' });
});

export const startStocktake = endpoint(({ house, params }) => {
  const shelf = house.catalogue.shelves.get(params.shelf!);
  if (!shelf) throw notFound('shelf');
  house.mounts.lookAgain();
  const root = house.mounts.rootOf(shelf.id);
  if (root === null) throw new Problem(409, 'unplugged', `${shelf.name} is not plugged in.`, 'Plug it in, then take stock.');
  return house.startStocktake(shelf.id, root);
});

export const getStocktake = endpoint(async ({ house, params, query }) => {
  const entry = house.stocktakes.get(params.shelf!);
  if (!entry) throw notFound('stocktake');
  if (query.get('wait') === 'end') await entry.done;
  return entry.progress;
});

export const cancelStocktake = endpoint(({ house, params }) => {
  const entry = house.stocktakes.get(params.shelf!);
  if (!entry) throw notFound('stocktake');
  entry.abort.abort();
});

/** `only=media` leaves out what is none; `endings` names those of the files that are listed, with commas between. */
export const listItems = endpoint(({ house, params, query }): Window<ListedItem> => {
  if (!house.catalogue.shelves.get(params.shelf!)) throw notFound('shelf');
  const endings = query.get('endings')?.toLowerCase().split(',');
  const only = query.get('only') === 'media' ? 'media' : (endings ?? null);
  return named(house, house.catalogue.items.window(params.shelf!, { ...windowOf(query, ITEM_ORDERS), only }));
});

/** The same over all shelves: where is a file? */
export const findItems = endpoint(({ house, query }): Window<ListedItem> => {
  return named(house, house.catalogue.items.window(null, { ...windowOf(query, ITEM_ORDERS), only: query.get('only') === 'media' ? 'media' : null }));
});

/** Files that hold a part of a clip's source say which. */
function named({ catalogue }: House, { rows, ...window }: Window<Item>): Window<ListedItem> {
  const parts = catalogue.parts.partsAt(rows.map(({ place }) => place));
  return {
    ...window,
    rows: rows.map((item) => {
      const part = parts.get(placeKey(item.place));
      return part ? { ...item, partOf: partName(part.clip, item.facts, part.range) } : item;
    }),
  };
}

/** Folders of an attached shelf, for choosing one. */
export const listShelfFolders = endpoint(({ house, params, query }): FolderView => {
  const path = query.get('path') ?? '';
  const folder = house.mounts.resolve({ shelfId: params.shelf!, path });
  if (!existsSync(folder) || !statSync(folder).isDirectory()) throw notFound('folder');
  const entries = readdirSync(folder, { withFileTypes: true }).filter((entry) => entry.isDirectory() && !entry.name.startsWith('.'));
  return {
    path,
    parent: path === '' ? null : path.split('/').slice(0, -1).join('/'),
    folders: entries
      .map((entry) => folderEntry(join(folder, entry.name), joinPath(path, entry.name), entry.name))
      .sort((a, b) => byName(a.name, b.name)),
  };
});

/** Folders of this machine in which a shelf may be registered. */
export const listFolders = endpoint(({ house, query }): FolderView => {
  const asked = query.get('path');
  const { roots } = house.mounts;
  if (!asked) return { path: null, parent: null, folders: roots.filter((root) => existsSync(root)).map((root) => folderEntry(root, root, root)) };
  const path = resolve(asked);
  if (!house.mounts.isAllowed(path))
    throw new Problem(403, 'not-allowed', `${path} lies outside the folders this server may use.`, 'Start it with --roots to allow more.');
  if (!statSync(path, { throwIfNoEntry: false })?.isDirectory()) throw notFound('folder');
  const entries = readdirSync(path, { withFileTypes: true }).filter((entry) => entry.isDirectory() && !entry.name.startsWith('.'));
  return {
    path,
    parent: roots.includes(path) ? '' : dirname(path),
    folders: entries.map((entry) => folderEntry(join(path, entry.name), join(path, entry.name), entry.name)).sort((a, b) => byName(a.name, b.name)),
  };
});

function folderEntry(absolute: string, path: string, name: string) {
  return { path, name, shelfId: readMarker(absolute)?.id ?? null, isCrate: existsSync(join(absolute, 'bagit.txt')) };
}

export const setPlugged = endpointWithBody(plugSchema, ({ house, params, body }) => {
  if (!house.bay?.setPlugged(params.drive!, body.plugged)) throw notFound('drive in the simulated bay');
  house.mounts.lookAgain();
  house.tell({ type: 'changed' });
});
