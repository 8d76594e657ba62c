/** Shelves: put on the list, named, taken off; their stocktakes; drives of the simulated bay. */
import type { NewShelf } from '../../core/forms/shelf-forms';
import type { ShelfRow } from '../catalogue/shelves';
import { notFound, Problem } from '../errors/problem';
import { registerShelf } from '../stock/register-shelf';
import type { StocktakeProgress } from '../stock/stocktake';
import type { ShelfView } from '../stock/views/shelf';
import type { Actor, House } from './use-case';

interface OfShelf {
  readonly shelfId: string | undefined;
}

export async function shelvesNow(house: House): Promise<ShelfView[]> {
  const standing = await house.ask({ ask: 'shelves' });
  return standing.map((shelf) => ({ ...shelf, stocktake: house.stocktakes.get(shelf.id)?.progress ?? null }));
}

/** Looks for drives at once, here and in the thread that answers for them. */
async function lookAtDrives(house: House): Promise<void> {
  await house.ask({ ask: 'drives', anew: true });
  house.mounts.reload();
  house.mounts.lookAgain();
}

function shelfOf(house: House, id: string | undefined): ShelfRow {
  const shelf = house.catalogue.shelves.get(id ?? '');
  if (!shelf) throw notFound('shelf');
  return shelf;
}

export async function addShelf(house: House, _actor: Actor, input: NewShelf): Promise<{ id: string; name: string }> {
  const { id, name } = registerShelf(house.catalogue, house.mounts, input.path, input.name, input.ownIdentity);
  await lookAtDrives(house);
  house.changed('drives');
  return { id, name };
}

export function renameShelf(house: House, _actor: Actor, { shelfId, name }: OfShelf & { readonly name: string }): void {
  const shelf = shelfOf(house, shelfId);
  house.catalogue.shelves.put(shelf.id, name.trim(), shelf.registeredAt);
  house.changed('drives');
}

/** Takes the shelf off the list; its files, its marker and what links it stay. Registered again, all is as before. */
export async function removeShelf(house: House, _actor: Actor, { shelfId }: OfShelf): Promise<void> {
  const shelf = shelfOf(house, shelfId);
  const run = house.catalogue.runs.unfinishedOn(shelf.id);
  if (run !== null) throw new Problem('busy', `Run ${run} uses ${shelf.name} just now.`, 'Cancel it or wait for its end.');
  await house.stopStocktake(shelf.id);
  house.catalogue.shelves.retire(shelf.id, new Date().toISOString());
  house.changed('drives');
}

/** Begins a stocktake, or gives the one that is going on. */
export async function startStocktake(house: House, _actor: Actor, { shelfId }: OfShelf): Promise<StocktakeProgress> {
  const shelf = shelfOf(house, shelfId);
  await lookAtDrives(house);
  const root = house.mounts.rootOf(shelf.id);
  if (root === null) throw new Problem('unplugged', `${shelf.name} is not plugged in.`, 'Plug it in, then take stock.');
  return house.startStocktake(shelf.id, root);
}

function stocktakeOf(house: House, shelfId: string | undefined) {
  const entry = house.stocktakes.get(shelfId ?? '');
  if (!entry) throw notFound('stocktake');
  return entry;
}

/** `atEnd`: when it is over. */
export async function stocktakeNow(house: House, { shelfId, atEnd }: OfShelf & { readonly atEnd: boolean }): Promise<StocktakeProgress> {
  const entry = stocktakeOf(house, shelfId);
  if (atEnd) await entry.done;
  return entry.progress;
}

export function cancelStocktake(house: House, _actor: Actor, { shelfId }: OfShelf): void {
  stocktakeOf(house, shelfId).abort.abort();
}

export async function setPlugged(
  house: House,
  _actor: Actor,
  { drive, plugged }: { readonly drive: string | undefined; readonly plugged: boolean },
): Promise<void> {
  if (!house.bay?.setPlugged(drive ?? '', plugged)) throw notFound('drive in the simulated bay');
  await lookAtDrives(house);
  house.changed('drives');
}
