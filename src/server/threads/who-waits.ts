/** Whoever waits for an answer: what nobody waits for any more need not be begun. */
import { AsyncLocalStorage } from 'node:async_hooks';

/** Known by a registered symbol: the pages are bundled apart from the entry. */
const WAITING = Symbol.for('mill-shelf.who-waits');
const global = globalThis as { [WAITING]?: AsyncLocalStorage<AbortSignal> };
const waiting = (global[WAITING] ??= new AsyncLocalStorage<AbortSignal>());

/** Work that is done for somebody, until `gone` is aborted. */
export function waitedFor<T>(gone: AbortSignal, work: () => T): T {
  return waiting.run(gone, work);
}

/** Aborted when whoever waits for the present work has gone; undefined where that cannot be told. */
export function gone(): AbortSignal | undefined {
  return waiting.getStore();
}
