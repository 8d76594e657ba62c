/** Items by what timelines tell of them, many sources at once: by names, by reels, by timecode. */
import type { Item, Place } from '../../core/media/item';
import type { Asked } from '../../core/matching/tells';
import type { Db } from './db';
import { itemFromRaw, OWN_COLUMNS, type RawItem } from './item-row';

/** Of a key so many files are looked at on either side of when the source is read, and so many without timecode. */
const MOST_OF_A_KEY = 40;
/** Of names with something added. */
const MOST_ADDED = 12;
/** Entries of the index that are gone through for them: names that begin alike may be many. */
const MOST_LOOKED_AT = 400;
/** Files looked at that began before, for what is told by its timecode alone. */
const MOST_BY_TIME = 40;
/** No file lasts longer than that, as far as it is found by nothing but its timecode. */
const LONGEST_SECONDS = 4 * 3600;
/** So many sources are asked for in one question. */
const BATCH = 1_000;

export interface TellWish {
  readonly key: string;
  readonly asked: Asked;
  /** Seconds of timecode at which it is read first; null where nothing reads it. */
  readonly aroundSeconds: number | null;
}

export interface FoundByTells {
  readonly items: readonly Item[];
  /** More answer to its names, or to its reels, than were looked at. */
  readonly isCut: { readonly names: boolean; readonly reels: boolean };
}

const STANDING = `i.gone_at IS NULL AND i.shelf_id IN (SELECT value FROM json_each(@shelves))
  AND (@from IS NULL OR (i.path >= @from AND i.path < @to) OR i.path = @own)`;

/** Which of the questions by key asks for what begins after the source is read. */
const LATER = 1;

/** Entries of a key: `when` bounds and orders them. */
function ofKey(when: string): string {
  return `SELECT t.item FROM item_tells t JOIN items i ON i.rowid = t.item WHERE t.key = w.key AND ${when} LIMIT ${MOST_OF_A_KEY}`;
}

export class TellFinder {
  private readonly known = new Map<string, Item>();
  private readonly where;
  private readonly byKey;
  private readonly added;
  private readonly byTime;

  /** `shelfIds`: where to look; `scope`: a shelf or a folder on it, null for all of them. */
  constructor(db: Db, shelfIds: readonly string[], scope: Place | null) {
    const within =
      scope && scope.path !== '' ? { from: `${scope.path}/`, to: `${scope.path}0`, own: scope.path } : { from: null, to: null, own: null };
    this.where = { shelves: JSON.stringify(scope ? shelfIds.filter((id) => id === scope.shelfId) : shelfIds), ...within };
    const columns = OWN_COLUMNS.split(', ').map((column) => `i.${column}`).join(', '); // prettier-ignore
    const asks = `WITH w AS MATERIALIZED (SELECT value ->> 0 AS ask, value ->> 1 AS key, value ->> 2 AS around FROM json_each(@asks))`;
    const select = (entries: string) => `SELECT w.ask, ${columns} FROM w JOIN items i ON i.rowid IN (SELECT item FROM (${entries}))`;
    this.byKey =
      [`t.start_seconds >= 0 AND t.start_seconds <= w.around AND ${STANDING} ORDER BY t.start_seconds DESC`, `t.start_seconds > max(w.around, -0.5) AND ${STANDING} ORDER BY t.start_seconds`, `t.start_seconds = -1 AND ${STANDING}`] // prettier-ignore
        .map((when) => db.prepare(`${asks} ${select(ofKey(when))}`).raw());
    this.added = db
      .prepare(
        `WITH w AS MATERIALIZED (SELECT value ->> 0 AS ask, value ->> 1 AS low, value ->> 2 AS high, value ->> 3 AS length FROM json_each(@asks))
         ${select(`SELECT t.item FROM (SELECT item, key FROM item_tells WHERE key >= w.low AND key < w.high LIMIT ${MOST_LOOKED_AT}) t JOIN items i ON i.rowid = t.item
           WHERE length(t.key) = w.length AND ${STANDING} LIMIT ${MOST_ADDED}`)}`,
      )
      .raw();
    this.byTime = db
      .prepare(
        `SELECT ${columns} FROM items i INDEXED BY items_by_start WHERE i.start_seconds <= @around AND i.start_seconds > @earliest
         AND i.start_seconds + coalesce(i.seconds, 0) > @around AND i.start_seconds IS NOT NULL AND ${STANDING} ORDER BY i.start_seconds DESC LIMIT ${MOST_BY_TIME}`,
      )
      .raw();
  }

