/** Shelves that lie inside each other, or are the same folder by another way: a file in both has two places. */
import { realpathSync, statSync } from 'node:fs';
import { dirname, relative, sep } from 'node:path';
import { joinPath, type Place } from '../../core/media/item';
import { mountOf, readMountTable, type Mounted } from './mount-table';
import { attachedRoots, type Places, type Root } from './mounts';
import { isInside } from './inside';

/** Folder `path` of one shelf is the root of another. */
export interface Nesting {
  readonly outer: string;
  readonly inner: string;
  /** Below the root of the outer one; empty where both are the same folder. */
  readonly path: string;
}

/** Of the shelves that are attached. */
export function nestingsOf(roots: readonly Root[], mountTable = readMountTable()): Nesting[] {
  const known = roots.map((root) => ({ ...root, located: locate(root.root, mountTable) }));
  return known.flatMap((inner) =>
    known.flatMap((outer): Nesting[] => {
      if (inner.shelfId === outer.shelfId) return [];
      const path = pathInside(outer, inner);
      // Of one folder by two ways each is inside the other: told once.
      if (path === null || (path === '' && outer.shelfId > inner.shelfId)) return [];
      return [{ outer: outer.shelfId, inner: inner.shelfId, path }];
    }),
  );
}

interface Located extends Pick<Root, 'root'> {
  readonly located: Location;
}

/** Where a folder truly is: its path with links resolved, its number, the numbers of those around it, and its path on its file system. */
interface Location {
  readonly real: string;
  /** Device and number of the folder and of each one around it, with its path. */
  readonly around: readonly { readonly id: string; readonly path: string }[];
  /** File system and path on it; null where the system does not tell. */
  readonly onDisk: { readonly device: string; readonly path: string } | null;
}

function locate(root: string, mountTable: readonly Mounted[]): Location {
  const real = realpathSync(root);
  const around: { id: string; path: string }[] = [];
  for (let path = real; ; path = dirname(path)) {
    const { dev, ino } = statSync(path, { bigint: true });
    around.push({ id: `${dev} ${ino}`, path });
    if (dirname(path) === path) break;
  }
  const mounted = mountOf(real, mountTable);
  const onDisk = mounted ? { device: mounted.device, path: joinRoot(mounted.root, relative(mounted.at, real)) } : null;
  return { real, around, onDisk };
}

function joinRoot(root: string, rest: string): string {
  return rest === '' ? root : root === '/' ? `/${rest}` : `${root}/${rest}`;
}

function pathInside({ located: outer }: Located, { located: inner }: Located): string | null {
  // By whatever letters or links the paths are written.
  const same = inner.around.find(({ id }) => id === outer.around[0]!.id);
  if (same) return slashed(relative(same.path, inner.real));
  // Mounted at two places.
  if (!outer.onDisk || inner.onDisk?.device !== outer.onDisk.device || !isInside(outer.onDisk.path, inner.onDisk.path)) return null;
  return slashed(relative(outer.onDisk.path, inner.onDisk.path));
}

function slashed(path: string): string {
  return path.split(sep).join('/');
}

/** Every place that a file has, the given one first: on shelves inside each other it has several. */
export function placesOfFile(place: Place, nestings: readonly Nesting[]): Place[] {
  const found = [place];
  for (const { outer, inner, path } of nestings) {
    if (place.shelfId === inner) found.push({ shelfId: outer, path: joinPath(path, place.path) });
    if (place.shelfId !== outer) continue;
    if (path === '') found.push({ shelfId: inner, path: place.path });
    else if (place.path.startsWith(`${path}/`)) found.push({ shelfId: inner, path: place.path.slice(path.length + 1) });
  }
  return found;
}

/** Of the shelves on the list. */
export function nestingsAmong(places: Pick<Places, 'rootOf'>, shelfIds: readonly string[]): Nesting[] {
  return nestingsOf(attachedRoots(places, shelfIds));
}
