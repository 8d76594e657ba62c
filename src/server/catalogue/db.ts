/** The database as its tables use it, and what its errors mean. */
import type Database from 'better-sqlite3';

export type Db = Database.Database;

/** Whether another held the catalogue for longer than one waits. */
export function isBusy(error: unknown): boolean {
  return codeOf(error).startsWith('SQLITE_BUSY');
}

/** Whether the catalogue could not be written because its disk is full, failing or read-only. */
export function isOutOfRoom(error: unknown): boolean {
  return /^SQLITE_(FULL|IOERR|READONLY)/.test(codeOf(error));
}

/** Writes what is only a help for later: at once or not at all, where another writes or there is no room. */
export function writeIfFree(db: Db, write: () => void): void {
  const usual = db.pragma('busy_timeout', { simple: true }) as number;
  db.pragma('busy_timeout = 0');
  try {
    write();
  } catch (error) {
    if (!isOutOfRoom(error) && !isBusy(error)) throw error;
  } finally {
    db.pragma(`busy_timeout = ${usual}`);
  }
}

function codeOf(error: unknown): string {
  const { code } = error as { code?: unknown };
  return typeof code === 'string' ? code : '';
}
