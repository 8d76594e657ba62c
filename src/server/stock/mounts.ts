/**
 * Which shelf stands where just now. Kept beside the catalogue, not in it: mount paths belong to a machine.
 * A shelf that is not where it was is looked for below the allowed roots by its marker.
 */
import { accessSync, constants, existsSync, readdirSync, readFileSync, realpathSync, renameSync, statfsSync, writeFileSync } from 'node:fs';
import { dirname, join, relative, sep } from 'node:path';
import { threadId } from 'node:worker_threads';
import type { Place } from '../../core/media/item';
import type { DriveBay } from '../devices/drive-bay';
import { readMarker } from './marker';

export class PlaceError extends Error {
  constructor(
    readonly code: 'unplugged' | 'outside' | 'not-allowed',
    message: string,
  ) {
    super(message);
  }
}

const SEARCH_DEPTH = 2;
const SEARCH_PAUSE_MS = 2_000;

export class Mounts {
  private readonly places = new Map<string, string>();
  private lastSearchMs = 0;

  constructor(
    private readonly file: string,
    readonly roots: readonly string[],
    private readonly bay: DriveBay | null,
  ) {
    this.reload();
  }

  /** Reads the file again: another thread may have found a shelf meanwhile. */
  reload(): void {
    if (existsSync(this.file))
      for (const [id, path] of Object.entries(JSON.parse(readFileSync(this.file, 'utf8')) as Record<string, string>)) this.places.set(id, path);
  }

  set(shelfId: string, root: string): void {
    this.places.set(shelfId, root);
    // Two threads may write at once: each writes a file of its own and puts it in place.
    const part = `${this.file}.${process.pid}-${threadId}`;
    writeFileSync(part, JSON.stringify(Object.fromEntries(this.places), null, 2));
    renameSync(part, this.file);
  }

  /** Absolute root of an attached shelf, else null. The marker decides, not the path. */
  rootOf(shelfId: string): string | null {
    const known = this.places.get(shelfId);
    if (known !== undefined && readMarker(known)?.id === shelfId) return known;
    if (Date.now() - this.lastSearchMs > SEARCH_PAUSE_MS) {
      this.lastSearchMs = Date.now();
      for (const [id, root] of this.search()) if (this.places.get(id) !== root) this.set(id, root);
    }
    const found = this.places.get(shelfId);
    return found !== undefined && readMarker(found)?.id === shelfId ? found : null;
  }

  /** Forgets that a search was just made, so that the next look finds what was plugged in meanwhile. */
  lookAgain(): void {
    this.lastSearchMs = 0;
  }

  /** Every marked folder in the allowed roots and a little below them. */
  search(): [string, string][] {
    const found: [string, string][] = [];
    const visit = (folder: string, depth: number) => {
      const marker = readMarker(folder);
      if (marker) found.push([marker.id, folder]);
      if (marker || depth === 0) return;
      try {
        for (const entry of readdirSync(folder, { withFileTypes: true }))
          if (entry.isDirectory() && !entry.name.startsWith('.')) visit(join(folder, entry.name), depth - 1);
      } catch {
        // A folder that cannot be listed holds no shelf that could be used.
      }
    };
    for (const root of this.roots) visit(root, SEARCH_DEPTH);
    return found;
  }

  /** Whether a path may be registered or browsed: it lies in an allowed root, links resolved. */
  isAllowed(path: string): boolean {
    try {
      const real = realpathSync(path);
      return this.roots.some((root) => existsSync(root) && isInside(realpathSync(root), real));
    } catch {
      return false;
    }
  }

  /** Absolute path of a place. Throws PlaceError when the shelf is unplugged or the path leaves it. */
  resolve(place: Place): string {
    const root = this.rootOf(place.shelfId);
    if (root === null) throw new PlaceError('unplugged', 'The shelf is not plugged in.');
    const names = place.path === '' ? [] : place.path.split('/');
    if (place.path.startsWith('/') || place.path.includes('\0') || names.some((name) => name === '' || name === '.' || name === '..')) {
      throw new PlaceError('outside', `"${place.path}" leaves its shelf.`);
    }
    const path = join(root, ...names);
    // The nearest folder that exists must lie on the shelf once links are resolved.
    let existing = path;
    while (!existsSync(existing) && existing !== root) existing = dirname(existing);
    if (!isInside(realpathSync(root), realpathSync(existing))) throw new PlaceError('outside', `"${place.path}" leads out of its shelf by a link.`);
    return path;
  }

  /** Place of an absolute path on an attached shelf; the innermost one where shelves lie inside each other. */
  placeOf(path: string, shelfIds: readonly string[]): Place | null {
    const inside = shelfIds
      .map((shelfId) => ({ shelfId, root: this.rootOf(shelfId) }))
      .filter((entry): entry is { shelfId: string; root: string } => entry.root !== null && isInside(entry.root, path))
      .sort((a, b) => b.root.length - a.root.length)[0];
    return inside ? { shelfId: inside.shelfId, path: relative(inside.root, path).split(sep).join('/') } : null;
  }

  /** Capacity and free bytes of an attached shelf, and whether it can be written to. */
  async space(root: string): Promise<{ capacityBytes: number; freeBytes: number; writable: boolean }> {
    const space = (await this.bay?.space(root)) ?? realSpace(root);
    return { ...space, writable: isWritable(root) };
  }
}

function realSpace(root: string): { capacityBytes: number; freeBytes: number } {
  const info = statfsSync(root);
  return { capacityBytes: info.blocks * info.bsize, freeBytes: info.bavail * info.bsize };
}

function isWritable(root: string): boolean {
  try {
    accessSync(root, constants.W_OK);
    return true;
  } catch {
    return false;
  }
}

function isInside(root: string, path: string): boolean {
  const rest = relative(root, path);
  return rest === '' || (!rest.startsWith('..') && !rest.startsWith(sep));
}
