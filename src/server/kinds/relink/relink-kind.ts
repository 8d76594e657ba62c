import { findOffline, planRelink, wantedByRelink } from '../../../core/planning/relink/relink';
import { relinkForm, type RelinkSettings } from '../../../core/planning/relink/settings';
import { sourceState } from '../../../core/project/clip';
import { lookAt, narrowedToUses } from '../../projects/snapshot';
import type { Kind } from '../kind';
import { noProject } from '../project-snapshot';
import { relinkChange } from './relink-change';
import { firstRows, isRelink, reasonWindow } from './relink-rows';

export const relinkKind: Kind<RelinkSettings> = {
  form: relinkForm,
  undoable: true,
  changes: { relink: relinkChange },
  isKept: true,
  rows: { sorts: ['name'], of: (plan, _, group, query) => reasonWindow(plan, group, query) },
  toTell: (plan) => (isRelink(plan) ? firstRows(plan.detail) : plan.detail),
  /** Reads the clips that are not there, and what may be they. */
  async plan({ catalogue, mounts, projectId }, settings) {
    if (projectId === null) throw noProject();
    const plan = await lookAt(catalogue, mounts, projectId, (whole, lines) => {
      const known = lines();
      const ids = known.clips.filter((clip) => sourceState(clip, known) !== 'present').map(({ id }) => id);
      const snapshot = narrowedToUses(catalogue, whole, ids);
      const offline = findOffline(snapshot);
      const attached = snapshot.shelves.filter((shelf) => shelf.attached).map((shelf) => shelf.id);
      const finder = catalogue.finder(attached, settings.scope);
      return planRelink(snapshot, settings, offline, new Map(wantedByRelink(offline).map((wanted) => [wanted.key, finder.find(wanted)])));
    });
    if (!plan) throw noProject();
    return plan;
  },
};
