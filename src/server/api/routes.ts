/** The table of routes: every address of the interface, what may come in with it, and what goes out. The client's types follow from it. */
import { cardRuleForm } from '../../core/forms/card-rule-form';
import { binEditForm, namesByPatternForm } from '../../core/forms/bin-edit';
import { crateEditForm } from '../../core/forms/crate-form';
import { newProjectForm, projectEditForm } from '../../core/forms/project-forms';
import { changedSchemeForm, newSchemeForm, schemeFileForm } from '../../core/forms/scheme-form';
import { newShelfForm, shelfEditForm } from '../../core/forms/shelf-forms';
import type { PlanRequest } from '../kinds/kinds';
import { CLIP_SORTS } from '../projects/clip-views';
import { setAutomation } from '../usecases/automations';
import { addCardRule, cardRules, removeCardRule } from '../usecases/card-rules';
import { clipListOf, editBins, previewNames, stepEdit } from '../usecases/bins';
import { editCrate } from '../usecases/crates';
import { healthOf } from '../usecases/health';
import { itemView, measureSample, playableOf, posterOf, samplePicture } from '../usecases/items';
import { addProject, changeClips, duplicateProject, editProject, openProject, remember, removeProject } from '../usecases/projects';
import { beginRun, orderRun, preferRun, runOf, runSummary, runView } from '../usecases/runs';
import { addScheme, changeScheme, importScheme, listSchemes, removeScheme, schemeFile } from '../usecases/schemes';
import { addShelf, cancelStocktake, editShelf, removeShelf, setPlugged, shelvesNow, startStocktake, stocktakeNow } from '../usecases/shelves';
import { addTimeline, addUpload, bridgesHere, previewTimeline, recountTimeline, removeMatches, removeTimeline } from '../usecases/timelines';
import { endpoint, endpointWithBody, LARGEST_LIST_BYTES, type Endpoint } from './endpoint';
import { fileAnswer } from './file-answer';
import { attachment, picture } from './answers';
import { clipQuery, compareQuery, itemQuery, mustBeQuery, sampleRecipe, tryRecipe } from './queries';
import * as forms from './schemas';
import { windowOf } from './window';

