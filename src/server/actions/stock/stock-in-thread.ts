/** Takes stock in a thread of its own; see stock.worker.ts. */
import { MessageChannel } from 'node:worker_threads';
import { NOTHING_COUNTED, type StocktakeFigures } from '../../../core/planning/stocktake/stocktake';
import type { StockJob } from './stock.worker';
import type { Stocktaking } from '../../stock/stocktake';
import { inThread } from '../../threads/pool';

/** A drive that does not answer keeps its thread. */
const MOST_THREADS = 64;
/** How long a stocktake that was told to stop may take to come to its end: after that its drive does not answer. */
const LAST_WAIT_MS = 5_000;

export interface Stocked {
  readonly state: Stocktaking['state'];
  readonly figures: StocktakeFigures;
}

/** Resolves when it is over, or was told to stop and does not answer. `tell` hears how far it is. */
export async function stockInThread(job: Omit<StockJob, 'port'>, signal: AbortSignal, tell: (figures: StocktakeFigures) => void): Promise<Stocked> {
  const { port1, port2 } = new MessageChannel();
  const limit = new AbortController();
  let timer: NodeJS.Timeout | null = null;
  const stop = () => (timer = setTimeout(() => limit.abort(), LAST_WAIT_MS));
  if (signal.aborted) stop();
  else signal.addEventListener('abort', stop, { once: true });
  port1.on('message', (progress: Stocktaking) => tell(figuresOf(progress)));
  try {
    const threads = { worker: 'stock', most: MOST_THREADS };
    const ended = await inThread<Stocktaking>(threads, { ...job, port: port2 } satisfies StockJob, limit.signal, [port2]);
    return { state: ended.state, figures: figuresOf(ended) };
  } catch (error) {
    if (!limit.signal.aborted) throw error;
    return { state: 'cancelled', figures: NOTHING_COUNTED };
  } finally {
    signal.removeEventListener('abort', stop);
    if (timer !== null) clearTimeout(timer);
    port1.close();
  }
}

function figuresOf({ state: _state, ...figures }: Stocktaking): StocktakeFigures {
  return figures;
}
