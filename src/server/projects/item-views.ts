/** Lists of items, of one shelf or of all. */
import { placeKey } from '../../core/media/item';
import type { Window } from '../../core/lists/list-window';
import { partName } from '../../core/project/part-name';
import type { Catalogue } from '../catalogue/catalogue';
import { ITEM_SORTS, type ItemQuestion } from '../catalogue/item-window';
import { notFound } from '../errors/problem';
import type { ListedItem } from '../stock/views/item';

export type ItemQuery = ItemQuestion;

type ItemSort = keyof typeof ITEM_SORTS;
export const ITEM_ORDERS = Object.keys(ITEM_SORTS) as [ItemSort, ...ItemSort[]];

/** Of a shelf, or of all that are listed. Files that hold a part of a clip's source say which. Throws Problem for a shelf that is not there. */
export function itemWindow(catalogue: Catalogue, shelfId: string | null, query: ItemQuery): Window<ListedItem> {
  if (shelfId !== null && !catalogue.shelves.get(shelfId)) throw notFound('shelf');
  const { rows, ...window } = catalogue.items.window(shelfId, query);
  const parts = catalogue.parts.partsAt(rows.map(({ place }) => place));
  return {
    ...window,
    rows: rows.map((item) => {
      const part = parts.get(placeKey(item.place));
      return part ? { ...item, partOf: partName(part.clip, item.facts, part.range) } : item;
    }),
  };
}
