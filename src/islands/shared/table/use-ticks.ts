/** Ticking many rows: one by one, or all between the last one ticked and this one. */
import { useRef } from 'react';

export interface Ticks<Row> {
  readonly ticked: ReadonlySet<string>;
  readonly onTick: (keys: ReadonlySet<string>) => void;
  /** What a tick does, for people who do not see it: "Tick Bell". */
  readonly words: (row: Row) => string;
}

interface Keys {
  /** Key of a row by its index; undefined where it has not come. */
  readonly keyAt: (index: number) => string | undefined;
  /** Keys of rows by their indexes, both inclusive; fetches what has not come. */
  readonly keysIn: (first: number, last: number) => Promise<readonly string[]>;
}

export function useTicks({ ticked, onTick }: Pick<Ticks<never>, 'ticked' | 'onTick'>, { keyAt, keysIn }: Keys) {
  const anchor = useRef<{ readonly index: number; readonly key: string } | null>(null);
  // Keys may be fetched while others are ticked already: what comes late is put to what is there then.
  const now = useRef(ticked);
  now.current = ticked;
  const set = (keys: readonly string[], isTicked: boolean) => {
    const next = new Set(now.current);
    for (const key of keys) {
      if (isTicked) next.add(key);
      else next.delete(key);
    }
    now.current = next;
    onTick(next);
  };
  const newest = useRef(keyAt);
  newest.current = keyAt;
  /** What is fetched for a list that is another by the time it comes is not ticked. */
  const setFetched = async (first: number, last: number, isTicked: boolean) => {
    const begin = keyAt(first);
    const keys = await keysIn(first, last);
    if (newest.current(first) === undefined || newest.current(first) === begin) set(keys, isTicked);
  };
  const setOut = (index: number) => {
    const key = keyAt(index);
    if (key !== undefined) anchor.current = { index, key };
  };
  return {
    setOut,
    toggle(index: number) {
      setOut(index);
      const key = keyAt(index);
      if (key !== undefined) set([key], !ticked.has(key));
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
