/** Projects as they stand: the list, one, and all that its stages show beside it. */
import type { WindowQuery, Window } from '../../core/lists/list-window';
import type { Automation } from '../catalogue/automations';
import { binViews } from '../projects/bin-views';
import { clipFiles } from '../projects/copies-view';
import { clipWindow, type ClipQuery } from '../projects/clip-views';
import { withCurrentIds } from '../projects/current-ids';
import { overviewView, projectView } from '../projects/project-views';
import { crateViews } from '../projects/safety';
import { isProblem, notFound } from '../errors/problem';
import type { SeenChange } from '../catalogue/stocktakes';
import type { Among, Counted } from '../catalogue/item-window';
import { itemWindow, type ItemQuery } from '../projects/item-views';
import type { BinsView } from '../projects/views/bins';
import type { ClipFileView, ClipView } from '../projects/views/clip';
import type { CrateView } from '../projects/views/crate';
import type { OverviewView, ProjectView } from '../projects/views/project';
import type { ListedItem } from '../stock/views/item';
import { stepWindow, type StepView } from '../actions/step-views';
import { MAKERS } from '../kinds/kinds';
import { Json, ofProject, type OfProject, type QuestionOf } from './question';

const head: QuestionOf<OfProject, ProjectView> = {
  lane: 'look',
  madeOf: ofProject,
  answer: (study, { projectId }) => study.look(projectId, (_, project, lines) => projectView(study.catalogue, project, lines())),
};

/** A project, with what screens know again and what begins by itself. */
export interface ProjectWithChoices extends ProjectView {
  readonly remembered: Record<string, unknown>;
  readonly automations: readonly Automation[];
}

const project: QuestionOf<OfProject, ProjectWithChoices> = {
  lane: 'look',
  madeOf: ofProject,
  answer: ({ catalogue, look }, { projectId }) =>
    look(projectId, (_, row, lines) => ({
      ...projectView(catalogue, row, lines()),
      automations: catalogue.automations.ofProject(row.id),
      remembered: withCurrentIds(catalogue.projects.remembered(row.id), catalogue.timelines.followers(row.id)),
    })),
};

/** Made of the heads as they were told before, where nothing is another. */
const projects: QuestionOf<object, Json<ProjectView[]>> = {
  lane: 'look',
  async answer(study) {
    const heads = study.catalogue.projects.list().map(({ id }) => study.answerJson({ ask: 'head', projectId: id }).catch(unlessRemoved));
    return new Json<ProjectView[]>(`[${(await Promise.all(heads)).filter((json) => json !== null).join(',')}]`);
  },
};

/** A project that is removed while the list is made is not in it. */
function unlessRemoved(error: unknown): null {
  if (isProblem(error) && error.status === 404) return null;
  throw error;
}

const overview: QuestionOf<OfProject, OverviewView> = {
  lane: 'look',
  // It tells of folders that are watched on whatever shelf.
  madeOf: (study, { projectId }) => study.madeOfAllStock(projectId),
  answer: ({ catalogue, look }, { projectId }) => look(projectId, ({ shelves }, row, lines) => overviewView(catalogue, row, lines(), shelves)),
};

const clips: QuestionOf<OfProject & { readonly query: ClipQuery }, Window<ClipView>> = {
  lane: 'look',
  madeOf: ofProject,
  answer: ({ catalogue, look }, { projectId, query }) => look(projectId, (snapshot, _, lines) => clipWindow(catalogue, snapshot, lines(), query)),
};

const clipFilesAsked: QuestionOf<OfProject & { readonly clipId: string }, readonly ClipFileView[]> = {
  lane: 'look',
  madeOf: ofProject,
  answer: ({ catalogue, look }, { projectId, clipId }) =>
    look(projectId, (snapshot) => {
      const files = clipFiles(catalogue, snapshot, clipId);
      if (!files) throw notFound('clip');
      return files;
    }),
};

const crates: QuestionOf<OfProject, CrateView[]> = {
  lane: 'look',
  madeOf: ofProject,
  answer: ({ catalogue, look }, { projectId }) => look(projectId, (_, row, lines) => crateViews(catalogue, row.id, lines())),
};

const bins: QuestionOf<OfProject, BinsView> = {
  lane: 'look',
  madeOf: ofProject,
  answer: ({ catalogue, look }, { projectId }) => look(projectId, (_, row, lines) => binViews(catalogue, row.id, lines())),
};

const steps: QuestionOf<{ readonly runId: number; readonly query: WindowQuery<'ordinal'> }, Window<StepView>> = {
  lane: 'search',
  answer: ({ catalogue }, { runId, query }) => stepWindow(catalogue, runId, query, MAKERS),
};

/** Items of a shelf, or of all (`shelfId` null). */
const items: QuestionOf<{ readonly shelfId: string | null; readonly query: ItemQuery }, Window<ListedItem>> = {
  lane: 'search',
  answer: ({ catalogue }, { shelfId, query }) => itemWindow(catalogue, shelfId, query),
};

/** How much of a shelf is duplicates, read by no project, or broken. */
const stockAmong: QuestionOf<{ readonly shelfId: string }, Readonly<Record<Among, Counted>>> = {
  lane: 'search',
  answer({ catalogue }, { shelfId }) {
    if (!catalogue.shelves.get(shelfId)) throw notFound('shelf');
    return catalogue.items.countAmong(shelfId);
  },
};

/** What stocktakes of a shelf found lately. */
const stockHistory: QuestionOf<{ readonly shelfId: string }, readonly SeenChange[]> = {
  lane: 'look',
  answer({ catalogue }, { shelfId }) {
    if (!catalogue.shelves.get(shelfId)) throw notFound('shelf');
    return catalogue.stocktakes.changesSeen(shelfId, 10);
  },
};

export const projectQuestions = {
  'stock-history': stockHistory,
  'stock-among': stockAmong,
  projects,
  head,
  project,
  overview,
  clips,
  'clip-files': clipFilesAsked,
  crates,
  bins,
  steps,
  items,
};
