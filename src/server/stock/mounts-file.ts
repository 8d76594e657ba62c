/** Where each shelf was last seen, in a file beside the catalogue. A broken one is set aside: shelves are found by their markers. */
import { closeSync, existsSync, fsyncSync, openSync, readFileSync, renameSync, rmSync, writeSync } from 'node:fs';
import { dirname } from 'node:path';
import { threadId } from 'node:worker_threads';
import { log } from '../log/log';

/** Shelf id → absolute root. Empty when the file is not there or cannot be read. */
export function readMountsFile(file: string): Map<string, string> {
  if (!existsSync(file)) return new Map();
  try {
    const parsed = JSON.parse(readFileSync(file, 'utf8')) as unknown;
    if (typeof parsed !== 'object' || parsed === null || Array.isArray(parsed)) throw new Error('it is no table of places');
    return new Map(Object.entries(parsed).filter((entry): entry is [string, string] => typeof entry[1] === 'string'));
  } catch (error) {
    const aside = `${file}.broken-${Date.now()}`;
    try {
      renameSync(file, aside);
    } catch {
      // Another thread was first, or the folder is read-only: it is read as empty either way.
    }
    log.warn({ file, aside, error }, 'the list of mounts could not be read and was set aside; shelves are found again by their markers');
    return new Map();
  }
}

/** Whole or not at all, and flushed. What cannot be written now is found again by markers: the reason is only said. */
export function writeMountsFile(file: string, places: ReadonlyMap<string, string>): void {
  // Two threads may write at once: each writes a file of its own and puts it in place.
  const part = `${file}.${process.pid}-${threadId}`;
  try {
    const handle = openSync(part, 'w');
    try {
      writeSync(handle, JSON.stringify(Object.fromEntries(places), null, 2));
      fsyncSync(handle);
    } finally {
      closeSync(handle);
    }
    renameSync(part, file);
    flushFolder(dirname(file));
  } catch (error) {
    rmSync(part, { force: true });
    log.warn({ file, error }, 'the list of mounts could not be written');
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
