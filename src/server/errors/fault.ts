/** Mistakes of ours keep their stack in the log; people get a name by which they are found there. */
import { randomBytes } from 'node:crypto';
import { log } from '../log/log';

/** Writes the error to the log, and gives the name it is noted under, as "F-3a9c1e". */
export function noteFault(error: unknown): string {
  const fault = `F-${randomBytes(3).toString('hex')}`;
  log.error({ fault, error }, 'a fault of ours');
  return fault;
}
