/**
 * Which shelf stands where just now. Kept beside the catalogue, not in it: mount paths belong to a machine.
 * A shelf that is not where it was is looked for below the allowed roots by its marker. A place that still bears its
 * marker is never given up for another; where several folders bear one marker and none of them is known, none is
 * taken until the user has said which is a copy.
 */
import { accessSync, constants, existsSync, readdirSync, realpathSync, statfsSync, statSync } from 'node:fs';
import { dirname, join, relative, sep } from 'node:path';
import type { Place } from '../../core/media/item';
import { Problem } from '../errors/problem';
import { isBelowAny } from '../threads/silent-drives';
import { driveAt } from './drive-of';
import { isInside } from './inside';
import { readMarker } from './marker';
import { touching } from './touching';
import { bearsSign, rootOfVolume, type ShelfSign } from './shelf-sign';
import { readTableFile, writeTableFile } from './table-file';

export class PlaceError extends Problem {
  constructor(code: 'unplugged' | 'outside' | 'not-allowed', detail: string) {
    super(code, detail, code === 'unplugged' ? 'Plug the drive in and try again.' : undefined);
  }
}

/** From places to paths. */
export interface Places {
  /** Absolute root of an attached shelf, else null. */
  rootOf(shelfId: string): string | null;
  /** Absolute path of a place. Throws PlaceError when the shelf is unplugged or the path leaves it. */
  resolve(place: Place): string;
  /** Room of an attached shelf, and whether it can be written to. */
  space(root: string): Promise<Space & { readonly writable: boolean }>;
  /** Whether the shelf stands where it stood and does not answer. */
  keepsSilent(shelfId: string): boolean;
  /** What file system an attached shelf is on: within one a file only gets another name. Null where that cannot be told. */
  volumeOf(shelfId: string): string | null;
  /** The same text for attached shelves that are lost together, as they lie on one physical drive; null of others. */
  driveOf(shelfId: string): string | null;
}

/** Capacity and free bytes; null where the file system does not tell (some network drives and bridges report no size at all). */
export interface Space {
  readonly capacityBytes: number | null;
  readonly freeBytes: number | null;
}

/** A simulated set of drives: what stands for disks of their own. */
export interface DriveSimulation {
  /** The drive that a root stands on; null for folders outside. */
  driveOf(root: string): string | null;
  /** Room of the drive; null for folders outside. */
  space(root: string): Promise<Space | null>;
}

/** Folders that cannot be touched: whoever does waits for ever. */
export interface Silence {
  isSilent(folder: string): boolean;
}

/** In a thread: those that were silent when it was asked. */
export class ToldSilence implements Silence {
  folders: readonly string[] = [];

  isSilent(folder: string): boolean {
    return isBelowAny(folder, this.folders);
  }
}

const SEARCH_DEPTH = 2;
const SEARCH_PAUSE_MS = 900;

export class Mounts implements Places {
  private places: Map<string, string>;
  /** By what shelves are known that bear no marker. */
  private signs: Map<string, ShelfSign>;
  private found: Map<string, string[]> | null = null;
  private lastSearchMs = 0;
  private readonly volumeLooked = new Map<string, number>();
  private readonly stood = new Map<string, { readonly folder: string; readonly atMs: number }>();

  constructor(
    private readonly file: string,
    readonly roots: readonly string[],
    private readonly bay: DriveSimulation | null,
    private readonly silence: Silence = new ToldSilence(),
  ) {
    this.places = readTableFile(file, isPath);
    this.signs = readSigns(file);
  }

  /** Reads the file again: another thread may have found a shelf meanwhile. */
  reload(): void {
    for (const [id, path] of readTableFile(this.file, isPath)) this.places.set(id, path);
    this.signs = readSigns(this.file);
  }

  /** Where shelves stood when they were last found. */
  knownRoots(): string[] {
    return [...this.places.values()];
  }

  set(shelfId: string, root: string): void {
    this.places.set(shelfId, root);
    writeTableFile(this.file, this.places);
  }

  /** A shelf that bears no marker, and by what it is known again. */
  setSign(shelfId: string, sign: ShelfSign): void {
    this.signs.set(shelfId, sign);
    writeTableFile(signsFile(this.file), this.signs);
  }

  /** By what a shelf is known: a marker on it, its volume, or what is on it. */
  knownBy(shelfId: string): 'marker' | ShelfSign['kind'] {
    return this.signs.get(shelfId)?.kind ?? 'marker';
  }

