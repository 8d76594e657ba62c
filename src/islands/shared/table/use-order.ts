/** What a list that comes in windows is sorted by, as the user left it. */
import { useKeptTable } from './kept-table';
import type { Sorting } from './TableHead';

export interface ListOrder extends Sorting {
  /** By this column; the other way round where it is by it already. */
  readonly sortBy: (key: string) => void;
}

/** `name`: of the table. `keys`: columns that it can be sorted by, the usual one first; figures among `largestFirst` begin with the largest. */
export function useOrder(name: string, keys: readonly string[], largestFirst: readonly string[] = []): ListOrder {
  const [kept, keep] = useKeptTable(name);
  // What another version kept may be no column any more.
  const own = kept.sort.find(({ id }) => keys.includes(id));
  const { id: key, desc: down } = own ?? { id: keys[0]!, desc: false };
  const sortBy = (next: string) => keep((old) => ({ ...old, sort: [{ id: next, desc: next === key ? !down : largestFirst.includes(next) }] }));
  return { key, down, sortBy };
}
