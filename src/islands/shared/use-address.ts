/** Where one is, in the address: going back, loading anew and links that are sent lead there. */
import { parseAsString, parseAsStringLiteral, useQueryState } from 'nuqs';

/** What is on its way into the address. */
const writing = new Set<Promise<unknown>>();

/** A place that is gone to meanwhile may leave what was chosen unwritten. */
const WRITTEN_MS = 300;

function written(write: Promise<unknown>): void {
  const done = Promise.race([write, new Promise((resolve) => setTimeout(resolve, WRITTEN_MS))]);
  writing.add(done);
  void done.finally(() => writing.delete(done));
}

/** Once all that was chosen stands in the address. */
export async function addressWritten(): Promise<void> {
  await Promise.all(writing);
}

type Choose<T> = (value: T) => void;

/** Places that are passed by arrow keys are none to come back to. */
const PASSING_MS = 900;
let wentAt = -Infinity;

/** A place one goes to: the way back leads to the one before. Null stands for the place one comes to by itself. */
export function useAddressPlace(key: string): [string | null, Choose<string | null>] {
  const [value, set] = useQueryState(key, parseAsString);
  return [
    value,
    (next) => {
      const isPassing = performance.now() - wentAt < PASSING_MS;
      wentAt = performance.now();
      written(set(next, { history: isPassing ? 'replace' : 'push' }));
    },
  ];
}

/** One of a few views; the first is where one comes by itself. */
export function useAddressView<View extends string>(key: string, views: readonly [View, ...View[]]): [View, Choose<View>] {
  const [value, set] = useQueryState(key, parseAsStringLiteral(views).withDefault(views[0]).withOptions({ history: 'push' }));
  return [value, (next) => written(set(next))];
}

/** What is looked for or in hand: it changes with every key, and the way back passes it over. */
export function useAddressWord(key: string): [string | null, Choose<string | null>] {
  const [value, set] = useQueryState(key, parseAsString);
  return [value, (next) => written(set(next === '' ? null : next))];
}
