/** A stocktake in a thread of its own: a drive that is slow, or does not answer, holds up nothing but this. */
import { join } from 'node:path';
import type { MessagePort } from 'node:worker_threads';
import { Catalogue } from '../../catalogue/catalogue';
import type { Config } from '../../config';
import { DriveBay } from '../../devices/drive-bay';
import { log } from '../../log/log';
import { mustStop, type SharedControl } from '../../threads/control';
import { readSigns, spaceAt, standsAt } from '../../stock/mounts';
import { newStocktaking, takeStock, type Stocktaking } from '../../stock/stocktake';

export interface StockJob {
  readonly config: Config;
  readonly shelfId: string;
  readonly root: string;
  readonly control: SharedControl;
  /** Is told how far it is. */
  readonly port: MessagePort;
}

/** How often it is told how far it is, and looked whether it is to wait or to stop. */
const TELL_MS = 200;

export default async function stock({ config, shelfId, root, control, port }: StockJob): Promise<Stocktaking> {
  log.level = config.logLevel;
  const catalogue = Catalogue.open(join(config.dataFolder, 'catalogue.sqlite'), true);
  const progress = newStocktaking();
  const stop = new AbortController();
  let isTold = true;
  const look = () => {
    // Waits here while it is told to, with all that is in hand.
    if (mustStop(control)) stop.abort();
    if (!isTold) port.postMessage(progress);
    isTold = true;
  };
  const timer = setInterval(look, TELL_MS);
  try {
    look();
    const signs = readSigns(join(config.dataFolder, 'mounts.json'));
    const stands = () => standsAt(root, shelfId, signs);
    await takeStock(catalogue, { shelfId, root, stands }, progress, () => (isTold = false), stop.signal);
    const space = await spaceAt(root, config.bayFolder ? new DriveBay(config.bayFolder) : null).catch(() => null);
    if (space && progress.state === 'done') catalogue.shelves.sawIfRoom(shelfId, new Date().toISOString(), space.capacityBytes, space.freeBytes);
    return progress;
  } finally {
    clearInterval(timer);
    port.close();
    catalogue.close();
  }
}
