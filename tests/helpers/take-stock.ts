/** Looks through a shelf at once, here: as a run does in its thread. */
import type { House } from '../../src/server/house';
import { newStocktaking, takeStock, type Stocktaking } from '../../src/server/stock/stocktake';

export async function stockNow({ catalogue, mounts }: House, shelfId: string): Promise<Stocktaking> {
  const progress = newStocktaking();
  const root = mounts.rootOf(shelfId)!;
  await takeStock(
    catalogue,
    { shelfId, root, stands: () => mounts.shelfAt(root) === shelfId },
    progress,
    () => undefined,
    new AbortController().signal,
  );
  return progress;
}
