/** What stands on the disks where new files would go. */
import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { below, joinPath, type Place } from '../../core/media/item';
import type { Mounts } from '../stock/mounts';

export function stands(mounts: Mounts, place: Place): boolean {
  return mounts.rootOf(place.shelfId) !== null && existsSync(mounts.resolve(place));
}

/** Paths in `folderName` at the destination that are taken: the package layout is three levels deep. */
export function standingIn(mounts: Mounts, destination: Place | null, folderName: string, levels = 4): string[] {
  if (!destination) return [];
  const root = below(destination, folderName);
  if (!stands(mounts, root)) return [];
  const top = mounts.resolve(root);
  if (!statSync(top).isDirectory()) return [];
  const visit = (path: string, depth: number): string[] =>
    readdirSync(join(top, path), { withFileTypes: true }).flatMap((entry) => {
      const own = joinPath(path, entry.name);
      return entry.isDirectory() && depth < levels - 1 ? [own, ...visit(own, depth + 1)] : [own];
    });
  return visit('', 0);
}
