/** Opens the catalogue and brings its schema up to date. */
import Database from 'better-sqlite3';
import { existsSync, readdirSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Db } from './db';
import { fillColumns } from './fill-columns';

const BUSY_MS = 5_000;
/** Of the catalogue as it was before it was changed for good. */
const MOST_COPIES = 3;

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
    migrate(db, fileURLToPath(new URL('./migrations/', import.meta.url)), keepBefore(db, file));
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

/**
 * Applies the numbered migrations the database has not seen; each commits together with its version. Throws CatalogueError for a
 * catalogue of a newer version, and for two migrations of one number, of which one would never be applied.
 * `before`: called before anything is changed, with the version it is at and the one it comes to.
 */
export function migrate(db: Db, folder: string, before: (from: number, to: number) => void = () => undefined): void {
  const migrations = readdirSync(folder)
    .filter((name) => /^\d+_.*\.sql$/.test(name))
    .sort()
    .map((name) => ({ version: parseInt(name, 10), name, sql: readFileSync(`${folder}/${name}`, 'utf8') }));
  const twice = migrations.find(({ version }, index) => version === migrations[index - 1]?.version);
  if (twice) throw new CatalogueError(`Two changes of the catalogue bear the number ${twice.version}, of which one is ${twice.name}. This build of Mill Shelf is not whole: install it again.`); // prettier-ignore
  const newest = migrations.at(-1)?.version ?? 0;
  const current = versionOf(db);
  if (current > newest) {
    throw new CatalogueError(
      `This catalogue was made by a newer Mill Shelf (schema ${current}, this one knows ${newest}). Start the newer version, or point --data at another folder.`,
    );
  }
  if (current < newest) before(current, newest);
  for (const { version, sql } of migrations.filter((entry) => entry.version > current)) {
    db.transaction(() => {
      db.exec(sql);
      db.pragma(`user_version = ${version}`);
    }).immediate();
  }
}

/** Number of the last migration that was applied; 0 of an empty database. */
export function versionOf(db: Db): number {
  return db.pragma('user_version', { simple: true }) as number;
}

/** Keeps the catalogue as it is before it is changed for good, beside it; one that is new holds nothing. */
function keepBefore(db: Db, file: string): (from: number, to: number) => void {
  return (from, to) => {
    const copy = `${file}.before-${to}`;
    if (from === 0 || file === ':memory:' || existsSync(copy)) return;
    // Whole or not there: a copy that was broken off is none.
    rmSync(`${copy}.part`, { force: true });
    db.prepare('VACUUM INTO ?').run(`${copy}.part`);
    renameSync(`${copy}.part`, copy);
    for (const { name } of copiesBeside(file).slice(0, -MOST_COPIES)) rmSync(name, { force: true });
  };
}

/** Copies that were kept before earlier changes, the oldest first. */
function copiesBeside(file: string): { readonly name: string; readonly version: number }[] {
  const start = `${basename(file)}.before-`;
  return readdirSync(dirname(file))
    .filter((name) => name.startsWith(start) && /^\d+$/.test(name.slice(start.length)))
    .map((name) => ({ name: join(dirname(file), name), version: Number(name.slice(start.length)) }))
    .sort((a, b) => a.version - b.version);
}
