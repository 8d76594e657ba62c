/** Changes of the catalogue that runs make, away from the server's event loop. */
import { join } from 'node:path';
import { Catalogue } from '../catalogue/catalogue';
import type { StepOutcome } from '../catalogue/runs';
import type { Config } from '../config';
import { DriveBay } from '../devices/drive-bay';
import { changeCatalogue, changeMany } from '../runs/catalogue-change';
import { StepFailure } from '../runs/explain-error';
import { moveFiles } from '../runs/move-files';
import { proveSources } from '../runs/prove-sources';
import { Mounts } from '../stock/mounts';

/** One step, or several that do not stand on each other. */
export interface ChangeJob {
  readonly config: Config;
  readonly runId: number;
  readonly ordinals: readonly number[];
}

/** `failed`: why the one step cannot be done. Of several each has its own word in the journal. */
export type ChangeAnswer =
  | { readonly left: readonly number[] }
  | { readonly outcome: StepOutcome | null }
  | { readonly failed: string }
  | { readonly error: { readonly code: string; readonly message: string } };

let open: { readonly folder: string; readonly catalogue: Catalogue; readonly mounts: Mounts } | null = null;

export default async function change({ config, runId, ordinals }: ChangeJob): Promise<ChangeAnswer> {
  try {
    if (open && open.folder !== config.dataFolder) {
      open.catalogue.close();
      open = null;
    }
    open ??= {
      folder: config.dataFolder,
      catalogue: Catalogue.open(join(config.dataFolder, 'catalogue.sqlite'), true),
      mounts: new Mounts(join(config.dataFolder, 'mounts.json'), config.roots, config.bayFolder ? new DriveBay(config.bayFolder) : null),
    };
    open.mounts.reload();
    const { catalogue, mounts } = open;
    const context = { catalogue, places: mounts, runId, journal: () => catalogue.runs.steps(runId) };
    const rows = ordinals.map((ordinal) => catalogue.runs.step(runId, ordinal));
    if (rows.every(({ step }) => step.action === 'move'))
      return { left: moveFiles(rows, { catalogue, places: mounts, runId }, await proveSources(rows, mounts)) };
    if (rows.length === 1) return { outcome: changeCatalogue(rows[0]!, context) };
    changeMany(rows, context);
    return { outcome: null };
  } catch (error) {
    if (error instanceof StepFailure) return { failed: error.message };
    const { code, message } = error as { code?: unknown; message: string };
    return { error: { code: typeof code === 'string' ? code : '', message } };
  }
}
