/** Opens the catalogue and brings its schema up to date. */
import Database from 'better-sqlite3';
import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

export type Db = Database.Database;

export class CatalogueError extends Error {}

/** Whether another held the catalogue for longer than one waits. */
export function isBusy(error: unknown): boolean {
  return codeOf(error).startsWith('SQLITE_BUSY');
}

/** Whether the catalogue could not be written because its disk is full, failing or read-only. */
export function isOutOfRoom(error: unknown): boolean {
  return /^SQLITE_(FULL|IOERR|READONLY)/.test(codeOf(error));
}

function codeOf(error: unknown): string {
  const { code } = error as { code?: unknown };
  return typeof code === 'string' ? code : '';
}

/**
 * Opens (or makes) the database file; ":memory:" for tests. Throws CatalogueError for one made by a newer version.
 * `isReady`: the schema is up to date already, as it is for a second connection.
 */
export function openDatabase(file: string, isReady = false): Db {
  const db = new Database(file);
  db.pragma('journal_mode = WAL');
  db.pragma('foreign_keys = ON');
  db.pragma('synchronous = FULL');
  db.pragma('busy_timeout = 5000');
  if (!isReady) migrate(db, fileURLToPath(new URL('./migrations/', import.meta.url)));
  return db;
}

/** Applies the numbered migrations the database has not seen; each commits together with its version. */
export function migrate(db: Db, folder: string): void {
  const migrations = readdirSync(folder)
    .filter((name) => /^\d+_.*\.sql$/.test(name))
    .sort()
    .map((name) => ({ version: parseInt(name, 10), sql: readFileSync(`${folder}/${name}`, 'utf8') }));
  const newest = migrations.at(-1)?.version ?? 0;
  const current = db.pragma('user_version', { simple: true }) as number;
  if (current > newest) {
    throw new CatalogueError(
      `This catalogue was made by a newer Mill Shelf (schema ${current}, this one knows ${newest}). Start the newer version, or point --data at another folder.`,
    );
  }
  for (const { version, sql } of migrations.filter((entry) => entry.version > current)) {
    db.transaction(() => {
      db.exec(sql);
      db.pragma(`user_version = ${version}`);
    }).immediate();
  }
}
