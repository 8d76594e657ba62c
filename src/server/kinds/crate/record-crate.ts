/** A crate that is whole is entered in the project; undoing or doubting it takes it out again. */
import type { ForgetCrate, RecordCrate } from '../../../core/planning/crate/crate-label';
import { isPayload } from '../../../core/manifest/bag';
import { madeFiles } from '../../runs/made-files';
import { presentNumbers, sequenceName } from '../../../core/media/image-sequence';
import { below } from '../../../core/media/item';
import { portablePrefix } from '../../../core/naming/safe-name';
import { recordMade } from '../../runs/checksums';
import { enterCopy } from '../adopt/enter-copy';
import type { ChangeContext, ChangeMaker } from '../kind';

export const recordCrate: ChangeMaker<RecordCrate> = {
  make(change, context) {
    const { catalogue, runId, journal } = context;
    enterCopies(context);
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

/** Its whole files are copies of what they were taken from: they are read where nothing else is attached. */
function enterCopies(context: ChangeContext): void {
  const { catalogue, journal, runId } = context;
  for (const { step, state } of journal()) {
    if (state !== 'done' || !step.from || !step.to) continue;
    if (step.action === 'copy') {
      const item = catalogue.items.at(step.from);
      if (item) enterCopy(item, step.to, null, context);
    } else if (step.action === 'frames' && step.names.length === presentNumbers(step.sequence).length) {
      const sequence = { ...step.sequence, prefix: portablePrefix(step.sequence.prefix) };
      const item = catalogue.items.at(below(step.from, sequenceName(step.sequence)));
      if (item) enterCopy(item, below(step.to, sequenceName(sequence)), sequence, context);
    }
  }
  recordMade(runId, catalogue);
}

export const forgetCrate: ChangeMaker<ForgetCrate> = {
  make({ crateId }, { catalogue }) {
    catalogue.crates.remove(crateId);
    return { bytes: 0, checked: 'taken out of the list' };
  },
};
