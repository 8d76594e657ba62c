import Papa from 'papaparse';
import { readTimelineFile } from '../../../core/interchange/read-timeline-file';
import {
  changeWords,
  compareHtml,
  FILE_CHANGES,
  planCompareCrates,
  type CompareCratesDetail,
  type ComparedCrate,
  type ComparedFile,
  type FileChange,
} from '../../../core/planning/compare-crates/compare-crates';
import { planCompareProject } from '../../../core/planning/compare-crates/against-project';
import { compareCratesForm, type CompareCratesSettings } from '../../../core/planning/compare-crates/settings';
import type { Plan } from '../../../core/planning/plan/plan';
import { folderOf } from '../../../core/media/item';
import { filterWords, fits } from '../../../core/words/filter-words';
import type { CrateRow } from '../../catalogue/crates';
import { notFound } from '../../errors/problem';
import { CrateError, readCrate } from '../../bundles/read-crate';
import { cutOut, type Window, type WindowQuery } from '../../../core/lists/list-window';
import { PlaceError } from '../../stock/mounts';
import { projectSnapshot } from '../project-snapshot';
import { defineKind, type PlanContext } from '../kind';
import { PlanRequestError } from '../../errors/problem';

export const compareCratesKind = defineKind<CompareCratesSettings, CompareCratesDetail>()({
  form: compareCratesForm,
  undoable: false,
  rows: { sorts: ['path'], of: compareWindow },
  toTell: (plan) => ({ ...plan.detail, rows: [] }),
  toKeep(plan) {
    const { detail } = plan;
    const table = detail.rows.map(({ path, change, was, beforeBytes, afterBytes, words }) => ({ File: path, Difference: changeWords(change, detail.against), Frames: words ?? '', 'Earlier path': was ?? '', 'Bytes before': beforeBytes ?? '', 'Bytes after': afterBytes ?? '' })); // prettier-ignore
    return { csv: () => Papa.unparse(table, { escapeFormulae: /^'*[=+\-@\t\r]/, newline: '\r\n' }), html: () => compareHtml(detail) };
  },
  async plan(asked, { before, after }) {
    const crateOf = (id: string): CrateRow => {
      const row = asked.catalogue.crates.get(id);
      if (!row || (asked.projectId !== null && row.projectId !== asked.projectId)) throw new PlanRequestError('There is no such crate any more.');
      return row;
    };
    const old = crateOf(before);
    if (after !== null) return planCompareCrates(asked.projectId, await comparedOf(old, asked), await comparedOf(crateOf(after), asked));
    const snapshot = await projectSnapshot(
      asked,
      asked.projectId === null ? [] : asked.catalogue.timelines.entries(asked.projectId).map(({ id }) => id),
    );
    const standing = { ...(await comparedOf(old, asked)), files: asked.catalogue.crates.filesStanding(old) };
    return planCompareProject(snapshot, standing, asked.catalogue.crates.standing(old).state);
  },
});

async function comparedOf(crate: CrateRow, { catalogue, mounts }: PlanContext): Promise<ComparedCrate> {
  const own = { name: crate.name, files: catalogue.crates.filesOf(crate.id) };
  try {
    const { timelines, rate } = await readCrate(mounts, catalogue.crates.standing(crate).place);
    const read = timelines.map(({ name, text, path }) => ({
      name,
      folder: folderOf(path),
      model: typeof text === 'string' ? readTimelineFile(text, rate).timelines[0]?.timeline : undefined,
    }));
    return { ...own, timelines: read.flatMap(({ model, ...named }) => (model ? [{ ...named, model }] : [])) };
  } catch (error) {
    // It is unplugged, gone, or no crate any more.
    if (error instanceof PlaceError || error instanceof CrateError) return { ...own, timelines: null };
    throw error;
  }
}

/** Those that differ, all of them, or those of one difference. */
function compareWindow(plan: Plan<CompareCratesDetail>, _settings: unknown, group: string, query: WindowQuery<'path'>): Window<ComparedFile> {
  if (group !== '' && group !== 'all' && !FILE_CHANGES.includes(group as FileChange)) throw notFound('list');
  const words = filterWords(query.filter);
  const rows = plan.detail.rows
    .filter(({ change }) => group === 'all' || (group === '' ? change !== 'same' && change !== 'part' : change === group))
    .filter(({ path, was }) => fits(words, `${path} ${was ?? ''}`));
  return cutOut(query.down ? [...rows].reverse() : rows, query);
}
