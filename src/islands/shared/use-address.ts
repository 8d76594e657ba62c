/** Where one is, in the address: going back, loading anew and links that are sent lead there. */
import { parseAsString, parseAsStringLiteral, useQueryState } from 'nuqs';

type Set<T> = (value: T) => void;

/** Places that are passed by arrow keys are none to come back to. */
const PASSING_MS = 900;
let wentAt = -Infinity;

/** A place one goes to: the way back leads to the one before. Null stands for the place one comes to by itself. */
export function useAddressPlace(key: string): [string | null, Set<string | null>] {
  const [value, set] = useQueryState(key, parseAsString);
  return [
    value,
    (next) => {
      const isPassing = performance.now() - wentAt < PASSING_MS;
      wentAt = performance.now();
      void set(next, { history: isPassing ? 'replace' : 'push' });
    },
  ];
}

/** One of a few views; the first is where one comes by itself. */
export function useAddressView<View extends string>(key: string, views: readonly [View, ...View[]]): [View, Set<View>] {
  const [value, set] = useQueryState(key, parseAsStringLiteral(views).withDefault(views[0]).withOptions({ history: 'push' }));
  return [value, (next) => void set(next)];
}

/** What is looked for or in hand: it changes with every key, and the way back passes it over. */
export function useAddressWord(key: string): [string | null, Set<string | null>] {
  const [value, set] = useQueryState(key, parseAsString);
  return [value, (next) => void set(next === '' ? null : next)];
}
