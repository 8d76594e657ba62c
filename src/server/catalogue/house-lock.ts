/**
 * One instance a data folder. The lock is one that the system gives back when the process ends, however it ends: an
 * exclusive transaction on a database of its own (SQLite's file locks). So no stale lock has to be guessed at.
 */
import Database from 'better-sqlite3';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** Another instance runs on the data folder. */
export class HouseLocked extends Error {}

export class HouseLock {
  private readonly db: Database.Database;
  private readonly note: string;

  /** Throws HouseLocked with who holds it. */
  constructor(folder: string) {
    this.note = join(folder, 'running.json');
    this.db = new Database(join(folder, 'running.lock'), { timeout: 0 });
    try {
      this.db.exec('BEGIN EXCLUSIVE');
    } catch (error) {
      this.db.close();
      if (!/^SQLITE_BUSY/.test((error as { code?: string }).code ?? '')) throw error;
      throw new HouseLocked(
        `Mill Shelf is running on ${folder} already${holder(this.note)}. Stop it first, or start this one with another --data folder.`,
      );
    }
    try {
      writeFileSync(this.note, JSON.stringify({ process: process.pid, since: new Date().toISOString() }));
    } catch {
      // It only helps to find the process; the lock holds without it.
    }
  }

  release(): void {
    rmSync(this.note, { force: true });
    this.db.close();
  }
}

function holder(note: string): string {
  try {
    const { process: id, since } = JSON.parse(readFileSync(note, 'utf8')) as { process: number; since: string };
    return ` (process ${Number(id)}, since ${String(since)})`;
  } catch {
    return '';
  }
}
