/** A part of the list of a shelf, or (null) of all that are listed: filtered, sorted and counted here, so that nothing is sent that nobody looks at. */
import type { Item } from '../../core/media/item';
import { filterWords } from '../../core/words/filter-words';
import type { Db } from './db';
import { itemFromRaw, OWN_COLUMNS, type RawItem } from './item-row';

/** By what a list can be sorted, and the column that holds it. */
export const ITEM_SORTS = {
  path: 'sort_path',
  name: 'name_key',
  codec: 'codec',
  picture: 'width',
  rate: 'fps',
  length: 'seconds',
  start: 'start_seconds',
  reel: 'reel_key',
  size: 'size_bytes',
} as const;

/**
 * Parts of the stock. `duplicates`: another file on the shelves of the list is equal to it in every byte; `spare`: media that no clip of
 * any project reads or could miss: neither it, nor what has its content, its samples or its name; `broken`: damaged, or it cannot be read.
 */
export const AMONG = {
  duplicates: `content IS NOT NULL AND EXISTS (SELECT 1 FROM items o WHERE o.content = items.content AND o.rowid <> items.rowid AND o.gone_at IS NULL
    AND o.shelf_id IN (SELECT id FROM shelves WHERE retired_at IS NULL))`,
  spare: `kind <> 'other' AND NOT EXISTS (SELECT 1 FROM links l WHERE l.shelf_id = items.shelf_id AND l.path = items.path)
    AND (content IS NULL OR NOT EXISTS (SELECT 1 FROM links l WHERE l.content = items.content))
    AND coalesce(fingerprint NOT IN (SELECT fingerprint FROM links WHERE fingerprint IS NOT NULL), 1)
    AND coalesce(name_key NOT IN (SELECT lower(name) FROM links WHERE name IS NOT NULL), 1)`,
  broken: 'problem IS NOT NULL OR damage IS NOT NULL',
} as const;
export type Among = keyof typeof AMONG;

export interface ItemQuestion {
  /** Every word must stand somewhere in path, reel, codec or kind. */
  readonly filter: string;
  readonly sort: keyof typeof ITEM_SORTS;
  readonly down: boolean;
  /** Only media, or only names with one of these endings (in small letters); null lists everything. */
  readonly only: 'media' | readonly string[] | null;
  /** Only this part of the stock; absent: all of it. */
  readonly among?: Among;
  readonly limit: number;
  readonly offset: number;
}

export function itemWindow(
  db: Db,
  shelfId: string | null,
  { filter, sort, down, only, among, limit, offset }: ItemQuestion,
): { total: number; rows: Item[] } {
  const words = filterWords(filter);
  const values = { shelfId, words: JSON.stringify(words), endings: JSON.stringify(Array.isArray(only) ? only : []), limit, offset };
  const tests = [
    `shelf_id ${shelfId === null ? 'IN (SELECT id FROM shelves WHERE retired_at IS NULL)' : '= @shelfId'} AND gone_at IS NULL`,
    ...(words.length > 0 ? ['NOT EXISTS (SELECT 1 FROM json_each(@words) w WHERE instr(words, w.value) = 0)'] : []),
    ...(among ? [`(${AMONG[among]})`] : []),
    ...(only === 'media' ? ["kind <> 'other'"] : []),
    ...(Array.isArray(only) ? ['EXISTS (SELECT 1 FROM json_each(@endings) e WHERE substr(name_key, -length(e.value)) = e.value)'] : []),
  ];
  const column = ITEM_SORTS[sort];
  const direction = down ? 'DESC' : 'ASC';
  // Without a filter the list is in the index of its order; with one, few rows are left to be sorted.
  const by = words.length > 0 ? 'INDEXED BY items_by_words' : column === 'sort_path' ? 'INDEXED BY items_by_sort_path' : '';
  const where = `FROM items ${by} WHERE ${tests.join(' AND ')}`;
  const total = db.prepare(`SELECT count(*) ${where}`).pluck().get(values) as number;
  const rows = db
    .prepare(
      `SELECT ${OWN_COLUMNS} FROM items WHERE rowid IN (SELECT rowid ${where} ORDER BY ${column} ${direction}, path ${direction} LIMIT @limit OFFSET @offset)
       ORDER BY ${column} ${direction}, path ${direction}`,
    )
    .all(values) as RawItem[];
  return { total, rows: rows.map(itemFromRaw) };
}

export interface Counted {
  readonly files: number;
  readonly bytes: number;
}

/** How many files of a shelf are in each part of the stock, and their bytes. */
export function countAmong(db: Db, shelfId: string): Readonly<Record<Among, Counted>> {
  const counts = Object.entries(AMONG).map(([among, test]): [string, Counted] => [
    among,
    db
      .prepare(`SELECT count(*) AS files, coalesce(sum(size_bytes), 0) AS bytes FROM items WHERE shelf_id = ? AND gone_at IS NULL AND (${test})`)
      .get(shelfId) as Counted,
  ]);
  return Object.fromEntries(counts) as Record<Among, Counted>;
}
