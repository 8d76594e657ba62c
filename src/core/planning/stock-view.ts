/** The stock of a snapshot, looked up by place and by id. */
import { placeKey, type Item, type Place } from '../media/item';
import type { Stock } from '../project/clip';
import type { ShelfSnapshot, Snapshot } from './plan';

export class StockView implements Stock {
  private readonly byPlace = new Map<string, Item>();
  private readonly byId = new Map<string, Item>();
  private readonly shelves = new Map<string, ShelfSnapshot>();

  private readonly retired: ReadonlyMap<string, string>;

  constructor(snapshot: Pick<Snapshot, 'items' | 'shelves' | 'retiredShelves'>) {
    this.retired = snapshot.retiredShelves ?? new Map();
    for (const item of snapshot.items) {
      this.byPlace.set(placeKey(item.place), item);
      this.byId.set(item.id, item);
    }
    for (const shelf of snapshot.shelves) this.shelves.set(shelf.id, shelf);
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

  shelfName(shelfId: string): string {
    const retired = this.retired.get(shelfId);
    return this.shelves.get(shelfId)?.name ?? (retired === undefined ? 'an unknown shelf' : `${retired} (off the list)`);
  }
}
