/** Rows of a sort as they are looked at: of one standard folder with those in it, or all. */
import { allFolders } from '../../../core/scheme/scheme';
import type { Plan } from '../../../core/planning/plan/plan';
import type { SortDetail } from '../../../core/planning/sort/sort';
import type { SortRow } from '../../../core/planning/sort/sort-rows';
import type { SortSettings } from '../../../core/planning/sort/settings';
import { sortKey } from '../../../core/naming/sort-key';
import { filterWords, fits } from '../../../core/words/filter-words';
import { cutOut, type Window, type WindowQuery } from '../../../core/lists/list-window';

export type SortSort = 'path' | 'name' | 'size';

/** `group`: id of a folder (its own and all within it), "from " and a place as the flow names it, "stays", "renamed", or "" for all. */
export function sortWindow(plan: Plan<SortDetail>, settings: SortSettings, group: string, query: WindowQuery<SortSort>): Window<SortRow> {
  const { rows } = plan.detail;
  const words = filterWords(query.filter);
  const own = rows.filter(groupTest(settings, group)).filter((row) => fits(words, `${row.from.path} ${row.newName} ${row.folder}`));
  return cutOut(ordered(own, query), query);
}

function groupTest(settings: SortSettings, group: string): (row: SortRow) => boolean {
  if (group === '') return () => true;
  if (group === 'stays') return ({ stays }) => stays !== null && stays !== 'in its place';
  if (group === 'renamed') return ({ stays, oldName, newName }) => stays === null && oldName !== newName;
  if (group.startsWith('from ')) {
    const source = group.slice('from '.length);
    return ({ from }) => `${from.shelfId}/${from.path.includes('/') ? from.path.split('/')[0]! : ''}` === source;
  }
  const lands = ({ stays }: SortRow) => stays === null || stays === 'in its place';
  if (settings.structure !== 'scheme') return (row) => row.folderId === group && lands(row);
  const within = new Set(allFolders(settings.scheme.folders).filter(({ way }) => way.some(({ id }) => id === group)).map(({ id }) => id)); // prettier-ignore
  return (row) => (row.folderId === group || within.has(row.folderId)) && lands(row);
}

function ordered(rows: readonly SortRow[], { sort, down }: WindowQuery<SortSort>): readonly SortRow[] {
  // As they were planned: by shelf and path.
  if (sort === 'path') return down ? [...rows].reverse() : rows;
  const sign = down ? -1 : 1;
  if (sort === 'size') return [...rows].sort((a, b) => sign * (a.bytes - b.bytes));
  const named = new Map(rows.map((row) => [row, sortKey(row.newName)]));
  return [...rows].sort((a, b) => sign * (named.get(a)! < named.get(b)! ? -1 : named.get(a)! > named.get(b)! ? 1 : 0));
}
