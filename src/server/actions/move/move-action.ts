import { packIdentity } from '../../../core/media/identity';
import { below } from '../../../core/media/item';
import { moveBack, type MoveStep } from '../../../core/planning/plan/step';
import { ownShelf, type Action } from '../action';
import { moveFile } from './move';
import { moveFiles } from './move-files';
import { proveSources } from './prove-sources';

/** How many files get their new names before the journal is written: an end in their middle leaves little to take up. */
const AT_ONCE = 250;

export const moveAction: Action<MoveStep> = {
  execute: moveFile,
  occupies: (step) => [ownShelf(step)],
  together: {
    most: AT_ONCE,
    unit: 'files',
    allows: () => true,
    work: async (rows, context) => moveFiles(rows, context, await proveSources(rows, context.places)),
  },
  halfMade: ({ to, frames }) => (frames ? below(to!, 'frame') : to!),
  // The catalogue says where each file stands.
  takeUp: (rows, where) => void moveFiles(rows, where),
  // Between two names: it is quicker finished than taken back.
  finish(row, where) {
    if (row.pending === null || row.pending.sha256 !== undefined) return false;
    moveFiles([row], where);
    return true;
  },
  cancelledWhole: 'Cancelled when it was copied and not yet removed where it was: it stands in both places until the run is resumed or undone.',
  undo({ step, state, outcome, pending }, phase) {
    if (outcome?.left || (state !== 'done' && pending === null)) return null;
    const left = state === 'done' ? outcome : pending;
    const frames = left?.files?.every(({ identity }) => identity) ? left.files.map(({ identity }) => packIdentity(identity!)) : null;
    return moveBack(step, phase, { identity: left?.identity ?? null, frames }, state !== 'done');
  },
};
