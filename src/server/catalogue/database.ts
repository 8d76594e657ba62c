/** Opens the catalogue and brings its schema up to date. */
import Database from 'better-sqlite3';
import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Db } from './db';
import { fillColumns } from './fill-columns';

const BUSY_MS = 5_000;

export class CatalogueError extends Error {}

/**
 * Opens (or makes) the database file; ":memory:" for tests. Throws CatalogueError for one made by a newer version.
 * `isReady`: the schema is up to date already, as it is for a second connection. `busyMs`: how long a write may hold up its
 * thread while another writes.
 */
export function openDatabase(file: string, isReady = false, busyMs = BUSY_MS): Db {
  const db = new Database(file);
  db.pragma('journal_mode = WAL');
  db.pragma('foreign_keys = ON');
  db.pragma('synchronous = FULL');
  // Kilobytes. Each thread has one of its own, and the system keeps the file in memory too.
  db.pragma('cache_size = -16384');
  // No temp_store in memory: nested transactions then go through a list of all they changed at every statement.
  db.pragma(`busy_timeout = ${busyMs}`);
  if (!isReady) {
    migrate(db, fileURLToPath(new URL('./migrations/', import.meta.url)));
    fillColumns(db);
  }
  // As words of a filter are written: see filterWords. SQLite's own small letters are those of ASCII alone.
  db.function('folded', { deterministic: true }, (text: unknown) => (typeof text === 'string' ? text.normalize('NFC').toLowerCase() : ''));
  keepStatements(db);
  return db;
}

/** Texts of statements are few and always the same: each is compiled once. */
function keepStatements(db: Db): void {
  const kept = new Map<string, Database.Statement>();
  const prepare = db.prepare.bind(db);
  const prepareOnce = (text: string): Database.Statement => {
    const known = kept.get(text);
    // How rows come back belongs to who asks.
    if (known?.reader) known.pluck(false).raw(false);
    if (known) return known;
    const made = prepare(text);
    kept.set(text, made);
    return made;
  };
  db.prepare = prepareOnce as Db['prepare'];
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
