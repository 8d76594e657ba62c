/** What a pull or a crate takes, in windows. */
import type { Plan } from '../../core/planning/plan/plan';
import {
  TAKEN_GROUPS,
  takenGroup,
  takenList,
  type TakenCounts,
  type TakenDetail,
  type TakenGroup,
  type TakenLine,
  type TakenRow,
} from '../../core/planning/taking/taken';
import { filterWords, fits } from '../../core/words/filter-words';
import { notFound } from '../errors/problem';
import { cutOut, type Window, type WindowQuery } from '../../core/lists/list-window';

const SORTS = ['name', 'keeps', 'bytes', 'how'] as const;
type Sort = (typeof SORTS)[number];

export const takenRows = { sorts: SORTS, of: takenWindow };

export function takenCounts(plan: Plan<TakenDetail>): TakenCounts {
  const counts = { trim: 0, frames: 0, whole: 0, offline: 0 } satisfies Record<TakenGroup, number>;
  for (const line of takenList(plan.detail)) counts[takenGroup(line)]++;
  return counts;
}

/** `group`: how they are taken, or all where it is empty. What is offline has no figures and stands last, up and down. */
export function takenWindow(plan: Plan<TakenDetail>, _settings: unknown, group: string, query: WindowQuery<Sort>): Window<TakenLine> {
  if (group !== '' && !TAKEN_GROUPS.some((one) => one === group)) throw notFound('list');
  const words = filterWords(query.filter);
  const lines = takenList(plan.detail)
    .filter((line) => group === '' || takenGroup(line) === group)
    .filter((line) => fits(words, shownWords(line)));
  const taken = lines.filter((line) => line.taken !== null);
  const offline = lines.filter((line) => line.taken === null);
  // Both come in the order of their names.
  if (query.sort === 'name') return cutOut(query.down ? [...taken.reverse(), ...offline.reverse()] : lines, query);
  const sign = query.down ? -1 : 1;
  const valueOf = VALUES[query.sort];
  const sorted = taken.map((line) => ({ line, value: valueOf(line.taken!) })).sort((a, b) => sign * (a.value - b.value));
  return cutOut([...sorted.map(({ line }) => line), ...offline], query);
}

const VALUES: Readonly<Record<Exclude<Sort, 'name'>, (row: TakenRow) => number>> = {
  keeps: ({ keepsBytes, ofBytes }) => keepsBytes / Math.max(1, ofBytes),
  bytes: ({ keepsBytes }) => keepsBytes,
  how: ({ method }) => TAKEN_GROUPS.indexOf(method),
};

function shownWords({ taken, offline }: TakenLine): string {
  return taken ? `${taken.name} ${taken.place.path} ${taken.codec} ${taken.why ?? ''}` : `${offline?.name ?? ''} ${offline?.state ?? ''}`;
}
