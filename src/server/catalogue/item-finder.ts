/** Items that may be what a clip looks for, from the indexes: the same content, the name, the reel. */
import { canProve } from '../../core/media/fingerprint';
import type { Item, Place } from '../../core/media/item';
import type { Sharer } from '../../core/planning/evidence/proof';
import type { Found, Wanted } from '../../core/planning/relink/relink';
import { nameKey } from '../../core/naming/sort-key';
import type { Db } from './db';
import { itemFromRaw, OWN_COLUMNS, type RawItem } from './item-row';
import type { Items } from './items';

/** Of each kind of likeness so many are looked at; those alike in name and in size or length come before others of the name. */
const MOST_OF_A_KIND = 50;
/** How many items are kept for the clips that follow. */
const MOST_KNOWN = 2_000;
/** Of a reel, those that begin nearest before and after what is used. */
const MOST_OF_A_REEL = 20;

export class ItemFinder {
  private readonly shelves: string;
  private readonly known = new Map<string, Item>();
  private readonly sharers = new Map<string, readonly Sharer[]>();
  private readonly statements;

  /** `shelfIds`: where to look; `scope`: a shelf or a folder on it, null for all of them. */
  constructor(
    db: Db,
    private readonly items: Items,
    shelfIds: readonly string[],
    private readonly scope: Place | null,
  ) {
    this.shelves = JSON.stringify(scope ? shelfIds.filter((id) => id === scope.shelfId) : shelfIds);
    const ask = (index: string, where: string, order: string, limit: number) =>
      db.prepare(
        `SELECT ${OWN_COLUMNS} FROM items INDEXED BY ${index} WHERE ${where} AND gone_at IS NULL
         AND shelf_id IN (SELECT value FROM json_each(@shelves)) AND (@from IS NULL OR (path >= @from AND path < @to) OR path = @own)
         ${order} LIMIT ${limit}`,
      );
    this.statements = {
      print: ask('items_by_fingerprint', 'fingerprint = @key', '', MOST_OF_A_KIND),
      nameAndSize: ask('items_by_name', 'name_key = @key AND size_bytes = @count', '', MOST_OF_A_KIND),
      nameAndLength: ask('items_by_name_length', 'name_key = @key AND frames = @count', '', MOST_OF_A_KIND),
      name: ask('items_by_name', 'name_key = @key', '', MOST_OF_A_KIND),
      reelBefore: ask('items_by_reel', 'reel_key = @key AND start_seconds <= @count', 'ORDER BY start_seconds DESC', MOST_OF_A_REEL),
      reelAfter: ask('items_by_reel', 'reel_key = @key AND start_seconds > @count', 'ORDER BY start_seconds', MOST_OF_A_REEL),
      reelUntimed: ask('items_by_reel', 'reel_key = @key AND start_seconds IS NULL', '', MOST_OF_A_REEL),
    };
  }

  find(wanted: Wanted): Found {
    if (this.known.size > MOST_KNOWN) this.known.clear();
    if (this.sharers.size > MOST_KNOWN) this.sharers.clear();
    const items = this.itemsFor(wanted);
    const prints = items.flatMap(({ fingerprint }) => (fingerprint !== null && fingerprint === wanted.expected.fingerprint ? [fingerprint] : []));
    return { items, sharers: new Map([...new Set(prints)].map((print) => [print, this.sharersOf(print)])) };
  }

  private sharersOf(print: string): readonly Sharer[] {
    const known = this.sharers.get(print) ?? this.items.sharersOf(print);
    this.sharers.set(print, known);
    return known;
  }

  private itemsFor({ expected, aroundSeconds }: Wanted): Item[] {
    const { fingerprint, sizeBytes, durationFrames } = expected;
    const same = fingerprint === null ? [] : this.ask('print', fingerprint);
    // An equal fingerprint that proves is enough: names and reels need not be asked.
    if (same.some((item) => canProve(item.fingerprint!, item.facts.kind === 'sequence'))) return same;
    const name = expected.name === '' ? null : nameKey(expected.name);
    const reel = expected.reel?.toLowerCase() ?? null;
    const found = [
      ...same,
      ...(name !== null && sizeBytes !== null ? this.ask('nameAndSize', name, sizeBytes) : []),
      ...(name !== null && durationFrames !== null ? this.ask('nameAndLength', name, durationFrames) : []),
      ...(name !== null ? this.ask('name', name) : []),
      ...(reel !== null ? this.ask('reelBefore', reel, aroundSeconds ?? 0) : []),
      ...(reel !== null ? this.ask('reelAfter', reel, aroundSeconds ?? 0) : []),
      ...(reel !== null ? this.ask('reelUntimed', reel) : []),
    ];
    return [...new Set(found)];
  }

  private ask(what: keyof ItemFinder['statements'], key: string, count: number | null = null): Item[] {
    const { scope, shelves } = this;
    const within =
      scope && scope.path !== '' ? { from: `${scope.path}/`, to: `${scope.path}0`, own: scope.path } : { from: null, to: null, own: null };
    return (this.statements[what].all({ key, count, shelves, ...within }) as RawItem[]).map((raw) => this.itemOf(raw));
  }

  /** The same object for the same item: many clips may look at one. */
  private itemOf(raw: RawItem): Item {
    const known = this.known.get(raw.id) ?? itemFromRaw(raw);
    this.known.set(raw.id, known);
    return known;
  }
}