  /** Whose root a folder is: of a shelf that was added without a marker, whoever wrote one since, or of the one whose marker it bears. */
  shelfAt(root: string): string | null {
    for (const [shelfId, sign] of this.signs)
      if ((sign.kind === 'volume' || this.places.get(shelfId) === root) && bearsSign(root, sign)) return shelfId;
    return readMarker(root)?.id ?? null;
  }

  /** The marker decides, not the path; and the roots this server may use hold for shelves known from before too. */
  rootOf(shelfId: string): string | null {
    const known = this.places.get(shelfId);
    // One that does not answer stands where it stood.
    if (known !== undefined && this.silence.isSilent(known)) return null;
    if (known !== undefined && this.bears(known, shelfId)) return known;
    const sign = this.signs.get(shelfId);
    if (sign) return this.foundByVolume(shelfId, sign);
    const [only, ...others] = this.search().get(shelfId) ?? [];
    if (only === undefined || others.length > 0 || !this.bears(only, shelfId)) return null;
    this.set(shelfId, only);
    return only;
  }

  private foundByVolume(shelfId: string, sign: ShelfSign): string | null {
    if (Date.now() - (this.volumeLooked.get(shelfId) ?? 0) <= SEARCH_PAUSE_MS) return null;
    this.volumeLooked.set(shelfId, Date.now());
    const root = rootOfVolume(sign);
    if (root === null || !this.isAllowed(root)) return null;
    this.set(shelfId, root);
    return root;
  }

  private bears(root: string, shelfId: string): boolean {
    return touching(root, () => this.standsHere(root, shelfId) && this.isAllowed(root));
  }

  /** What tells a shelf without a marker takes longer than reading one: it holds for as long as a search does, while the folder is the same. */
  private standsHere(root: string, shelfId: string): boolean {
    if (!this.signs.has(shelfId)) return standsAt(root, shelfId, this.signs);
    const info = statSync(root, { throwIfNoEntry: false });
    const folder = info ? `${root} ${info.dev} ${info.ino}` : null;
    const last = this.stood.get(shelfId);
    if (folder !== null && last?.folder === folder && Date.now() - last.atMs <= SEARCH_PAUSE_MS) return true;
    const stands = standsAt(root, shelfId, this.signs);
    if (stands && folder !== null) this.stood.set(shelfId, { folder, atMs: Date.now() });
    else this.stood.delete(shelfId);
    return stands;
  }

  /**
   * Folders that bear the marker of a shelf beside the one that is known: copies of it. Where none is known and
   * several bear it, all of them.
   */
  copiesOf(shelfId: string): string[] {
    const holders = this.search().get(shelfId) ?? [];
    const root = this.rootOf(shelfId);
    if (root === null) return holders.length > 1 ? holders : [];
    return holders.filter((holder) => !isSameFolder(holder, root));
  }

  /** Forgets that a search was just made, so that the next look finds what was plugged in meanwhile. */
  lookAgain(): void {
    this.lastSearchMs = 0;
    this.volumeLooked.clear();
    this.stood.clear();
  }

  /** Every marked folder in the allowed roots and a little below them, by its shelf. Looked for about once a second at most. */
  private search(): Map<string, string[]> {
    if (this.found && Date.now() - this.lastSearchMs <= SEARCH_PAUSE_MS) return this.found;
    this.lastSearchMs = Date.now();
    const found = new Map<string, string[]>();
    const visit = (folder: string, depth: number) => {
      if (this.silence.isSilent(folder)) return;
      const marker = touching(folder, () => readMarker(folder));
      if (marker) {
        const holders = found.get(marker.id) ?? [];
        if (this.isAllowed(folder) && !holders.some((holder) => isSameFolder(holder, folder))) found.set(marker.id, [...holders, folder]);
      }
      if (marker || depth === 0) return;
      try {
        for (const entry of touching(folder, () => readdirSync(folder, { withFileTypes: true })))
          if (entry.isDirectory() && !entry.name.startsWith('.')) visit(join(folder, entry.name), depth - 1);
      } catch {
        // A folder that cannot be listed holds no shelf that could be used.
      }
    };
    for (const root of this.roots) visit(root, SEARCH_DEPTH);
    this.found = found;
    return found;
  }

  /** Whether whoever touches it would wait for ever. */
  isSilent(folder: string): boolean {
    return this.silence.isSilent(folder);
  }

