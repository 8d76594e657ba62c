/** A catalogue that another writes to is waited for. */
import { setTimeout as wait } from 'node:timers/promises';
import { isBusy } from '../errors/storage-errors';

interface Patience {
  /** Milliseconds to wait at most; no limit if absent. */
  readonly mostMs?: number;
  readonly pauseMs: number;
  /** Whether it may be tried again; always where it is left out. */
  readonly may?: () => boolean;
}

/** Does the work, again and again while the catalogue is busy. Rejects as the work does otherwise. */
export async function whenFree<T>(work: () => T | Promise<T>, { mostMs = Infinity, pauseMs, may = () => true }: Patience): Promise<T> {
  const since = Date.now();
  for (;;) {
    try {
      return await work();
    } catch (error) {
      if (!isBusy(error) || Date.now() - since > mostMs || !may()) throw error;
      await wait(pauseMs);
    }
  }
}
