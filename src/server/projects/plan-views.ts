/** Plans as the API tells them: the sheet whole, of what may be long the begin and how much there is. */
import type { Plan, Step } from '../../core/planning/plan';
import type { RelinkDetail } from '../../core/planning/relink';
import type { RelinkRow } from '../../core/planning/relink-groups';
import { notFound } from '../api/problem';
import { cutOut, filterWords, fits, type Window, type WindowQuery } from '../list-window';
import { withoutText } from './step-views';

/** So many steps and rows of a reason go with the sheet, and so many rows of all reasons. */
const MOST_TOLD = 100;
const MOST_ROWS = 500;

export interface PlanView<Detail = unknown> extends Plan<Detail> {
  /** How many steps there are of each action; `steps` holds the first of them. */
  readonly stepCounts: Readonly<Partial<Record<Step['action'], number>>>;
}

export function planView(plan: Plan): PlanView {
  const stepCounts: Partial<Record<Step['action'], number>> = {};
  for (const { action } of plan.steps) stepCounts[action] = (stepCounts[action] ?? 0) + 1;
  return {
    ...plan,
    stepCounts,
    steps: plan.steps.slice(0, MOST_TOLD).map(withoutText),
    detail: isRelink(plan) ? firstRows(plan.detail) : plan.detail,
  };
}

function isRelink(plan: Plan): plan is Plan<RelinkDetail> {
  return plan.kind === 'relink';
}

function firstRows(detail: RelinkDetail): RelinkDetail {
  let left = MOST_ROWS;
  const groups = detail.groups.map((group) => {
    const rows = group.rows.slice(0, Math.min(left, MOST_TOLD));
    left -= rows.length;
    return { ...group, rows };
  });
  return { ...detail, groups };
}

/** Clips of one reason of a relink. */
export function reasonWindow(plan: Plan, reason: string, query: WindowQuery<'name'>): Window<RelinkRow> {
  const group = isRelink(plan) ? plan.detail.groups.find(({ key }) => key === reason) : undefined;
  if (!group) throw notFound('reason any more');
  const words = filterWords(query.filter);
  return cutOut(
    group.rows.filter((row) => fits(words, `${row.name} ${row.fileName}`)),
    query,
  );
}
