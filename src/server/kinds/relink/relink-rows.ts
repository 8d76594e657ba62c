/** The rows of a relink: the begin of each reason with the sheet, the rest as it is looked at. */
import type { Plan } from '../../../core/planning/plan/plan';
import type { RelinkDetail } from '../../../core/planning/relink/relink';
import type { RelinkRow } from '../../../core/planning/relink/relink-groups';
import { notFound } from '../../errors/problem';
import { filterWords, fits } from '../../../core/words/filter-words';
import { cutOut, type Window, type WindowQuery } from '../../../core/lists/list-window';

/** How many rows of a reason go with the sheet, and so many of all reasons. */
const MOST_OF_A_REASON = 100;
const MOST_ROWS = 500;

export function firstRows(detail: RelinkDetail): RelinkDetail {
  let left = MOST_ROWS;
  const groups = detail.groups.map((group) => {
    const rows = group.rows.slice(0, Math.min(left, MOST_OF_A_REASON));
    left -= rows.length;
    return { ...group, rows };
  });
  return { ...detail, groups };
}

/** Clips of one reason. */
export function reasonWindow(plan: Plan<RelinkDetail>, reason: string, query: WindowQuery<'name'>): Window<RelinkRow> {
  const group = plan.detail.groups.find(({ key }) => key === reason);
  if (!group) throw notFound('reason any more');
  const words = filterWords(query.filter);
  return cutOut(
    group.rows.filter((row) => fits(words, `${row.name} ${row.fileName}`)),
    query,
  );
}
