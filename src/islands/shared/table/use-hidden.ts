/** How many of what is ticked the list does not show, behind a filter or in another part of it. */
import { useQuery } from '@tanstack/react-query';
import type { ListWindow } from './use-window';

/** Null while it is not known. */
export function useHidden<Row>(list: ListWindow<Row>, rowKey: (row: Row) => string, ticked: ReadonlySet<string>): number | null {
  const loaded = list.rows.filter((row) => row !== undefined);
  const isWhole = list.total !== undefined && loaded.length === list.total;
  const { data } = useQuery({
    queryKey: ['shown', list.name],
    queryFn: async () => (await list.reach(0, (list.total ?? 0) - 1)).map(rowKey),
    enabled: ticked.size > 0 && !isWhole && list.total !== undefined && list.name !== null,
  });
  const shown = isWhole ? loaded.map(rowKey) : data;
  if (ticked.size === 0) return 0;
  if (!shown) return null;
  const there = new Set(shown);
  return [...ticked].filter((key) => !there.has(key)).length;
}
