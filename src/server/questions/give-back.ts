/**
 * Threads wait for long, each with a heap of its own: what an answer was made with is given back while nobody asks, and
 * not only when that thread needs room again.
 */
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

const IDLE_MS = 300;
/** What is not needed any more is looked for when the heap has grown by so much since. */
const GROWN_BYTES = 24 * 1024 * 1024;

setFlagsFromString('--expose-gc');
const collect = runInNewContext('gc') as () => void;

let held = process.memoryUsage().heapUsed;
let timer: NodeJS.Timeout | null = null;

/** To be called after each answer. */
export function giveBackSoon(): void {
  if (timer) clearTimeout(timer);
  timer = setTimeout(() => {
    if (process.memoryUsage().heapUsed - held < GROWN_BYTES) return;
    collect();
    held = process.memoryUsage().heapUsed;
  }, IDLE_MS).unref();
}
