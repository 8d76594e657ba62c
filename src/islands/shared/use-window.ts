/** A list of any length: only what is looked at is asked for, a page at a time. */
import { keepPreviousData, useQueries } from '@tanstack/react-query';
import { useCallback, useState } from 'react';
import type { Window } from '../../server/api/window';
import { api } from './api';

const PAGE_ROWS = 100;

export interface ListWindow<Row> {
  /** As long as the list; what has not come yet is left out. */
  readonly rows: readonly (Row | undefined)[];
  /** Undefined until the first answer. */
  readonly total: number | undefined;
  readonly error: Error | null;
  /** Tells which rows are in sight, both inclusive. */
  readonly see: (first: number, last: number) => void;
}

/** `path` of the list with its filter and order, null while there is none to ask; `key` begins its cache key, so that news renews it. */
export function useWindow<Row>(key: readonly unknown[], path: string | null): ListWindow<Row> {
  const [seen, setSeen] = useState({ path, first: 0, last: 0 });
  // Another list begins at its top.
  const { first, last } = seen.path === path ? seen : { first: 0, last: 0 };
  const pages = path === null ? [] : Array.from({ length: last - first + 1 }, (_, index) => first + index);
  const answers = useQueries({
    queries: pages.map((page) => ({
      queryKey: [...key, path, page],
      queryFn: () => api.get<Window<Row>>(`${path}${path!.includes('?') ? '&' : '?'}limit=${PAGE_ROWS}&offset=${page * PAGE_ROWS}`),
      placeholderData: keepPreviousData,
    })),
  });
  const see = useCallback(
    (from: number, to: number) => {
      const own = { path, first: Math.floor(from / PAGE_ROWS), last: Math.floor(to / PAGE_ROWS) };
      setSeen((old) => (old.path === own.path && old.first === own.first && old.last === own.last ? old : own));
    },
    [path],
  );
  const total = answers.find((answer) => answer.data && !answer.isPlaceholderData)?.data?.total ?? answers.find((answer) => answer.data)?.data?.total;
  const rows: (Row | undefined)[] = [];
  rows.length = total ?? 0;
  answers.forEach(({ data, isPlaceholderData }, index) => {
    if (isPlaceholderData && pages[index] !== 0) return;
    data?.rows.forEach((row, at) => (rows[pages[index]! * PAGE_ROWS + at] = row));
  });
  return { rows, total, error: answers.find((answer) => answer.error)?.error ?? null, see };
}
