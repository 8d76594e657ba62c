import { fileName } from '../../../core/media/item';
import {
  allVerified,
  planCheckCopies,
  type CopiesDetail,
  type CopiesRow,
  type CopiesTold,
  type Survey,
  type SurveyedFile,
} from '../../../core/planning/check-copies/check-copies';
import { checkCopiesForm, type CheckCopiesSettings } from '../../../core/planning/check-copies/settings';
import type { Plan } from '../../../core/planning/plan/plan';
import { cutInOrder, type Window, type WindowQuery } from '../../../core/lists/list-window';
import { fewNames, plural } from '../../../core/words/figures';
import { filterWords, fits } from '../../../core/words/filter-words';
import type { ChangeMaker } from '../../actions/step-context';
import type { StepRow } from '../../catalogue/runs';
import { StepFailure } from '../../errors/explain-error';
import { notFound, PlanRequestError } from '../../errors/problem';
import { hiddenFiles } from '../../stock/hidden-files';
import { CopySurvey } from '../../stock/survey-copies';
import { walkShelf } from '../../stock/walk';
import { defineKind, type PlanContext } from '../kind';

/** What came to the card meanwhile was told of nowhere. */
const copiesTold: ChangeMaker<CopiesTold> = {
  onDisk: {
    at: ({ shelfId }) => [{ shelfId, path: '' }],
    async work({ shelfId, name }, context) {
      const told = new Set(toldFiles(context.journal()).map(({ step }) => step.from!.path));
      const walked = await walkShelf(context.places.resolve({ shelfId, path: '' }));
      const others = walked.files.filter(({ path, sizeBytes }) => sizeBytes > 0 && !told.has(path)).map(({ path }) => path);
      const closed = [...walked.unreadable, ...walked.closedFolders];
      if (others.length + closed.length > 0)
        throw new StepFailure(`${plural(others.length + closed.length, 'file')} came to ${name} meanwhile: ${fewNames([...others, ...closed])}. Check it again before you format it.`); // prettier-ignore
    },
  },
  make({ name, wanted }, { journal }) {
    const shelves = toldFiles(journal()).map(({ outcome }) => outcome?.verifiedOn ?? []);
    return { bytes: 0, checked: 'nothing else is on it', conclusion: allVerified(name, shelves, { wanted }) };
  },
};

function toldFiles(journal: readonly StepRow[]): StepRow[] {
  return journal.filter(({ step }) => step.action === 'check' && step.copies !== undefined);
}

const STATES: readonly string[] = ['enough', 'few', 'compare', 'none', 'unknown', 'empty'] satisfies CopiesRow['state'][];

export const checkCopiesKind = defineKind<CheckCopiesSettings, CopiesDetail>()({
  form: checkCopiesForm,
  undoable: false,
  changes: { 'copies-told': copiesTold },
  rows: { sorts: ['name', 'size'], of: copiesWindow },
  toTell: ({ detail }) => ({ ...detail, rows: [] as readonly CopiesRow[] }),
  async plan(asked, settings) {
    return planCheckCopies(await surveyShelf(asked, settings.shelfId), settings, asked.projectId);
  },
});

async function surveyShelf({ catalogue, mounts }: PlanContext, shelfId: string): Promise<Survey> {
  const shelf = catalogue.shelves.get(shelfId);
  if (!shelf) throw new PlanRequestError('There is no such shelf on the list.');
  const root = mounts.rootOf(shelfId);
  if (root === null) throw new PlanRequestError(`${shelf.name} is not plugged in. Plug it in, then check it.`);
  const [walked, hidden] = [await walkShelf(root), await hiddenFiles(root)];
  const items = new Map(catalogue.items.onShelf(shelfId).map((item) => [item.place.path, item]));
  const survey = new CopySurvey(catalogue, mounts);
  const files: SurveyedFile[] = [];
  for (const { path, sizeBytes, identity } of walked.files) files.push(await survey.fileOf(path, sizeBytes, items.get(path) ?? null, identity));
  return {
    shelf: { id: shelfId, name: shelf.name, drive: survey.driveOf(shelfId) },
    files,
    hidden,
    closed: [...walked.unreadable, ...new Set([...walked.closedFolders, ...hidden.closed])],
    nameOf: survey.nameOf,
  };
}

function copiesWindow(
  plan: Plan<CopiesDetail>,
  _settings: CheckCopiesSettings,
  group: string,
  query: WindowQuery<'name' | 'size'>,
): Window<CopiesRow> {
  if (group !== '' && !STATES.includes(group)) throw notFound('list');
  const words = filterWords(query.filter);
  const rows = plan.detail.rows.filter(({ path, state }) => (group === '' || state === group) && fits(words, path));
  const named = rows.map((row) => ({ ...row, name: fileName(row.path) }));
  return cutInOrder(named, query, ({ bytes }) => bytes);
}
