/** Shelves: put on the list, named, taken off; their stocktakes; drives of the simulated bay. */
import type { NewShelf, ShelfEdit } from '../../core/forms/shelf-forms';
import { NOTHING_COUNTED, planStocktake, stocktakeDigest } from '../../core/planning/stocktake/stocktake';
import type { ShelfRow } from '../catalogue/shelves';
import { notFound, Problem } from '../errors/problem';
import type { ShelfView, StocktakeView } from '../stock/views/shelf';
import type { Actor, House } from './use-case';

interface OfShelf {
  readonly shelfId: string | undefined;
}

export async function shelvesNow(house: House): Promise<ShelfView[]> {
  const standing = await house.ask({ ask: 'shelves' });
  return standing.map((shelf) => ({ ...shelf, stocktake: stocktakeView(house, shelf.id) }));
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
  const added = await house.ask({ ask: 'add-shelf', ...input });
  await lookAtDrives(house);
  house.changed('drives');
  return added;
}

/** No run that was planned before goes on under a kind that forbids it. */
export function editShelf(house: House, _actor: Actor, { shelfId, name, kind, record }: OfShelf & ShelfEdit): void {
  const shelf = shelfOf(house, shelfId);
  const { shelves, runs } = house.catalogue;
  const run = kind !== undefined && kind !== shelf.kind ? runs.unfinishedOn(shelf.id) : null;
  if (run !== null) throw new Problem('busy', `Run ${run} uses ${shelf.name} just now.`, 'Cancel it or wait for its end, then change the kind.');
  house.catalogue.transaction(() => {
    if (name !== undefined) shelves.put(shelf.id, name.trim(), shelf.registeredAt);
    if (kind !== undefined) shelves.setKind(shelf.id, kind);
    if (record !== undefined) shelves.note(shelf.id, record);
  });
  house.changed('drives');
}

/** Takes the shelf off the list; its files, its marker and what links it stay. Registered again, all is as before. */
export async function removeShelf(house: House, _actor: Actor, { shelfId }: OfShelf): Promise<void> {
  const shelf = shelfOf(house, shelfId);
  const run = house.catalogue.runs.unfinishedOn(shelf.id);
  if (run !== null) throw new Problem('busy', `Run ${run} uses ${shelf.name} just now.`, 'Cancel it or wait for its end.');
  await stopStocktake(house, shelf.id);
  house.catalogue.shelves.retire(shelf.id, new Date().toISOString());
  house.changed('drives');
}

/** Begins a stocktake; one that is going on looks again before it ends. */
export async function startStocktake(house: House, actor: Actor, { shelfId }: OfShelf): Promise<StocktakeView> {
  const shelf = shelfOf(house, shelfId);
  await lookAtDrives(house);
  if (house.mounts.rootOf(shelf.id) === null)
    throw new Problem('unplugged', `${shelf.name} is not plugged in.`, 'Plug it in, then look for changes.');
  await takeStockOf(house, actor, shelf);
  return stocktakeView(house, shelf.id)!;
}

/** Gives the number of the run, at whose end everything is known that was there when it was asked for. */
export async function takeStockOf({ catalogue, runner }: House, actor: Actor, { id, name }: Pick<ShelfRow, 'id' | 'name'>): Promise<number> {
  const digest = stocktakeDigest(id);
  for (;;) {
    const going = catalogue.runs.unfinishedWith(digest);
    if (going === null) return runner.submit(planStocktake(id, name), digest, actor);
    // One that is not gone on with yet begins anew when it is taken up.
    if (!runner.liveIds().includes(going) || catalogue.runs.step(going, 0).state === 'waiting' || runner.askAgain(going)) return going;
    await runner.finished(going);
  }
}

/** The stocktake of the shelf that goes on, or was the last; null where there was none. */
export function stocktakeView(house: House, shelfId: string): StocktakeView | null {
  const { runs } = house.catalogue;
  const runId = runs.lastStocktake(shelfId);
  if (runId === null) return null;
  const { state } = runs.get(runId)!;
  const { outcome, message } = runs.step(runId, 0);
  const figures = house.runner.progress(runId)?.figures ?? outcome?.stock ?? NOTHING_COUNTED;
  return { shelfId, runId, state, ...figures, message: state === 'failed' ? message : figures.message };
}

/** `atEnd`: when it is over. */
export async function stocktakeNow(house: House, { shelfId, atEnd }: OfShelf & { readonly atEnd: boolean }): Promise<StocktakeView> {
  const view = () => stocktakeView(house, shelfId ?? '');
  const now = view();
  if (!now) throw notFound('stocktake');
  if (atEnd) await house.runner.finished(now.runId);
  return view()!;
}

export function cancelStocktake(house: House, _actor: Actor, { shelfId }: OfShelf): void {
  const now = stocktakeView(house, shelfId ?? '');
  if (!now) throw notFound('stocktake');
  house.runner.cancel(now.runId);
}

async function stopStocktake({ catalogue, runner }: House, shelfId: string): Promise<void> {
  const going = catalogue.runs.unfinishedWith(stocktakeDigest(shelfId));
  if (going === null) return;
  runner.cancel(going);
  await runner.finished(going);
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
