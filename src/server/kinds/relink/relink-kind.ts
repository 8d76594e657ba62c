import { findOffline, planRelink, wantedByRelink } from '../../../core/planning/relink/relink';
import { relinkForm, type RelinkSettings } from '../../../core/planning/relink/settings';
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
    const plan = await lookAt(catalogue, mounts, projectId, (whole) => {
      const attached = whole.shelves.filter((shelf) => shelf.attached).map((shelf) => shelf.id);
      const snapshot = narrowedToUses(catalogue, whole, catalogue.clips.mayBeAway(projectId, attached));
      const offline = findOffline(snapshot);
      const finder = catalogue.finder(attached, settings.scope);
      const wanted = new Map(wantedByRelink(offline).map((own) => [own.key, own]));
      const get = (key: string) => (wanted.has(key) ? finder.find(wanted.get(key)!) : undefined);
      return planRelink(snapshot, settings, offline, { get });
    });
    if (!plan) throw noProject();
    return plan;
  },
};
