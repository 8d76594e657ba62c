/** A folder that a run alone writes to is taken as the run is entered: of two houses, or two plans, one gets it. */
import { mkdirSync } from 'node:fs';
import { dirname } from 'node:path';
import { fileName, type Place } from '../../core/media/item';
import type { RecordCrate } from '../../core/planning/crate/crate-label';
import type { Plan } from '../../core/planning/plan/plan';
import type { Catalogue } from '../catalogue/catalogue';
import type { Mounts } from '../stock/mounts';
import { explainError, RunRefused } from '../errors/explain-error';

/** The folder of a crate; null for plans that write among other files. */
export function claimOf(plan: Plan): Place | null {
  for (const step of plan.steps) if (step.action === 'link' && step.change.type === 'record-crate') return (step.change as RecordCrate).root;
  return null;
}

/** Makes the folder, which must not be there; an undo removes it when it is empty. Throws RunRefused. */
export function claimFolder(folder: Place, runId: number, { catalogue, mounts }: { readonly catalogue: Catalogue; readonly mounts: Mounts }): void {
  const path = mounts.resolve(folder);
  try {
    mkdirSync(dirname(path), { recursive: true });
    mkdirSync(path);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'EEXIST')
      throw new RunRefused(`A folder "${fileName(folder.path)}" was made there meanwhile, perhaps by another Mill Shelf. Choose another name.`);
    throw new RunRefused(explainError(error));
  }
  catalogue.runs.addFolder(runId, folder);
}
