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

/** Words that a row must all hold, in small letters; none leaves everything. */
export function filterWords(filter: string): string[] {
  return filter.normalize('NFC').toLowerCase().split(/\s+/).filter((word) => word !== ''); // prettier-ignore
}

export function fits(words: readonly string[], text: string): boolean {
  const small = words.length === 0 ? '' : text.normalize('NFC').toLowerCase();
  return words.every((word) => small.includes(word));
}

/** The part of a list that is asked for. */
export function cutOut<Row>(rows: readonly Row[], { limit, offset }: Pick<WindowQuery<string>, 'limit' | 'offset'>): Window<Row> {
  return { total: rows.length, rows: rows.slice(offset, offset + limit) };
}