  keepsSilent(shelfId: string): boolean {
    const known = this.places.get(shelfId);
    return known !== undefined && this.silence.isSilent(known);
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

  resolve(place: Place): string {
    const root = this.rootOf(place.shelfId);
    if (root === null && this.keepsSilent(place.shelfId)) throw new PlaceError('unplugged', 'The drive does not answer.');
    return resolveBelow(root, place);
  }

  volumeOf(shelfId: string): string | null {
    const root = this.rootOf(shelfId);
    const device = root === null ? undefined : statSync(root, { throwIfNoEntry: false })?.dev;
    // Drives of the bay are folders of one disk, and stand for disks of their own.
    return device === undefined ? null : `${device} ${this.bay?.driveOf(root!) ?? ''}`;
  }

  driveOf(shelfId: string): string | null {
    const root = this.rootOf(shelfId);
    const drive = root === null ? undefined : driveAt(root);
    return drive === undefined ? null : `${drive} ${this.bay?.driveOf(root!) ?? ''}`;
  }

  async space(root: string): Promise<Space & { readonly writable: boolean }> {
    return { ...(await spaceAt(root, this.bay)), writable: isWritable(root) };
  }
}

function isPath(value: unknown): value is string {
  return typeof value === 'string';
}

/** Beside the file of mounts. */
export function signsFile(mountsFile: string): string {
  return join(dirname(mountsFile), 'signs.json');
}

/** `mountsFile`: beside it they are kept. */
export function readSigns(mountsFile: string): Map<string, ShelfSign> {
  return readTableFile(signsFile(mountsFile), (value): value is ShelfSign => {
    const sign = value as Partial<ShelfSign> | null;
    return sign?.kind === 'volume' || (sign?.kind === 'content' && Array.isArray(sign.files));
  });
}

/** Whether a folder is the root of that shelf just now: its marker says so, or what it is known by without one. */
export function standsAt(root: string, shelfId: string, signs: ReadonlyMap<string, ShelfSign>): boolean {
  const sign = signs.get(shelfId);
  return sign === undefined ? readMarker(root)?.id === shelfId : bearsSign(root, sign);
}

export interface Root {
  readonly shelfId: string;
  readonly root: string;
}

/** Roots of those of the shelves that are attached. */
export function attachedRoots(places: Pick<Places, 'rootOf'>, shelfIds: readonly string[]): Root[] {
  return shelfIds.flatMap((shelfId): Root[] => {
    const root = places.rootOf(shelfId);
    return root === null ? [] : [{ shelfId, root }];
  });
}

/** Place of an absolute path on one of the shelves; on the innermost one where they lie inside each other. */
export function placeBelow(path: string, roots: readonly Root[]): Place | null {
  const inside = roots.filter(({ root }) => isInside(root, path)).sort((a, b) => b.root.length - a.root.length)[0];
  return inside ? { shelfId: inside.shelfId, path: relative(inside.root, path).split(sep).join('/') } : null;
}

/** Path of a place below the root of its shelf, which is null when it is unplugged. Throws PlaceError. */
export function resolveBelow(root: string | null, place: Place): string {
  if (root === null) throw new PlaceError('unplugged', 'The shelf is not plugged in.');
  const names = place.path === '' ? [] : place.path.split('/');
  if (place.path.startsWith('/') || place.path.includes('\0') || names.some((name) => name === '' || name === '.' || name === '..')) {
    throw new PlaceError('outside', `"${place.path}" leaves its shelf.`);
  }
  const path = join(root, ...names);
  return touching(root, () => mustStayBelow(root, path, place));
}

function mustStayBelow(root: string, path: string, place: Place): string {
  // The nearest folder that exists must lie on the shelf once links are resolved.
  let existing = path;
  while (!existsSync(existing) && existing !== root) existing = dirname(existing);
  if (!isInside(realpathSync(root), realpathSync(existing))) throw new PlaceError('outside', `"${place.path}" leads out of its shelf by a link.`);
  return path;
}

function isSameFolder(a: string, b: string): boolean {
  try {
    return realpathSync(a) === realpathSync(b);
  } catch {
    return false;
  }
}

export async function spaceAt(root: string, bay: DriveSimulation | null): Promise<Space> {
  return (await bay?.space(root)) ?? spaceOf(statfsSync(root));
}

/** `info`: as the system tells it of a file system, in blocks. */
export function spaceOf({ blocks, bavail, bsize }: { readonly blocks: number; readonly bavail: number; readonly bsize: number }): Space {
  return blocks > 0 ? { capacityBytes: blocks * bsize, freeBytes: bavail * bsize } : { capacityBytes: null, freeBytes: null };
}

function isWritable(root: string): boolean {
  try {
    accessSync(root, constants.W_OK);
    return true;
  } catch {
    return false;
  }
}
