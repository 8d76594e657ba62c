/** Projects: made, changed, opened, copied, taken out; and what is said of their clips. */
import { randomUUID } from 'node:crypto';
import { edited } from '../../core/rendition/homes';
import { canDropFrame, rate } from '../../core/time/rate';
import type { NewProject, ProjectEdit } from '../../core/forms/project-forms';
import type { Place } from '../../core/media/item';
import type { ProjectRow } from '../catalogue/projects';
import { mustHave, notFound, Problem } from '../errors/problem';
import { readFrom } from '../projects/copies-view';
import { unmatchClips } from '../projects/unmatch';
import type { Actor, House } from './use-case';

export function projectOf(house: House, id: string | undefined): ProjectRow {
  const project = house.catalogue.projects.get(id ?? '');
  if (!project) throw notFound('project');
  return project;
}

export function addProject(house: House, _actor: Actor, input: NewProject): { id: string } {
  const own = rate(input.rate.num, input.rate.den);
  if (input.dropFrame && !canDropFrame(own))
    throw new Problem('no-drop-frame', 'Drop-frame timecode exists only at 29.97, 59.94 and 119.88.', 'Choose non-drop-frame.');
  const id = randomUUID();
  house.catalogue.projects.add({ id, name: input.name.trim(), rate: own, dropFrame: input.dropFrame, createdAt: new Date().toISOString() });
  house.changed('projects');
  return { id };
}

export function editProject(house: House, _actor: Actor, { projectId, ...edit }: ProjectEdit & { readonly projectId: string }): void {
  const { id, homes } = projectOf(house, projectId);
  const { projects, shelves } = house.catalogue;
  const mustBeListed = (ids: readonly string[]) => {
    const listed = new Set(shelves.list().map((shelf) => shelf.id));
    if (!ids.every((shelf) => listed.has(shelf))) throw notFound('shelf');
  };
  if (edit.name !== undefined) projects.rename(id, edit.name.trim());
  if (edit.readOrder !== undefined) projects.readIn(id, edit.readOrder);
  if (edit.drives !== undefined) {
    mustBeListed(edit.drives);
    projects.readFrom(id, edit.drives);
  }
  if (edit.homes !== undefined) {
    mustBeListed(Object.values(edit.homes).flatMap((home) => (home ? [home.shelfId] : [])));
    projects.setHomes(id, edited(homes, edit.homes));
  }
  house.changed('projects', id);
}

/** Takes the project out of the catalogue. No file is touched; its receipts stay. */
export function removeProject(house: House, _actor: Actor, { projectId }: { readonly projectId: string }): void {
  const project = projectOf(house, projectId);
  const busy = house.catalogue.runs.unfinished().some((run) => run.projectId === project.id);
  if (busy) throw new Problem('busy', 'A run of this project is going on.', 'Cancel it or wait for its end.');
  house.catalogue.projects.remove(project.id);
  house.changed('projects');
}

export function duplicateProject(house: House, _actor: Actor, { projectId }: { readonly projectId: string }): { id: string } {
  const project = projectOf(house, projectId);
  const id = randomUUID();
  const { catalogue } = house;
  catalogue.transaction(() => {
    catalogue.projects.add({ ...project, id, name: `${project.name} copy`, createdAt: new Date().toISOString() });
    catalogue.bins.duplicate(project.id, id);
    const clips = catalogue.clips.duplicate(project.id, id, randomUUID);
    catalogue.timelines.duplicate(project.id, id, clips, randomUUID);
  });
  house.changed('projects');
  return { id };
}

export function openProject(house: House, _actor: Actor, { projectId }: { readonly projectId: string }): void {
  house.catalogue.projects.touch(projectOf(house, projectId).id, new Date().toISOString());
}

/** What a screen is to know again. */
export function remember(
  house: House,
  _actor: Actor,
  { projectId, name, value }: { readonly projectId: string; readonly name: string; readonly value: object },
): void {
  if (!house.catalogue.projects.remember(projectOf(house, projectId).id, name, value))
    throw new Problem('remembers-too-much', 'More choices are kept for this project than can be.', 'Let go of some: of rows moved by hand, or choices event by event.'); // prettier-ignore
}

export interface ClipsChange {
  readonly clipIds: readonly string[];
  readonly setAside?: boolean;
  readonly unmatch?: true;
  readonly readFrom?: Place | null;
}

/** Sets clips aside or asks for them again; takes back how they were matched; or says from where one is read. */
export function changeClips(
  house: House,
  _actor: Actor,
  { projectId, ...change }: ClipsChange & { readonly projectId: string },
): { changed: number } {
  const project = projectOf(house, projectId);
  const { catalogue } = house;
  mustHave(catalogue.clips.ids(project.id), change.clipIds, 'clip');
  const changed = changeOf();
  house.changed('clips', project.id);
  return { changed };

  function changeOf(): number {
    if (change.unmatch) return unmatchClips(catalogue, project.id, change.clipIds);
    if (change.readFrom === undefined) return catalogue.clips.setAside(project.id, change.clipIds, change.setAside ?? false);
    const [clipId = ''] = change.clipIds;
    if (!readFrom(catalogue, clipId, change.readFrom))
      throw new Problem('no-copy', 'No copy of this clip stands there.', 'Look at its copies again.');
    return 1;
  }
}
