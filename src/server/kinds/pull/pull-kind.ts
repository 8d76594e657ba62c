import { planPull } from '../../../core/planning/pull/pull';
import { pullForm, type PullSettings } from '../../../core/planning/pull/settings';
import type { Kind } from '../kind';
import { projectSnapshot } from '../project-snapshot';
import { standingIn } from '../standing';
import { takenCounts, takenRows } from '../taken-window';

export const pullKind: Kind<PullSettings> = {
  form: pullForm,
  undoable: true,
  rows: takenRows,
  toTell: takenCounts,
  async plan(asked, settings) {
    const snapshot = await projectSnapshot(asked, settings.timelineIds);
    return planPull(snapshot, settings, standingIn(asked.mounts, settings.destination, settings.folderName), asked.keepText);
  },
};
