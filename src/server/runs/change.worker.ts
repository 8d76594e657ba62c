/** Changes of the catalogue that runs make, away from the server's event loop. */
import { join } from 'node:path';
import { Catalogue } from '../catalogue/catalogue';
import type { StepOutcome } from '../catalogue/step-outcome';
import type { Config } from '../config';
import { DriveBay } from '../devices/drive-bay';
import { actionOf } from '../actions/actions';
import { changeCatalogue } from '../actions/link/catalogue-change';
import { StepFailure } from '../errors/explain-error';
import { MAKERS } from '../kinds/kinds';
import { log } from '../log/log';
import { Mounts, ToldSilence } from '../stock/mounts';
import { tellTouchesIn } from '../stock/touching';

/** One change of the catalogue, or several steps of one action in one go. */
export interface ChangeJob {
  readonly config: Config;
  readonly runId: number;
  readonly ordinals: readonly number[];
  readonly together: boolean;
  /** Folders that do not answer. */
  readonly silent: readonly string[];
  /** Where it is told which folder is touched. */
  readonly touch: SharedArrayBuffer;
}

/** `failed`: why the one step cannot be done. Of several each has its own word in the journal. */
export type ChangeAnswer =
  | { readonly left: readonly number[] }
  | { readonly outcome: StepOutcome }
  | { readonly failed: string }
  | { readonly error: { readonly code: string; readonly message: string } };

let open: { readonly folder: string; readonly catalogue: Catalogue; readonly mounts: Mounts } | null = null;

const silence = new ToldSilence();

export default async function change({ config, runId, ordinals, together, silent, touch }: ChangeJob): Promise<ChangeAnswer> {
  log.level = config.logLevel;
  silence.folders = silent;
  tellTouchesIn(touch);
  try {
    if (open && open.folder !== config.dataFolder) {
      open.catalogue.close();
      open = null;
    }
    open ??= {
      folder: config.dataFolder,
      catalogue: Catalogue.open(join(config.dataFolder, 'catalogue.sqlite'), true),
      mounts: new Mounts(join(config.dataFolder, 'mounts.json'), config.roots, config.bayFolder ? new DriveBay(config.bayFolder) : null, silence),
    };
    open.mounts.reload();
    const { catalogue, mounts } = open;
    // A drive that does not answer is met here: within the transaction it would hold the catalogue of everybody.
    for (const { id } of catalogue.shelves.list()) mounts.rootOf(id);
    const context = { catalogue, places: mounts, runId, journal: () => catalogue.runs.steps(runId) };
    const rows = ordinals.map((ordinal) => catalogue.runs.step(runId, ordinal));
    if (together) return { left: await actionOf(rows[0]!.step).together!.work(rows, context, MAKERS) };
    return { outcome: changeCatalogue(rows[0]!, context, MAKERS) };
  } catch (error) {
    if (error instanceof StepFailure) return { failed: error.message };
    const { code, message } = error as { code?: unknown; message: string };
    return { error: { code: typeof code === 'string' ? code : '', message } };
  }
}
