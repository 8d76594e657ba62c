/** The stock of a snapshot, looked up by place and by id. */
import { isWithin } from '../../naming/within';
import { placeKey, type Item, type Place } from '../../media/item';
import type { Stock } from '../../project/clip';
import { READ_AT_FIRST, type ReadOrder } from '../../rendition/read-order';
import { shelfNameIn, type ShelfSnapshot, type Snapshot } from './snapshot';

interface Index {
  readonly byPlace: ReadonlyMap<string, Item>;
  readonly byId: ReadonlyMap<string, Item>;
}

/** Lists of items never change: each is gone through once. */
const indexes = new WeakMap<readonly Item[], Index>();

function indexOf(items: readonly Item[]): Index {
  const known = indexes.get(items);
  if (known) return known;
  const made = { byPlace: new Map(items.map((item) => [placeKey(item.place), item])), byId: new Map(items.map((item) => [item.id, item])) };
  indexes.set(items, made);
  return made;
}

type Known = Pick<Snapshot, 'items' | 'shelves' | 'retiredShelves' | 'sealed'> & { readonly project?: Pick<Snapshot['project'], 'readOrder'> };

const views = new WeakMap<readonly Item[], Map<string, StockView>>();

/** The stock of a snapshot; the same object while neither items nor shelves are others, so that what was told of it holds. */
export function stockOf(snapshot: Known): StockView {
  const { items, shelves, retiredShelves, project } = snapshot;
  const key = JSON.stringify([
    shelves.map(({ id, name, attached }) => [id, name, attached]),
    [...(retiredShelves ?? [])],
    project?.readOrder ?? null,
    snapshot.sealed ?? [],
  ]);
  const own = views.get(items) ?? new Map<string, StockView>();
  views.set(items, own);
  const view = own.get(key) ?? new StockView(snapshot);
  own.set(key, view);
  return view;
}

export class StockView implements Stock {
  readonly readOrder: ReadOrder;
  private readonly byPlace: ReadonlyMap<string, Item>;
  private readonly byId: ReadonlyMap<string, Item>;
  private readonly shelves = new Map<string, ShelfSnapshot>();

  constructor(private readonly known: Known) {
    this.readOrder = known.project?.readOrder ?? READ_AT_FIRST;
    ({ byPlace: this.byPlace, byId: this.byId } = indexOf(known.items));
    for (const shelf of known.shelves) this.shelves.set(shelf.id, shelf);
  }

  isAttached(shelfId: string): boolean {
    return this.shelves.get(shelfId)?.attached ?? false;
  }

  itemAt(place: Place): Item | null {
    return this.byPlace.get(placeKey(place)) ?? null;
  }

  item(id: string): Item | null {
    return this.byId.get(id) ?? null;
  }

  /** Name of the sealed package that a place lies in; null outside of any. */
  crateAround({ shelfId, path }: Place): string | null {
    return this.known.sealed?.find(({ place }) => place.shelfId === shelfId && isWithin(path, place.path))?.name ?? null;
  }

  shelfName(shelfId: string): string {
    return shelfNameIn(this.known, shelfId);
  }
}
