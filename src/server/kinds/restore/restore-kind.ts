import { createHash } from 'node:crypto';
import { planRestore, type RestoreDetail } from '../../../core/planning/restore/restore';
import { restoreForm, type RestoreSettings } from '../../../core/planning/restore/settings';
import type { Catalogue } from '../../catalogue/catalogue';
import { defineKind } from '../kind';
import { openCrate } from './open-crate';
import { readCrate } from '../../bundles/read-crate';

export const restoreKind = defineKind<RestoreSettings, RestoreDetail>()({
  form: restoreForm,
  undoable: false,
  changes: { 'open-crate': openCrate },
  async plan({ catalogue, mounts }, settings) {
    const crate = await readCrate(mounts, settings.crate);
    const name = settings.projectName?.trim() || freeName(catalogue, crate.projectName);
    return planRestore(crate, freeId(catalogue, [crate.root, name, crate.entries]), name);
  },
});

/** The project's id follows from what is opened, so that the plan read and the plan run are the same; each opening is a project of its own. */
function freeId(catalogue: Catalogue, seed: unknown): string {
  for (let number = 1; ; number++) {
    const hex = createHash('sha256')
      .update(JSON.stringify([seed, number]))
      .digest('hex');
    const id = `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20, 32)}`;
    if (!catalogue.projects.get(id)) return id;
  }
}

/** The name itself, or with where it came from when a project is called that already. */
function freeName(catalogue: Catalogue, name: string): string {
  const taken = new Set(catalogue.projects.list().map((project) => project.name));
  if (!taken.has(name)) return name;
  for (let number = 1; ; number++) {
    const other = `${name}, from a crate${number === 1 ? '' : ` ${number}`}`;
    if (!taken.has(other)) return other;
  }
}
