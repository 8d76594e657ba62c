/** Ticking many rows: one by one, or all between the last one ticked and this one. */
import { useRef } from 'react';

export interface Ticks<Row> {
  readonly ticked: ReadonlySet<string>;
  /** `rows`: those of the ticked that were ticked here, come into sight or not: what is ticked is what is acted on. */
  readonly onTick: (keys: ReadonlySet<string>, rows: readonly Row[]) => void;
  /** What a tick does, for people who do not see it: "Tick Bell". */
  readonly words: (row: Row) => string;
}

interface Rows<Row> {
  readonly rowKey: (row: Row) => string;
  /** A row by its index; undefined where it has not come. */
  readonly rowAt: (index: number) => Row | undefined;
  /** Rows by their indexes, both inclusive; fetches what has not come. */
  readonly rowsIn: (first: number, last: number) => Promise<readonly Row[]>;
}

export function useTicks<Row>({ ticked, onTick }: Pick<Ticks<Row>, 'ticked' | 'onTick'>, { rowKey, rowAt, rowsIn }: Rows<Row>) {
  const anchor = useRef<{ readonly index: number; readonly key: string } | null>(null);
  const known = useRef(new Map<string, Row>());
  const keyAt = (index: number): string | undefined => {
    const row = rowAt(index);
    return row === undefined ? undefined : rowKey(row);
  };
  // Rows may be fetched while others are ticked already: what comes late is put to what is there then.
  const now = useRef(ticked);
  now.current = ticked;
  const set = (rows: readonly Row[], isTicked: boolean) => {
    const next = new Set(now.current);
    for (const row of rows) {
      const key = rowKey(row);
      known.current.set(key, row);
      if (isTicked) next.add(key);
      else next.delete(key);
    }
    for (const key of known.current.keys()) if (!next.has(key)) known.current.delete(key);
    now.current = next;
    onTick(next, [...known.current.values()]);
  };
  const newest = useRef(keyAt);
  newest.current = keyAt;
  /** What is fetched for a list that is another by the time it comes is not ticked. */
  const setFetched = async (first: number, last: number, isTicked: boolean) => {
    const begin = keyAt(first);
    const rows = await rowsIn(first, last);
    if (newest.current(first) === undefined || newest.current(first) === begin) set(rows, isTicked);
  };
  const setOut = (index: number) => {
    const key = keyAt(index);
    if (key !== undefined) anchor.current = { index, key };
  };
  return {
    setOut,
    toggle(index: number) {
      setOut(index);
      const row = rowAt(index);
      if (row !== undefined) set([row], !ticked.has(rowKey(row)));
    },
    /** All between where it was set out from and this one become ticked, or as that one is. */
    async reach(index: number, how: 'ticked' | 'as it is') {
      // In a list that is another by now there is nowhere to come from.
      if (anchor.current === null || keyAt(anchor.current.index) !== anchor.current.key) setOut(index);
      const from = anchor.current;
      if (!from) return;
      const isTicked = how === 'ticked' || from.index === index || ticked.has(from.key);
      await setFetched(Math.min(from.index, index), Math.max(from.index, index), isTicked);
    },
    async all(count: number) {
      if (count > 0) await setFetched(0, count - 1, true);
    },
  };
}
