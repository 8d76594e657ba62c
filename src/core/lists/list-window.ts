/** Lists come in windows: what is looked at, out of how much. */

import { sortKey } from '../naming/sort-key';

/** A part of a list: `total` is the length of the whole, as filtered. */
export interface Window<Row> {
  readonly total: number;
  readonly rows: readonly Row[];
}

export interface WindowQuery<Sort extends string> {
  readonly filter: string;
  readonly sort: Sort;
  readonly down: boolean;
  readonly limit: number;
  /** Rows before it are left out. */
  readonly offset: number;
}

/** The part of a list that is asked for. */
export function cutOut<Row>(rows: readonly Row[], { limit, offset }: Pick<WindowQuery<string>, 'limit' | 'offset'>): Window<Row> {
  return { total: rows.length, rows: rows.slice(offset, offset + limit) };
}

/** The same of rows in the order of their names, or of their bytes. */
export function cutInOrder<Row extends { readonly name: string }>(
  rows: readonly Row[],
  query: WindowQuery<'name' | 'size'>,
  bytesOf: (row: Row) => number = () => 0,
): Window<Row> {
  const sign = query.down ? -1 : 1;
  if (query.sort === 'size')
    return cutOut(
      [...rows].sort((a, b) => sign * (bytesOf(a) - bytesOf(b))),
      query,
    );
  const keys = new Map(rows.map((row) => [row, sortKey(row.name)]));
  const order = (a: Row, b: Row) => (keys.get(a)! < keys.get(b)! ? -1 : keys.get(a)! > keys.get(b)! ? 1 : 0);
  return cutOut(
    [...rows].sort((a, b) => sign * order(a, b)),
    query,
  );
}
