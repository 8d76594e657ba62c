import { planPull } from '../../../core/planning/pull/pull';
import { pullForm, type PullSettings } from '../../../core/planning/pull/settings';
import { below } from '../../../core/media/item';
import { warns, type Finding } from '../../../core/words/finding';
import { plural, oneOrMany } from '../../../core/words/figures';
import { defineKind } from '../kind';
import { projectSnapshot } from '../project-snapshot';
import { standingIn } from '../standing';
import { takenCounts, takenRows } from '../taken-window';
import type { TakenDetail } from '../../../core/planning/taking/taken';

export const pullKind = defineKind<PullSettings, TakenDetail>()({
  form: pullForm,
  undoable: true,
  rows: takenRows,
  toTell: takenCounts,
  async plan(asked, settings) {
    const snapshot = await projectSnapshot(asked, settings.timelineIds);
    const plan = planPull(snapshot, settings, standingIn(asked.mounts, settings.destination, settings.folderName), asked.keepText);
    const root = settings.destination && below(settings.destination, settings.folderName);
    const [broken] = root ? asked.catalogue.outcomes.brokenOffIn(root, plan.kind, plan.steps) : [];
    return broken ? { ...plan, findings: [leftThere(broken), ...plan.findings] } : plan;
  },
});

/** What a run left that did not come to its end: the same once more would stand beside it. */
function leftThere({ id, files }: { readonly id: number; readonly files: number }): Finding {
  const message = `Run ${id} broke off and left ${plural(files, 'file')} of these in that folder: the new ones would stand beside ${oneOrMany(files, 'it', 'them')} under other names.`;
  return warns('left-there', message, `Resume run ${id}, or undo it, which takes them away. Or choose another folder.`);
}
