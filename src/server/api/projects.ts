import { randomUUID } from 'node:crypto';
import { rate } from '../../core/time/rate';
import { edited } from '../../core/rendition/homes';
import { canDropFrame } from '../../core/time/rate';
import type { House } from '../house';
import { CLIP_SORTS } from '../projects/clip-views';
import { endpoint, endpointWithBody, LARGEST_LIST_BYTES } from './endpoint';
import { mustHave, notFound, Problem } from './problem';
import { newProjectForm, projectEditForm } from '../../core/forms/project-forms';
import { readFrom } from '../projects/copies-view';
import { unmatchClips } from '../projects/unmatch';
import { changeClipsSchema, clipQuerySchema, rememberSchema } from './schemas';
import { windowOf } from './window';

export function projectOf(house: House, id: string | undefined) {
  const project = house.catalogue.projects.get(id ?? '');
  if (!project) throw notFound('project');
  return project;
}

export const listProjects = endpoint(({ house }) => house.study({ ask: 'projects' }));

export const addProject = endpointWithBody(newProjectForm, ({ house, body }) => {
  const own = rate(body.rate.num, body.rate.den);
  if (body.dropFrame && !canDropFrame(own))
    throw new Problem(400, 'no-drop-frame', 'Drop-frame timecode exists only at 29.97, 59.94 and 119.88.', 'Choose non-drop-frame.');
  const id = randomUUID();
  house.catalogue.projects.add({ id, name: body.name.trim(), rate: own, dropFrame: body.dropFrame, createdAt: new Date().toISOString() });
  house.tell({ type: 'changed' });
  return { id };
});

export const getProject = endpoint(({ house, params }) => house.study({ ask: 'project', projectId: params.project! }));

export const editProject = endpointWithBody(projectEditForm, ({ house, params, body }) => {
  const { id, homes } = projectOf(house, params.project);
  if (body.name !== undefined) house.catalogue.projects.rename(id, body.name.trim());
  if (body.readOrder !== undefined) house.catalogue.projects.readIn(id, body.readOrder);
  if (body.drives !== undefined) {
    const listed = new Set(house.catalogue.shelves.list().map((shelf) => shelf.id));
    if (body.drives.some((drive) => !listed.has(drive))) throw notFound('shelf');
    house.catalogue.projects.readFrom(id, body.drives);
  }
  if (body.homes !== undefined) {
    const listed = new Set(house.catalogue.shelves.list().map((shelf) => shelf.id));
    if (Object.values(body.homes).some((home) => home && !listed.has(home.shelfId))) throw notFound('shelf');
    house.catalogue.projects.settle(id, edited(homes, body.homes));
  }
  house.tell({ type: 'changed' });
});

/** Takes the project out of the catalogue. No file is touched; its receipts stay. */
export const removeProject = endpoint(({ house, params }) => {
  const project = projectOf(house, params.project);
  const busy = house.catalogue.runs.unfinished().some((run) => run.projectId === project.id);
  if (busy) throw new Problem(409, 'busy', 'A run of this project is going on.', 'Cancel it or wait for its end.');
  house.catalogue.projects.remove(project.id);
  house.tell({ type: 'changed' });
});

export const duplicateProject = endpoint(({ house, params }) => {
  const project = projectOf(house, params.project);
  const id = randomUUID();
  const { catalogue } = house;
  catalogue.transaction(() => {
    catalogue.projects.add({ ...project, id, name: `${project.name} copy`, createdAt: new Date().toISOString() });
    catalogue.bins.duplicate(project.id, id);
    const clips = catalogue.clips.duplicate(project.id, id, randomUUID);
    catalogue.timelines.duplicate(project.id, id, clips, randomUUID);
  });
  house.tell({ type: 'changed' });
  return { id };
});

export const openProject = endpoint(({ house, params }) => {
  house.catalogue.projects.touch(projectOf(house, params.project).id, new Date().toISOString());
});

export const remember = endpointWithBody(rememberSchema, ({ house, params, body }) => {
  if (!house.catalogue.projects.remember(projectOf(house, params.project).id, body.name, body.value))
    throw new Problem(413, 'remembers-too-much', 'More choices are kept for this project than can be.', 'Let go of some: of rows moved by hand, or choices event by event.'); // prettier-ignore
});

export const getOverview = endpoint(({ house, params }) => house.study({ ask: 'overview', projectId: params.project! }));

/** A window of the clips, with `bin=` (and bins below), `state=` (or `offline`) and `ids=` (with commas between) if wished. */
export const listClips = endpoint(({ house, params, query }) => {
  const checked = clipQuerySchema.validate({ bin: query.get('bin') ?? '', state: query.get('state') ?? '', ids: query.get('ids') });
  if (checked.error) throw new Problem(400, 'bad-query', checked.error.message, 'Clips are asked for by bin, state and ids.');
  const { ids, ...where } = checked.value;
  return house.study({
    ask: 'clips',
    projectId: params.project!,
    query: { ...windowOf(query, CLIP_SORTS), ...where, ids: ids?.split(',').filter((id) => id !== '') ?? null },
  });
});

/** Where the files of a clip stand: copies of its source, parts, earlier deliveries. */
export const listClipFiles = endpoint(({ house, params }) => house.study({ ask: 'clip-files', projectId: params.project!, clipId: params.clip! }));

export const setClipsAside = endpointWithBody(
  changeClipsSchema,
  ({ house, params, body }) => {
    const project = projectOf(house, params.project);
    mustHave(house.catalogue.clips.ids(project.id), body.clipIds, 'clip');
    if (body.readFrom !== undefined) {
      const [clipId = ''] = body.clipIds;
      if (!readFrom(house.catalogue, clipId, body.readFrom))
        throw new Problem(409, 'no-copy', 'No copy of this clip stands there.', 'Look at its copies again.');
      house.tell({ type: 'changed' });
      return { changed: 1 };
    }
    const changed = body.unmatch
      ? unmatchClips(house.catalogue, project.id, body.clipIds)
      : house.catalogue.clips.setAside(project.id, body.clipIds, body.setAside ?? false);
    house.tell({ type: 'changed' });
    return { changed };
  },
  LARGEST_LIST_BYTES,
);
