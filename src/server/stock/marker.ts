/** The small file at a shelf's root by which the shelf is known again under any mount path. */
import { randomUUID } from 'node:crypto';
import { closeSync, fsyncSync, openSync, readFileSync, renameSync, rmSync, writeSync } from 'node:fs';
import { join } from 'node:path';

export const MARKER_NAME = '.mill-shelf.json';

export interface ShelfMarker {
  readonly id: string;
  readonly name: string;
}

/** The marker at `root`, or null when there is none that can be read. */
export function readMarker(root: string): ShelfMarker | null {
  try {
    const parsed = JSON.parse(readFileSync(join(root, MARKER_NAME), 'utf8')) as Partial<ShelfMarker>;
    return typeof parsed.id === 'string' && /^[0-9a-f-]{36}$/.test(parsed.id) && typeof parsed.name === 'string'
      ? { id: parsed.id, name: parsed.name }
      : null;
  } catch {
    return null;
  }
}

/** Writes a new marker; throws the file system's error (EROFS, EACCES, ENOSPC; EEXIST when one stands there). */
export function writeMarker(root: string, name: string): ShelfMarker {
  const marker: ShelfMarker = { id: randomUUID(), name };
  writeFlushed(join(root, MARKER_NAME), textOf(marker));
  return marker;
}

/** Gives a copy of a shelf an identity of its own. Throws the file system's error; the old marker stands until the new one is whole. */
export function replaceMarker(root: string, name: string): ShelfMarker {
  const marker: ShelfMarker = { id: randomUUID(), name };
  const part = join(root, `${MARKER_NAME}.${marker.id}`);
  try {
    writeFlushed(part, textOf(marker));
    renameSync(part, join(root, MARKER_NAME));
  } catch (error) {
    rmSync(part, { force: true });
    throw error;
  }
  return marker;
}

function textOf(marker: ShelfMarker): string {
  return `${JSON.stringify({ shelf: 'Mill Shelf', ...marker }, null, 2)}\n`;
}

function writeFlushed(path: string, text: string): void {
  const file = openSync(path, 'wx');
  try {
    writeSync(file, text);
    fsyncSync(file);
  } catch (error) {
    // On a full drive the empty file would stand for a marker.
    rmSync(path, { force: true });
    throw error;
  } finally {
    closeSync(file);
  }
}
