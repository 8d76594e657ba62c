/** The database as its tables use it. */
import type Database from 'better-sqlite3';
import { isBusy, isOutOfRoom } from '../errors/storage-errors';

export type Db = Database.Database;

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
