/**
 * The one log: a line of JSON each on standard error, with time, and the request, run and step it is about. What people read
 * stands elsewhere; this is for whoever looks after the machine.
 */
import { AsyncLocalStorage } from 'node:async_hooks';
import pino, { type Logger } from 'pino';

export const LOG_LEVELS = ['debug', 'info', 'warn', 'error', 'silent'] as const;
export type LogLevel = (typeof LOG_LEVELS)[number];

/** What the present work belongs to. */
export interface LogContext {
  readonly request?: string;
  readonly run?: number;
  readonly step?: number;
  readonly question?: string;
}

/** By registered symbols: the pages are bundled apart from the entry, and both write one log. */
const CONTEXT = Symbol.for('mill-shelf.log-context');
const LOG = Symbol.for('mill-shelf.log');
const global = globalThis as { [CONTEXT]?: AsyncLocalStorage<LogContext>; [LOG]?: Logger };
const context = (global[CONTEXT] ??= new AsyncLocalStorage<LogContext>());

export const log: Logger = (global[LOG] ??= pino(
  { level: 'warn', base: null, timestamp: pino.stdTimeFunctions.isoTime, errorKey: 'error', mixin: () => context.getStore() ?? {} },
  pino.destination({ dest: 2, sync: true }),
));

/** Work that is logged as part of what `of` names. */
export function logged<T>(of: LogContext, work: () => T): T {
  return context.run({ ...context.getStore(), ...of }, work);
}
