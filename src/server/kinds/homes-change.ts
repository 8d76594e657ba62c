/** Kinds of renditions get another home, and what takes that back. */
import { samePlace } from '../../core/media/item';
import type { HomesChange } from '../../core/planning/taking/homes';
import { edited, HOME_KINDS, type Homes, type HomesEdit } from '../../core/rendition/homes';
import type { CatalogueChange } from '../../core/planning/plan/step';
import { StepFailure } from '../errors/explain-error';
import type { ChangeMaker } from '../actions/step-context';

/** Homes as they were; kinds whose home is another one by now are left so. */
interface HomesBack extends CatalogueChange {
  readonly type: 'homes-back';
  readonly before: HomesEdit;
  readonly only: Homes;
}

const homes: ChangeMaker<HomesChange> = {
  make(change, context) {
    const project = context.catalogue.projects.get(context.catalogue.runs.get(context.runId)?.projectId ?? '');
    if (!project) throw new StepFailure('The project was removed meanwhile.');
    const { id, homes: old } = project;
    context.catalogue.projects.setHomes(id, edited(old, change.homes));
    const before = Object.fromEntries(HOME_KINDS.flatMap((kind) => (change.homes[kind] ? [[kind, old[kind] ?? null]] : [])));
    return { bytes: 0, checked: 'kept with the project', back: { type: 'homes-back', before, only: change.homes } satisfies HomesBack };
  },
};

const homesBack: ChangeMaker<HomesBack> = {
  make({ before, only }, { catalogue, runId }) {
    const project = catalogue.projects.get(catalogue.runs.get(runId)?.projectId ?? '');
    if (!project) return { bytes: 0, checked: 'they went with their project' };
    const { id, homes: now } = project;
    const own = HOME_KINDS.filter((kind) => before[kind] !== undefined && samePlace(now[kind] ?? null, only[kind] ?? null));
    catalogue.projects.setHomes(id, edited(now, Object.fromEntries(own.map((kind) => [kind, before[kind] ?? null]))));
    return { bytes: 0, checked: 'as they were' };
  },
};

export const homesChanges = { homes, 'homes-back': homesBack };
