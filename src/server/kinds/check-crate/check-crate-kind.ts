import { statSync } from 'node:fs';
import { below, type Place } from '../../../core/media/item';
import { planCheckCrate, type CrateChecked, type CrateDoubted } from '../../../core/planning/check-crate/check-crate';
import type { CrateFiles } from '../../../core/planning/package/crate-content';
import { checkCrateForm, type CheckCrateSettings } from '../../../core/planning/check-crate/settings';
import { recordSequences } from '../../stock/checksums';
import { fingerprintFile } from '../../stock/fingerprint-file';
import type { Mounts } from '../../stock/mounts';
import { stockFolder } from '../../stock/stock-folder';
import type { Catalogue } from '../../catalogue/catalogue';
import { OWN_LIST } from '../../catalogue/crates';
import type { ChangeMaker } from '../../actions/step-context';
import { defineKind } from '../kind';
import { PlanRequestError } from '../../errors/problem';
import { readCrate } from '../../bundles/read-crate';

/** The stock sees what stands there before it is written down; the checksums were entered as each file was read. */
const crateChecked: ChangeMaker<CrateChecked> = {
  onDisk: { at: ({ root }) => [root], work: ({ root }, { catalogue, places }) => stockFolder(catalogue, places, root) },
  make({ crateId, root }, { catalogue, journal, runId }) {
    const now = new Date().toISOString();
    const sums = new Map<string, string>();
    for (const { step, outcome } of journal()) {
      if (step.action !== 'check' || !outcome?.sha256 || !outcome.identity) continue;
      catalogue.items.recordChecksum(step.from!, outcome.identity, outcome.sha256, now);
      sums.set(step.from!.path, outcome.sha256);
    }
    // The list of lists is listed nowhere; it was held against the one that was written.
    const own = catalogue.items.at(below(root, OWN_LIST)) ? [below(root, OWN_LIST).path] : [];
    catalogue.crates.checked(crateId, root, now, [...recordSequences(root, sums, catalogue), ...own], catalogue.runs.actorOf(runId));
    return { bytes: 0, checked: 'every file equals the manifest' };
  },
};

const crateDoubted: ChangeMaker<CrateDoubted> = {
  make({ crateId, found }, { catalogue, runId }) {
    catalogue.crates.doubt(crateId, found, catalogue.runs.actorOf(runId));
    return { bytes: 0, checked: found };
  },
};

export const checkCrateKind = defineKind<CheckCrateSettings, CrateFiles>()({
  form: checkCrateForm,
  undoable: false,
  changes: { 'crate-checked': crateChecked, 'crate-doubted': crateDoubted },
  async plan({ catalogue, mounts, projectId }, { crateId }) {
    const row = catalogue.crates.get(crateId);
    if (!row || (projectId !== null && row.projectId !== projectId)) throw new PlanRequestError('There is no such crate.');
    const { place, state } = catalogue.crates.standing(row);
    if (state === 'gone') throw new PlanRequestError(`The crate ${row.name} is not there any more.`);
    return planCheckCrate(await readCrate(mounts, place), { ...row, isRelisted: await isRelisted(row.id, place, catalogue, mounts) });
  },
});

/** By its bytes as they stand, not as the last stocktake saw them. */
async function isRelisted(crateId: string, root: Place, catalogue: Catalogue, mounts: Mounts): Promise<boolean> {
  const written = catalogue.crates.filesOf(crateId).find(({ path }) => path === OWN_LIST);
  // Made by an earlier version: its files are not recorded.
  if (!written?.content) return false;
  const path = mounts.resolve(below(root, OWN_LIST));
  const standing = statSync(path, { throwIfNoEntry: false });
  return !standing?.isFile() || (await fingerprintFile(path, standing.size)) !== written.content;
}
