/** A small table by shelf, in a file beside the catalogue: whole or not at all, and flushed. A broken one is set aside. */
import { closeSync, existsSync, fsyncSync, openSync, readFileSync, renameSync, rmSync, writeSync } from 'node:fs';
import { dirname } from 'node:path';
import { threadId } from 'node:worker_threads';
import { log } from '../log/log';

/** Shelf id → what `isEntry` takes. Empty when the file is not there or cannot be read. */
export function readTableFile<Entry>(file: string, isEntry: (value: unknown) => value is Entry): Map<string, Entry> {
  if (!existsSync(file)) return new Map();
  try {
    const parsed = JSON.parse(readFileSync(file, 'utf8')) as unknown;
    if (typeof parsed !== 'object' || parsed === null || Array.isArray(parsed)) throw new Error('it is no table');
    return new Map(Object.entries(parsed).filter((entry): entry is [string, Entry] => isEntry(entry[1])));
  } catch (error) {
    const aside = `${file}.broken-${Date.now()}`;
    try {
      renameSync(file, aside);
    } catch {
      // Another thread was first, or the folder is read-only: it is read as empty either way.
    }
    log.warn({ file, aside, error }, 'a table of shelves could not be read and was set aside; shelves are found again by their markers');
    return new Map();
  }
}

/** What cannot be written is said in the log only. */
export function writeTableFile(file: string, table: ReadonlyMap<string, unknown>): void {
  // Two threads may write at once: each writes a file of its own and puts it in place.
  const part = `${file}.${process.pid}-${threadId}`;
  try {
    const handle = openSync(part, 'w');
    try {
      writeSync(handle, JSON.stringify(Object.fromEntries(table), null, 2));
      fsyncSync(handle);
    } finally {
      closeSync(handle);
    }
    renameSync(part, file);
    flushFolder(dirname(file));
  } catch (error) {
    rmSync(part, { force: true });
    log.warn({ file, error }, 'a table of shelves could not be written');
  }
}

function flushFolder(folder: string): void {
  const handle = openSync(folder, 'r');
  try {
    fsyncSync(handle);
  } finally {
    closeSync(handle);
  }
}
