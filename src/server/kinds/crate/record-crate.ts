/** A crate that is whole is entered in the project; undoing or doubting it takes it out again. */
import type { EnterCopies, ForgetCrate, RecordCrate } from '../../../core/planning/crate/crate-label';
import type { CrateHolds } from '../../../core/planning/crate/crate-words';
import type { StepRow } from '../../catalogue/runs';
import { CRATE_FORMAT } from '../../../core/archive/archive-formats';
import { madeFiles } from './made-files';
import { presentNumbers, sequenceName } from '../../../core/media/image-sequence';
import { below, joinPath } from '../../../core/media/item';
import { portablePrefix } from '../../../core/naming/safe-name';
import { recordMade, recordSequences } from '../../stock/checksums';
import { localDay } from '../../../core/time/local-day';
import { StepFailure } from '../../errors/explain-error';
import { stockFolder } from '../../stock/stock-folder';
import { enterCopy } from '../adopt/enter-copy';
import type { ChangeContext, ChangeMaker } from '../../actions/step-context';

/** Whoever finds that what a crate was made of is another by now. */
const THIS_HOUSE = 'this machine';

/** Its whole files are copies of what they were taken from: they are read where nothing else is attached. */
export const enterCopies: ChangeMaker<EnterCopies> = {
  make(_change, context) {
    const { catalogue, journal } = context;
    let entered = 0;
    for (const { step, state } of journal()) {
      if (state !== 'done' || !step.from || !step.to) continue;
      if (step.action === 'copy') {
        const item = catalogue.items.at(step.from);
        if (!item) continue;
        enterCopy(item, step.to, null, context);
        entered++;
      } else if (step.action === 'frames' && step.names.length === presentNumbers(step.sequence).length) {
        const sequence = { ...step.sequence, prefix: portablePrefix(step.sequence.prefix) };
        const item = catalogue.items.at(below(step.from, sequenceName(step.sequence)));
        if (!item) continue;
        enterCopy(item, below(step.to, sequenceName(sequence)), sequence, context);
        entered++;
      }
    }
    return { bytes: 0, checked: `${entered} sources have a copy more` };
  },
};

export const recordCrate: ChangeMaker<RecordCrate> = {
  toTell: ({ carries: _carries, ...change }) => change,
  // Cuts, timelines and lists too: what the stock lists of it is what it holds.
  onDisk: { at: ({ root }) => [root], work: ({ root }, { catalogue, places }) => stockFolder(catalogue, places, root) },
  make(change, context) {
    const { catalogue, runId, journal } = context;
    const actor = catalogue.runs.actorOf(runId);
    recordSums(context);
    const made = madeFiles(journal(), change.root.path, () => '');
    const listed = recordSequences(change.root, new Map(made.map(({ path, sha256 }) => [joinPath(change.root.path, path), sha256])), catalogue);
    // What it carries, as its manifest, its report and any tool for bags count it.
    const files = made.filter(CRATE_FORMAT.isPayload);
    const now = new Date().toISOString();
    catalogue.crates.add(
      {
        id: change.crateId,
        projectId: catalogue.runs.get(runId)?.projectId ?? null,
        runId,
        name: change.name,
        place: change.root,
        holds: holdsNow(change.holds ?? null, journal()),
        files: files.length,
        bytes: files.reduce((sum, file) => sum + file.bytes, 0),
        madeAt: now,
        // Every file of it was read back as it was made.
        checkedAt: now,
        about: change.about ?? {},
      },
      change.carries ?? { timelines: [], clips: [] },
      actor,
    );
    catalogue.crates.checked(change.crateId, change.root, now, listed, actor);
    return { bytes: 0, checked: `${files.length} files`, back: { type: 'forget-crate', crateId: change.crateId } satisfies ForgetCrate };
  },
  // Not a safe copy until it is complete again.
  retract({ crateId }, catalogue) {
    catalogue.transaction(() => catalogue.crates.takeBack(crateId, 'retracted', THIS_HOUSE));
  },
};

/** What turned out to be damaged as it was taken is no media that the crate holds. */
function holdsNow(holds: CrateHolds | null, journal: readonly StepRow[]): CrateHolds | null {
  const damaged = journal.filter(({ state, outcome }) => state === 'done' && outcome?.damaged).length;
  return holds === null || damaged === 0 ? holds : { ...holds, lacks: { ...holds.lacks, damaged: (holds.lacks.damaged ?? 0) + damaged } };
}

/** Checksums of all that the run wrote, copies and cuts and lists alike. */
function recordSums({ catalogue, runId, journal }: ChangeContext): void {
  const now = new Date().toISOString();
  for (const { step, state, outcome } of journal())
    if (state === 'done' && step.to && outcome?.sha256 && outcome.identity)
      catalogue.items.recordChecksum(step.to, outcome.identity, outcome.sha256, now);
  recordMade(runId, catalogue);
}

export const forgetCrate: ChangeMaker<ForgetCrate> = {
  make({ crateId }, { catalogue, runId }) {
    const crate = catalogue.crates.get(crateId);
    // Locked or handed over while the run waited. It stays on the list, which keeps its files.
    if (crate && catalogue.crates.keptAt(below(crate.place, 'data'), localDay(new Date())) !== null)
      throw new StepFailure(
        `The crate ${crate.name} was locked or handed over meanwhile. Its files stay. Unlock it in Crates made, then undo again.`,
      );
    catalogue.crates.takeBack(crateId, 'undone', catalogue.runs.actorOf(runId));
    return { bytes: 0, checked: 'taken out of the list' };
  },
};
