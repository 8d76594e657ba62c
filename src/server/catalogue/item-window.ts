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

export interface ItemQuestion {
  /** Every word must stand somewhere in path, reel, codec or kind. */
  readonly filter: string;
  readonly sort: keyof typeof ITEM_SORTS;
  readonly down: boolean;
  /** Only media, or only names with one of these endings (in small letters); null lists everything. */
  readonly only: 'media' | readonly string[] | null;
  readonly limit: number;
  readonly offset: number;
}

export function itemWindow(
  db: Db,
  shelfId: string | null,
  { filter, sort, down, only, limit, offset }: ItemQuestion,
): { total: number; rows: Item[] } {
  const words = filterWords(filter);
  const values = { shelfId, words: JSON.stringify(words), endings: JSON.stringify(Array.isArray(only) ? only : []), limit, offset };
  const tests = [
    `shelf_id ${shelfId === null ? 'IN (SELECT id FROM shelves WHERE retired_at IS NULL)' : '= @shelfId'} AND gone_at IS NULL`,
    ...(words.length > 0 ? ['NOT EXISTS (SELECT 1 FROM json_each(@words) w WHERE instr(words, w.value) = 0)'] : []),
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