  /** By key of the wishes. */
  find(wishes: readonly TellWish[]): Map<string, FoundByTells> {
    const found = new Map<string, FoundByTells>();
    for (let from = 0; from < wishes.length; from += BATCH) this.findSome(wishes.slice(from, from + BATCH), found);
    return found;
  }

  /** Files whose timecode holds this moment, the latest begun first. */
  at(aroundSeconds: number): Item[] {
    const rows = this.byTime.all({ ...this.where, around: aroundSeconds, earliest: aroundSeconds - LONGEST_SECONDS }) as unknown[][];
    return rows.map((row) => this.itemOf(row, 0));
  }

  private findSome(wishes: readonly TellWish[], found: Map<string, FoundByTells>): void {
    const items = wishes.map(() => new Set<Item>());
    const cut = wishes.map(() => ({ names: false, reels: false }));
    const asks = { names: asksOf(wishes, 'names'), reels: asksOf(wishes, 'reels') };
    for (const kind of ['names', 'reels'] as const) {
      const own = asks[kind];
      if (own.rows.length === 0) continue;
      for (const [part, statement] of this.byKey.entries()) {
        const counts = new Map<number, number>();
        for (const row of statement.all({ ...this.where, asks: JSON.stringify(own.rows) }) as unknown[][]) {
          const ask = row[0] as number;
          const item = this.itemOf(row, 1);
          for (const wish of own.wishes[ask]!) items[wish]!.add(item);
          const count = (counts.get(ask) ?? 0) + 1;
          counts.set(ask, count);
          // What begins later does not hold what is read: it is looked at for comparison.
          if (part !== LATER && count >= MOST_OF_A_KEY) for (const wish of own.wishes[ask]!) cut[wish]![kind] = true;
        }
      }
    }
    const ranges = wishes.flatMap(({ asked }, index) => asked.added.map(({ from, to, length }) => [index, from, to, length] as const));
    if (ranges.length > 0)
      for (const row of this.added.all({ ...this.where, asks: JSON.stringify(ranges) }) as unknown[][])
        items[row[0] as number]!.add(this.itemOf(row, 1));
    wishes.forEach(({ key }, index) => found.set(key, { items: [...items[index]!], isCut: cut[index]! }));
  }

  /** The same object for the same item. */
  private itemOf(row: readonly unknown[], from: number): Item {
    const id = row[from] as string;
    const known = this.known.get(id);
    if (known) return known;
    const raw = Object.fromEntries(OWN_COLUMNS.split(', ').map((column, index) => [column, row[from + index]])) as unknown as RawItem;
    const item = itemFromRaw(raw);
    this.known.set(id, item);
    return item;
  }
}

/** Each key once for each moment it is asked for, and the wishes that ask. */
function asksOf(wishes: readonly TellWish[], kind: 'names' | 'reels') {
  const numbers = new Map<string, number>();
  const rows: [number, string, number][] = [];
  const owners: number[][] = [];
  wishes.forEach(({ asked, aroundSeconds }, index) => {
    for (const key of new Set(asked[kind])) {
      const around = Math.floor(aroundSeconds ?? 0);
      const ask = `${around} ${key}`;
      const known = numbers.get(ask);
      if (known !== undefined) {
        owners[known]!.push(index);
        continue;
      }
      numbers.set(ask, rows.length);
      rows.push([rows.length, key, around]);
      owners.push([index]);
    }
  });
  return { rows, wishes: owners };
}
