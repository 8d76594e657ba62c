/**
 * By what a shelf is known that bears no marker, because nothing can or should be written to it: the identifier of its
 * volume with the folder on it, or, where the system tells none, some of its files. By files a shelf is known only where
 * it stood: a copy of them elsewhere has the same.
 */
import { lstatSync, readdirSync, realpathSync, statSync } from 'node:fs';
import { join, relative, sep } from 'node:path';
import { joinPath } from '../../core/media/item';
import { byName } from '../../core/naming/by-name';
import { isInside } from './inside';
import { deviceNumber, isNetwork, mountOf, readMountTable, type Mounted } from './mount-table';

export type ShelfSign =
  | { readonly kind: 'volume'; readonly volume: string; readonly path: string }
  /** Paths below its root, with their sizes in bytes. */
  | { readonly kind: 'content'; readonly files: readonly (readonly [path: string, sizeBytes: number])[] };

/** Where Linux names volumes by their identifiers (udev, 60-persistent-storage.rules). */
const BY_UUID = '/dev/disk/by-uuid';

/** What the system tells of volumes; other values are for tests. */
export interface Volumes {
  readonly mountTable: readonly Mounted[];
  readonly byUuid: string;
}

function systemVolumes(): Volumes {
  return { mountTable: readMountTable(), byUuid: BY_UUID };
}

/** The volume that a folder lies on, and the folder's path on it; null where the system tells no identifier. */
export function volumeSign(root: string, { mountTable, byUuid }: Volumes = systemVolumes()): ShelfSign | null {
  const real = realpathSync(root);
  const mounted = mountOf(real, mountTable);
  const volume = mounted ? volumeOf(mounted, byUuid) : null;
  return mounted && volume
    ? { kind: 'volume', volume, path: joinPath(trimmed(mounted.root), relative(mounted.at, real).split(sep).join('/')) }
    : null;
}

function trimmed(path: string): string {
  return path.split('/').filter((name) => name !== '').join('/'); // prettier-ignore
}

function volumeOf({ type, source, device }: Mounted, byUuid: string): string | null {
  if (isNetwork(type)) return source === '' ? null : `${type} ${source}`;
  const numbers = new Set([deviceNumber(source), device]);
  try {
    const uuid = readdirSync(byUuid).sort().find((name) => numbers.has(deviceNumber(join(byUuid, name)) ?? '')); // prettier-ignore
    return uuid === undefined ? null : `uuid ${uuid}`;
  } catch {
    return null;
  }
}

/** Where the volume of a sign is mounted just now; null where it is not. */
export function rootOfVolume(sign: ShelfSign, volumes: Volumes = systemVolumes()): string | null {
  if (sign.kind !== 'volume') return null;
  const { mountTable, byUuid } = volumes;
  for (const mounted of mountTable) {
    const own = trimmed(mounted.root);
    if (!isInside(`/${own}`, `/${sign.path}`) || volumeOf(mounted, byUuid) !== sign.volume) continue;
    const root = join(mounted.at, relative(`/${own}`, `/${sign.path}`));
    if (statSync(root, { throwIfNoEntry: false })?.isDirectory() && isSame(volumeSign(root, volumes), sign)) return root;
  }
  return null;
}

function isSame(a: ShelfSign | null, b: ShelfSign): boolean {
  return a?.kind === 'volume' && b.kind === 'volume' && a.volume === b.volume && a.path === b.path;
}

const FILES_KEPT = 16;
const MOST_WALKED = 2_000;
const DEEPEST = 6;

/** Null where nothing lies there. */
export function contentSign(root: string): ShelfSign | null {
  const found: [string, number][] = [];
  const visit = (folder: string, depth: number) => {
    for (const entry of list(join(root, folder))) {
      if (found.length >= MOST_WALKED) return;
      const path = joinPath(folder, entry.name);
      if (entry.isDirectory() && depth > 0) visit(path, depth - 1);
      const info = entry.isFile() ? lstatSync(join(root, path), { throwIfNoEntry: false }) : undefined;
      if (info) found.push([path, info.size]);
    }
  };
  visit('', DEEPEST);
  const step = Math.max(1, (found.length - 1) / (FILES_KEPT - 1));
  const files = found.length <= FILES_KEPT ? found : Array.from({ length: FILES_KEPT }, (_, index) => found[Math.round(index * step)]!);
  return files.length === 0 ? null : { kind: 'content', files };
}

function list(folder: string) {
  try {
    return readdirSync(folder, { withFileTypes: true }).filter(({ name }) => !name.startsWith('.')).sort((a, b) => byName(a.name, b.name)); // prettier-ignore
  } catch {
    return [];
  }
}

/** Whether a folder is what the sign tells of. By files: more than half of them are there as they were. */
export function bearsSign(root: string, sign: ShelfSign, volumes?: Volumes): boolean {
  if (sign.kind === 'volume') return isSame(volumeSign(root, volumes ?? systemVolumes()), sign);
  const there = sign.files.filter(([path, sizeBytes]) => {
    const info = lstatSync(join(root, path), { throwIfNoEntry: false });
    return info?.isFile() === true && info.size === sizeBytes;
  });
  return there.length * 2 > sign.files.length;
}
