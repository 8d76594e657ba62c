/** Lists come in windows: what is looked at, out of how much. */

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
