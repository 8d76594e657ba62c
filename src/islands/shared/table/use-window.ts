/** A list of any length: only what is looked at is asked for, a page at a time. */
import { keepPreviousData, useQueries } from '@tanstack/react-query';
import { useCallback, useRef, useState } from 'react';
import type { Window } from '../../../core/lists/list-window';
import { api, type Answer } from '../api';
import type { QuestionState } from '../asked';

const PAGE_ROWS = 100;
/** The most that the server gives at once. */
const REACH_ROWS = 1000;

function fetchPage<Row>(path: string, body: object | undefined, offset: number, limit = PAGE_ROWS, signal?: AbortSignal): Promise<Window<Row>> {
  if (body) return api.postTo(path, { ...body, limit, offset }, signal);
  return api.getFrom(`${path}${path.includes('?') ? '&' : '?'}limit=${limit}&offset=${offset}`, signal);
}

/** What the list at an address holds, by the table of routes. */
type RowAt<Path extends string> = Answer<'GET', Path> extends Window<infer Row> ? Row : never;

export interface ListWindow<Row> {
  /** The same for the same list, filter and order; null while there is none. */
  readonly name: string | null;
  /** As long as the list; what has not come yet is left out. */
  readonly rows: readonly (Row | undefined)[];
  /** Undefined until the first answer. */
  readonly total: number | undefined;
  readonly asked: QuestionState;
  /** Tells which rows are in sight, both inclusive. */
  readonly see: (first: number, last: number) => void;
  /** Fetches rows that need not be in sight, both inclusive. */
  readonly reach: (first: number, last: number) => Promise<readonly Row[]>;
}

/**
 * `path` of the list with its filter and order, null while there is none to ask; `key` begins its cache key, so that news
 * renews it. `body`: what a list that is posted is asked with.
 */
export function useWindow<const Path extends string>(key: readonly unknown[], path: Path | null): ListWindow<RowAt<Path>>;
export function useWindow<Row>(key: readonly unknown[], path: string | null, body: object): ListWindow<Row>;
export function useWindow<Row>(key: readonly unknown[], path: string | null, body?: object): ListWindow<Row> {
  const list = path === null ? null : `${path} ${JSON.stringify(body) ?? ''}`;
  const [seen, setSeen] = useState({ list, first: 0, last: 0 });
  // Another list begins at its top.
  const { first, last } = seen.list === list ? seen : { first: 0, last: 0 };
  const pages = path === null ? [] : Array.from({ length: last - first + 1 }, (_, index) => first + index);
  const answers = useQueries({
    queries: pages.map((page) => ({
      queryKey: [...key, list, page],
      // What is scrolled past before it came is asked for no longer.
      queryFn: ({ signal }: { signal: AbortSignal }) => fetchPage<Row>(path!, body, page * PAGE_ROWS, PAGE_ROWS, signal),
      placeholderData: keepPreviousData,
    })),
  });
  const see = useCallback(
    (from: number, to: number) => {
      const own = { list, first: Math.floor(from / PAGE_ROWS), last: Math.floor(to / PAGE_ROWS) };
      setSeen((old) => (old.list === own.list && old.first === own.first && old.last === own.last ? old : own));
    },
    [list],
  );
  const reach = async (from: number, to: number): Promise<readonly Row[]> => {
    const out: Row[] = [];
    for (let offset = from; path !== null && offset <= to; offset += REACH_ROWS)
      out.push(...(await fetchPage<Row>(path, body, offset, Math.min(REACH_ROWS, to - offset + 1))).rows);
    return out;
  };
  const told = answers.find((answer) => answer.data && !answer.isPlaceholderData)?.data?.total;
  // Where nothing in sight has come yet the list is as long as it was said to be: it does not fall together under the hand.
  const length = useRef<{ readonly list: string | null; readonly total: number } | null>(null);
  if (told !== undefined) length.current = { list, total: told };
  const total = told ?? (length.current?.list === list ? length.current.total : answers.find((answer) => answer.data)?.data?.total);
  const rows: (Row | undefined)[] = [];
  rows.length = total ?? 0;
  answers.forEach(({ data, isPlaceholderData }, index) => {
    if (isPlaceholderData && pages[index] !== 0) return;
    data?.rows.forEach((row, at) => (rows[pages[index]! * PAGE_ROWS + at] = row));
  });
  const failed = answers.filter((answer) => answer.error);
  const asked: QuestionState = {
    isThere: total !== undefined,
    error: failed[0]?.error ?? null,
    again: () => failed.forEach((answer) => void answer.refetch()),
  };
  return { name: list, rows, total, asked, see, reach };
}
