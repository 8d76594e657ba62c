/** A crate that is whole is entered in the project; undoing or doubting it takes it out again. */
import type { ForgetCrate, RecordCrate } from '../../../core/planning/crate/crate-label';
import { isPayload } from '../../../core/manifest/bag';
import { madeFiles } from '../../runs/made-files';
import type { ChangeMaker } from '../kind';

export const recordCrate: ChangeMaker<RecordCrate> = {
  make(change, { catalogue, runId, journal }) {
    // What it carries, as its manifest, its report and any tool for bags count it.
    const files = madeFiles(journal(), change.root.path, () => '').filter(isPayload);
    catalogue.crates.add({
      id: change.crateId,
      projectId: catalogue.runs.get(runId)?.projectId ?? null,
      runId,
      name: change.name,
      place: change.root,
      holds: change.holds ?? null,
      files: files.length,
      bytes: files.reduce((sum, file) => sum + file.bytes, 0),
      madeAt: new Date().toISOString(),
    });
    return { bytes: 0, checked: `${files.length} files`, back: { type: 'forget-crate', crateId: change.crateId } satisfies ForgetCrate };
  },
  // It is no safe copy until it is whole again.
  retract({ crateId }, catalogue) {
    catalogue.crates.remove(crateId);
  },
};

export const forgetCrate: ChangeMaker<ForgetCrate> = {
  make({ crateId }, { catalogue }) {
    catalogue.crates.remove(crateId);
    return { bytes: 0, checked: 'taken out of the list' };
  },
};
