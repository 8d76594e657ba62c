/** The small file at a shelf's root by which the shelf is known again under any mount path. */
import { randomUUID } from 'node:crypto';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

export const MARKER_NAME = '.mill-shelf.json';

export interface Marker {
  readonly id: string;
  readonly name: string;
}

/** The marker at `root`, or null when there is none that can be read. */
export function readMarker(root: string): Marker | null {
  try {
    const parsed = JSON.parse(readFileSync(join(root, MARKER_NAME), 'utf8')) as Partial<Marker>;
    return typeof parsed.id === 'string' && /^[0-9a-f-]{36}$/.test(parsed.id) && typeof parsed.name === 'string'
      ? { id: parsed.id, name: parsed.name }
      : null;
  } catch {
    return null;
  }
}

/** Writes a new marker; throws the file system's error (EROFS, EACCES, ENOSPC) when it cannot. */
export function writeMarker(root: string, name: string): Marker {
  const marker: Marker = { id: randomUUID(), name };
  writeFileSync(join(root, MARKER_NAME), `${JSON.stringify({ shelf: 'Mill Shelf', ...marker }, null, 2)}\n`, { flag: 'wx' });
  return marker;
}
