import { FINISH_PROBLEMS, planFinish, type FinishDetail, type FinishProblem, type FinishRow } from '../../../core/planning/finish/finish';
import { finishCsv, finishHtml } from '../../../core/planning/finish/finish-page';
import { finishForm, type FinishSettings } from '../../../core/planning/finish/settings';
import type { Plan } from '../../../core/planning/plan/plan';
import { filterWords, fits } from '../../../core/words/filter-words';
import { notFound } from '../../errors/problem';
import { cutOut, type Window, type WindowQuery } from '../../../core/lists/list-window';
import { defineKind } from '../kind';
import { projectSnapshot } from '../project-snapshot';

export const finishKind = defineKind<FinishSettings, FinishDetail>()({
  form: finishForm,
  undoable: false,
  isKept: true,
  rows: { sorts: ['record'], of: finishWindow },
  toTell: (plan) => ({ ...plan.detail, rows: [] }),
  toKeep(plan, _settings, catalogue) {
    const nameOf = catalogue.shelves.namer();
    const own = plan;
    return { csv: () => finishCsv(own, nameOf), html: () => finishHtml(own, nameOf) };
  },
  async plan(asked, settings) {
    return planFinish(await projectSnapshot(asked, settings.timelineId === null ? [] : [settings.timelineId]), settings);
  },
});

/** Those that are not ready, all of them, or those with one problem. */
function finishWindow(plan: Plan<FinishDetail>, _settings: FinishSettings, group: string, query: WindowQuery<'record'>): Window<FinishRow> {
  if (group !== '' && group !== 'all' && !FINISH_PROBLEMS.includes(group as FinishProblem)) throw notFound('list');
  const words = filterWords(query.filter);
  const rows = plan.detail.rows
    .filter(({ problems }) => group === 'all' || (group === '' ? problems.length > 0 : problems.some(({ is }) => is === group)))
    .filter(({ name, track, record, place }) => fits(words, `${name} ${track} ${record} ${place?.path ?? ''}`));
  return cutOut(query.down ? [...rows].reverse() : rows, query);
}
