/** Items by what timelines tell of them, many sources at once: by names, by reels, by timecode. */
import { isWithin } from '../../core/naming/within';
import type { KeyRange, WiderAsked } from '../../core/matching/tells';
import type { Item, Place } from '../../core/media/item';
import type { Db } from './db';
import { itemFromRaw, OWN_COLUMNS, type RawItem } from './item-row';

/** Of a key so many files are looked at, or as many on either side of when the source is read and as many without timecode. */
const MOST_OF_A_KEY = 40;
/** Of names with something added. */
const MOST_ADDED = 12;
/** Entries of the index that are gone through for them: names that begin alike may be many. */
const MOST_LOOKED_AT = 400;
/** Files looked at that began before, for what is told by its timecode alone. */
const MOST_BY_TIME = 40;
/** No file lasts longer than that, as far as it is found by nothing but its timecode. */
const LONGEST_SECONDS = 4 * 3600;

/** `aroundSeconds`: seconds of timecode at which it is read first; null where nothing reads it. */
export interface NameWish {
  readonly key: string;
  readonly names: readonly string[];
  readonly aroundSeconds: number | null;
}

/** `byReelAlone`: files without timecode too are found by the reel, since nothing else is told. */
export interface WiderWish extends NameWish, WiderAsked {
  readonly byReelAlone: boolean;
}

export interface FoundByTells {
  readonly items: readonly Item[];
  /** More answer to its names, or to its reels, than were looked at. */
  readonly isCut: { readonly names: boolean; readonly reels: boolean };
}

/** Rows of items that answer to something, and whether there are more. */
interface Entries {
  readonly rows: readonly number[];
  readonly isCut: boolean;
}

const STANDING = `i.gone_at IS NULL AND i.shelf_id IN (SELECT value FROM json_each(@shelves))
  AND (@from IS NULL OR (i.path >= @from AND i.path < @to) OR i.path = @own)`;

export class TellFinder {
  /** By row; null for what stands elsewhere than is looked, or no more. */
  private readonly known = new Map<number, Item | null>();
  private readonly entries = new Map<string, Entries>();
  private readonly shelves: ReadonlySet<string>;
  private readonly where;
  private readonly statements;

  /** `shelfIds`: where to look; `scope`: a shelf or a folder on it, null for all of them. */
  constructor(
    db: Db,
    shelfIds: readonly string[],
    private readonly scope: Place | null,
  ) {
    const within =
      scope && scope.path !== '' ? { from: `${scope.path}/`, to: `${scope.path}0`, own: scope.path } : { from: null, to: null, own: null };
    this.shelves = new Set(scope ? shelfIds.filter((id) => id === scope.shelfId) : shelfIds);
    this.where = { shelves: JSON.stringify([...this.shelves]), ...within };
    const near = (when: string) =>
      db.prepare(`SELECT t.item FROM item_tells t JOIN items i ON i.rowid = t.item WHERE t.key = @key AND ${when} LIMIT ${MOST_OF_A_KEY}`).pluck();
    this.statements = {
      ofKey: db.prepare(`SELECT item FROM item_tells WHERE key = ? LIMIT ${MOST_OF_A_KEY + 1}`).pluck(),
      earlier: near(`t.start_seconds >= 0 AND t.start_seconds <= @around AND ${STANDING} ORDER BY t.start_seconds DESC`),
      later: near(`t.start_seconds > max(@around, -0.5) AND ${STANDING} ORDER BY t.start_seconds`),
      untimed: near(`t.start_seconds = -1 AND ${STANDING}`),
      range: db.prepare(`SELECT key, item FROM item_tells WHERE key >= ? AND key < ? LIMIT ${MOST_LOOKED_AT}`).raw(),
      row: db.prepare(`SELECT ${OWN_COLUMNS}, gone_at FROM items WHERE rowid = ?`),
      byTime: db
        .prepare(
          `SELECT i.rowid FROM items i INDEXED BY items_by_start WHERE i.start_seconds <= @around AND i.start_seconds > @earliest
           AND i.start_seconds + coalesce(i.seconds, 0) > @around AND i.start_seconds IS NOT NULL AND ${STANDING} ORDER BY i.start_seconds DESC LIMIT ${MOST_BY_TIME}`,
        )
        .pluck(),
    };
  }

  /** By key of the wishes: files that have one of the names. */
  named(wishes: readonly NameWish[]): Map<string, FoundByTells> {
    return this.found(wishes, (wish) => ({ names: this.ofKeys(wish.names, wish.aroundSeconds), reels: NONE }));
  }