export const ROUTES = {
  'GET health': endpoint(({ house, from }) => healthOf(house, from)),
  'GET projects': endpoint(({ house }) => house.study({ ask: 'projects' })),
  'POST projects': endpointWithBody(newProjectForm, ({ house, actor, body }) => addProject(house, actor, body)),
  'GET projects/[project]': endpoint(({ house, params }) => house.study({ ask: 'project', projectId: params.project! })),
  'PATCH projects/[project]': endpointWithBody(projectEditForm, ({ house, actor, params, body }) =>
    editProject(house, actor, { ...body, projectId: params.project! }),
  ),
  'DELETE projects/[project]': endpoint(({ house, actor, params }) => removeProject(house, actor, { projectId: params.project! })),
  'POST projects/[project]/duplicate': endpoint(({ house, actor, params }) => duplicateProject(house, actor, { projectId: params.project! })),
  'POST projects/[project]/open': endpoint(({ house, actor, params }) => openProject(house, actor, { projectId: params.project! })),
  'POST projects/[project]/remember': endpointWithBody(forms.rememberSchema, ({ house, actor, params, body }) =>
    remember(house, actor, { ...body, projectId: params.project! }),
  ),
  'GET projects/[project]/overview': endpoint(({ house, params }) => house.study({ ask: 'overview', projectId: params.project! })),
  /** A window of the clips, with `bin=` (and bins below), `state=` (or `offline`) and `ids=` (with commas between) if wished. */
  'GET projects/[project]/clips': endpoint(({ house, params, query }) =>
    house.study({ ask: 'clips', projectId: params.project!, query: { ...windowOf(query, CLIP_SORTS), ...clipQuery(query) } }),
  ),
  'PATCH projects/[project]/clips': endpointWithBody(
    forms.changeClipsSchema,
    ({ house, actor, params, body }) => changeClips(house, actor, { ...body, projectId: params.project! }),
    LARGEST_LIST_BYTES,
  ),
  /** Where the files of a clip stand: copies of its source, parts, earlier deliveries. */
  'GET projects/[project]/clips/[clip]': endpoint(({ house, params }) =>
    house.study({ ask: 'clip-files', projectId: params.project!, clipId: params.clip! }),
  ),
  'GET projects/[project]/bins': endpoint(({ house, params }) => house.study({ ask: 'bins', projectId: params.project! })),
  'POST projects/[project]/bins': endpointWithBody(
    binEditForm,
    ({ house, actor, params, body }) => editBins(house, actor, { projectId: params.project!, edit: body }),
    LARGEST_LIST_BYTES,
  ),
  'POST projects/[project]/bins/names': endpointWithBody(
    namesByPatternForm,
    ({ house, params, body }) => previewNames(house, { projectId: params.project!, naming: body }),
    LARGEST_LIST_BYTES,
  ),
  'POST projects/[project]/bins/undo': endpoint(({ house, actor, params }) =>
    stepEdit(house, actor, { projectId: params.project!, direction: 'undo' }),
  ),
  'POST projects/[project]/bins/redo': endpoint(({ house, actor, params }) =>
    stepEdit(house, actor, { projectId: params.project!, direction: 'redo' }),
  ),
  'GET projects/[project]/bins/clip-list': endpoint(({ house, params, query }) => {
    const { name, text } = clipListOf(house, { projectId: params.project!, bin: query.get('bin') ?? '' });
    return attachment(text, 'text/csv', name);
  }),
  'PUT projects/[project]/automations/[automation]': endpointWithBody(forms.automationSchema, ({ house, actor, params, body }) =>
    setAutomation(house, actor, { ...body, projectId: params.project!, name: params.automation! }),
  ),
  'GET projects/[project]/crates': endpoint(({ house, params }) => house.study({ ask: 'crates', projectId: params.project! })),
  'PATCH projects/[project]/crates/[crate]': endpointWithBody(crateEditForm, ({ house, actor, params, body }) =>
    editCrate(house, actor, { ...body, projectId: params.project!, crateId: params.crate }),
  ),
  'GET projects/[project]/compare': endpoint(({ house, params, query }) =>
    house.study({ ask: 'compare', projectId: params.project!, ...compareQuery(query) }),
  ),
  /** Usage of a choice of timelines, bins and clips: its sums, a window of one of its lists, or one item with those who use it. */
  'POST projects/[project]/usage': endpointWithBody(forms.usageSchema, ({ house, params, body: request }) =>
    house.study({ ask: 'usage', projectId: params.project!, request }),
  ),
  'GET projects/[project]/timelines': endpoint(({ house, params }) => house.study({ ask: 'timelines', projectId: params.project! })),
  'POST projects/[project]/timelines': endpointWithBody(forms.newTimelineSchema, ({ house, actor, params, body, request }) =>
    addTimeline(house, actor, { ...body, projectId: params.project!, signal: request.signal }),
  ),
  'POST projects/[project]/preview': endpointWithBody(forms.previewSchema, ({ house, actor, params, body, request }) =>
    previewTimeline(house, actor, { ...body, projectId: params.project!, signal: request.signal }),
  ),
  'GET projects/[project]/timelines/[timeline]': endpoint(({ house, params }) =>
    house.study({ ask: 'timeline', projectId: params.project!, timelineId: params.timeline! }),
  ),
  'PATCH projects/[project]/timelines/[timeline]': endpointWithBody(forms.changeTimelineSchema, ({ house, actor, params, body }) =>
    recountTimeline(house, actor, { ...body, projectId: params.project!, timelineId: params.timeline! }),
  ),
  'DELETE projects/[project]/timelines/[timeline]': endpoint(({ house, actor, params }) =>
    removeTimeline(house, actor, { projectId: params.project!, timelineId: params.timeline! }),
  ),
  'DELETE projects/[project]/timelines/[timeline]/matches': endpoint(({ house, actor, params }) =>
    removeMatches(house, actor, { projectId: params.project!, timelineId: params.timeline! }),
  ),
  'GET shelves': endpoint(({ house }) => shelvesNow(house)),
  'POST shelves': endpointWithBody(newShelfForm, ({ house, actor, body }) => addShelf(house, actor, body)),
  'PATCH shelves/[shelf]': endpointWithBody(shelfEditForm, ({ house, actor, params, body }) =>
    editShelf(house, actor, { shelfId: params.shelf, ...body }),
  ),
  'DELETE shelves/[shelf]': endpoint(({ house, actor, params }) => removeShelf(house, actor, { shelfId: params.shelf })),
  /** `only=media` leaves out what is none; `endings` names those of the files that are listed, with commas between. */
  'GET shelves/[shelf]/items': endpoint(({ house, params, query }) => house.study({ ask: 'items', shelfId: params.shelf!, query: itemQuery(query) })),
  'GET shelves/[shelf]/history': endpoint(({ house, params }) => house.study({ ask: 'stock-history', shelfId: params.shelf! })),
  'GET shelves/[shelf]/among': endpoint(({ house, params }) => house.study({ ask: 'stock-among', shelfId: params.shelf! })),
  'GET shelves/[shelf]/folders': endpoint(({ house, params, query }) =>
    house.study({ ask: 'shelf-folders', shelfId: params.shelf!, path: query.get('path') ?? '' }),
  ),
  'GET shelves/[shelf]/stocktake': endpoint(({ house, params, query }) =>
    stocktakeNow(house, { shelfId: params.shelf, atEnd: query.get('wait') === 'end' }),
  ),
  'POST shelves/[shelf]/stocktake': endpoint(({ house, actor, params }) => startStocktake(house, actor, { shelfId: params.shelf })),
  'DELETE shelves/[shelf]/stocktake': endpoint(({ house, actor, params }) => cancelStocktake(house, actor, { shelfId: params.shelf })),
  /** What of this machine may hold media and is not on the list yet. */
  'GET places': endpoint(({ house }) => house.study({ ask: 'seen-places' })),
  /** Folders of this machine in which a shelf may be registered. */
  'GET folders': endpoint(({ house, query }) => house.study({ ask: 'folders', path: query.get('path') })),
  'POST bay/[drive]': endpointWithBody(forms.plugSchema, ({ house, actor, params, body }) =>
    setPlugged(house, actor, { drive: params.drive, plugged: body.plugged }),
  ),
  /** Over all shelves: where is a file? */
  'GET items': endpoint(({ house, query }) => house.study({ ask: 'items', shelfId: null, query: itemQuery(query) })),
  'GET items/[item]': endpoint(({ house, params }) => itemView(house, params.item)),
  'GET items/[item]/poster': endpoint(async ({ house, params, query, request }) =>
    picture(await posterOf(house, params.item, Number(query.get('frame') ?? 0), request.signal), 'image/jpeg'),
  ),
  /** The file itself where a browser plays it, or a small preview of it; parts of it on request. */
  'GET items/[item]/media': endpoint(async ({ house, params, request }) => {
    const { path, type } = await playableOf(house, params.item, request.signal);
    return fileAnswer(path, type, request);
  }),
  'GET items/[item]/sample': endpoint(({ house, params, query, request }) => measureSample(house, params.item, tryRecipe(query), request.signal)),
  'GET items/[item]/sample-picture': endpoint(async ({ house, params, query, request }) =>
    picture(await samplePicture(house, params.item, sampleRecipe(query), request.signal), 'image/png'),
  ),
  /** What would happen now. Free and harmless. */
  'POST plans': endpointWithBody(
    forms.planRequestSchema,
    ({ house, body: { projectId, ...request } }) => house.study({ ask: 'plan', projectId, request }),
    LARGEST_LIST_BYTES,
  ),
  /** A window of what a plan lists: the clips of a reason, the files of a folder. */
  'POST plans/rows': endpointWithBody(
    forms.planRowsSchema,
    ({ house, body: { projectId, kind, settings, group, ...query } }) =>
      house.study({ ask: 'plan-rows', projectId, request: { kind, settings } as PlanRequest, group, query: mustBeQuery(kind, query) }),
    LARGEST_LIST_BYTES,
  ),
  /** The plan as a text to keep, without running it: `csv` or `html`. */
  'POST plans/keep': endpointWithBody(
    forms.keepPlanSchema,
    async ({ house, body: { projectId, as, ...request } }) => {
      const { text } = await house.ask({ ask: 'plan-text', projectId, request, as });
      return attachment(text, as === 'csv' ? 'text/csv' : 'text/html', `${request.kind}-plan.${as}`);
    },
    LARGEST_LIST_BYTES,
  ),
  /** A window of the runs of a project (`?project=`) or of all, newest first; `?stocktakes=true`: those too that look through shelves. */
  'GET runs': endpoint(({ house, query }) => {
    const { total, rows } = house.catalogue.runs.window(query.get('project'), windowOf(query, ['id']), query.get('stocktakes') === 'true');
    return { total, rows: rows.map((run) => runSummary(house, run)) };
  }),
  /** Runs the plan that was read: refused when the plan would be another one by now. */
  'POST runs': endpointWithBody(
    forms.runRequestSchema,
    ({ house, actor, body: { projectId, digest, ...request } }) => beginRun(house, actor, { projectId, request, digest }),
    LARGEST_LIST_BYTES,
  ),
  /** The run with its receipt. `wait=end` answers when it is over. */
  'GET runs/[run]': endpoint(({ house, params, query }) => runView(house, params.run, query.get('wait') === 'end')),
  /** A window of its journal, step by step. */
  'GET runs/[run]/steps': endpoint(({ house, params, query }) =>
    house.study({ ask: 'steps', runId: runOf(house, params.run).id, query: windowOf(query, ['ordinal']) }),
  ),
  'POST runs/[run]/pause': endpoint(({ house, actor, params }) => orderRun(house, actor, { id: params.run, order: 'pause' })),
  'POST runs/[run]/resume': endpoint(({ house, actor, params }) => orderRun(house, actor, { id: params.run, order: 'resume' })),
  'POST runs/[run]/cancel': endpoint(({ house, actor, params }) => orderRun(house, actor, { id: params.run, order: 'cancel' })),
  'POST runs/[run]/priority': endpointWithBody(forms.runPrioritySchema, ({ house, actor, params, body }) =>
    preferRun(house, actor, { id: params.run, priority: body.priority }),
  ),
  'GET schemes': endpoint(({ house }) => listSchemes(house)),
  'POST schemes': endpointWithBody(newSchemeForm, ({ house, actor, body }) => addScheme(house, actor, body)),
  'POST schemes/import': endpointWithBody(schemeFileForm, ({ house, actor, body }) => importScheme(house, actor, body)),
  'PUT schemes/[scheme]': endpointWithBody(changedSchemeForm, ({ house, actor, params, body }) =>
    changeScheme(house, actor, { id: params.scheme, change: body }),
  ),
  'DELETE schemes/[scheme]': endpoint(({ house, actor, params, query }) =>
    removeScheme(house, actor, { id: params.scheme, revision: query.has('revision') ? Number(query.get('revision')) : null }),
  ),
  'GET schemes/[scheme]/file': endpoint(({ house, params }) => {
    const { name, text } = schemeFile(house, params.scheme);
    return attachment(text, 'application/json', name);
  }),
  'GET card-rules': endpoint(({ house }) => cardRules(house)),
  'POST card-rules': endpointWithBody(cardRuleForm, ({ house, actor, body }) => addCardRule(house, actor, body)),
  'DELETE card-rules/[rule]': endpoint(({ house, actor, params }) => removeCardRule(house, actor, { id: Number(params.rule) })),
  'GET bridges': endpoint(({ house }) => bridgesHere(house)),
  /** Takes the body as it is into a file of the server, so that a large one is never held in memory. */
  'POST uploads': endpoint(({ house, actor, query, request }) => addUpload(house, actor, { body: request.body, name: query.get('name') ?? 'file' })),
} satisfies Readonly<Record<string, Endpoint<unknown, unknown>>>;

export type Routes = typeof ROUTES;