  /** By key of the wishes: files that have a name with something added or without, or answer to one of the reels. */
  wider(wishes: readonly WiderWish[]): Map<string, FoundByTells> {
    return this.found(wishes, ({ names, added, reels, byReelAlone, aroundSeconds }) => {
      const bare = this.ofKeys(names, aroundSeconds);
      return {
        names: { rows: [...bare.rows, ...this.withAdded(added)], isCut: bare.isCut },
        reels: byReelAlone
          ? this.ofKeys(reels, aroundSeconds)
          : { rows: reels.flatMap((key) => this.near('earlier', key, aroundSeconds)), isCut: false },
      };
    });
  }

  /** Files whose timecode holds this moment, the latest begun first. */
  at(aroundSeconds: number): Item[] {
    const rows = this.statements.byTime.all({ ...this.where, around: aroundSeconds, earliest: aroundSeconds - LONGEST_SECONDS }) as number[];
    return rows.flatMap((row) => this.itemOf(row) ?? []);
  }

  private found<W extends NameWish>(wishes: readonly W[], look: (wish: W) => { names: Entries; reels: Entries }): Map<string, FoundByTells> {
    const looked = wishes.map((wish) => ({ key: wish.key, ...look(wish) }));
    // Neighbours in the table are read one after the other.
    const rows = new Set(looked.flatMap(({ names, reels }) => [...names.rows, ...reels.rows]));
    for (const row of [...rows].sort((a, b) => a - b)) this.itemOf(row);
    return new Map(
      looked.map(({ key, names, reels }): [string, FoundByTells] => {
        const items = [...new Set([...names.rows, ...reels.rows])].flatMap((row) => this.itemOf(row) ?? []);
        return [key, { items, isCut: { names: names.isCut, reels: reels.isCut } }];
      }),
    );
  }

  private ofKeys(keys: readonly string[], aroundSeconds: number | null): Entries {
    const all = keys.map((key) => this.ofKey(key, aroundSeconds));
    return { rows: all.flatMap(({ rows }) => rows), isCut: all.some(({ isCut }) => isCut) };
  }

  /** Of many files those that begin about when the source is read. What begins later does not hold it: it is there to compare. */
  private ofKey(key: string, aroundSeconds: number | null): Entries {
    const known = this.entries.get(key) ?? { rows: this.statements.ofKey.all(key) as number[], isCut: false };
    this.entries.set(key, known);
    if (known.rows.length <= MOST_OF_A_KEY) return known;
    const crowd = `${Math.floor(aroundSeconds ?? 0)} ${key}`;
    const crowded = this.entries.get(crowd);
    if (crowded) return crowded;
    const [earlier, later, untimed] = (['earlier', 'later', 'untimed'] as const).map((part) => this.near(part, key, aroundSeconds)) as [
      number[],
      number[],
      number[],
    ];
    const made = { rows: [...earlier, ...later, ...untimed], isCut: earlier.length >= MOST_OF_A_KEY || untimed.length >= MOST_OF_A_KEY };
    this.entries.set(crowd, made);
    return made;
  }

  private near(part: 'earlier' | 'later' | 'untimed', key: string, aroundSeconds: number | null): number[] {
    const { earlier, later, untimed } = this.statements;
    const own = { ...this.where, key };
    if (part === 'untimed') return untimed.all(own) as number[];
    return (part === 'earlier' ? earlier : later).all({ ...own, around: Math.floor(aroundSeconds ?? 0) }) as number[];
  }

  /** One look at all that begins alike tells it, unless that is much. */
  private withAdded(ranges: readonly KeyRange[]): number[] {
    const stems = new Set(ranges.map(({ stem }) => stem));
    return [...stems].flatMap((stem) => {
      const own = ranges.filter((range) => range.stem === stem);
      const all = this.statements.range.all(stem, `${stem}\uffff`) as [string, number][];
      const looked = all.length < MOST_LOOKED_AT ? all : own.flatMap(({ from, to }) => this.statements.range.all(from, to) as [string, number][]);
      const fits = looked.filter(([key]) => own.some(({ from, to, length }) => key.length === length && key >= from && key < to));
      return fits.map(([, row]) => row).slice(0, MOST_ADDED * own.length);
    });
  }

  /** The same object for the same item. */
  private itemOf(row: number): Item | null {
    const known = this.known.get(row);
    if (known !== undefined) return known;
    const raw = this.statements.row.get(row) as (RawItem & { gone_at: string | null }) | undefined;
    const item = raw && raw.gone_at === null && this.isLookedAt(raw) ? itemFromRaw(raw) : null;
    this.known.set(row, item);
    return item;
  }

  private isLookedAt({ shelf_id, path }: RawItem): boolean {
    const { scope, shelves } = this;
    return shelves.has(shelf_id) && (!scope || isWithin(path, scope.path));
  }
}

const NONE: Entries = { rows: [], isCut: false };
