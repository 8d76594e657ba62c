/** Which files other programs have open, as far as the system tells: on Linux by the descriptors of the processes one may look at. */
import { readdirSync, readFileSync, readlinkSync } from 'node:fs';
import { placeKey, type Place } from '../../../core/media/item';
import { PROCESS_NAME } from '../../config';
import type { Mounts } from '../../stock/mounts';

/** By placeKey: the program. This one is not told of. */
export function openFiles(places: readonly Place[], mounts: Mounts): Map<string, string> {
  const open = openPaths();
  const out = new Map<string, string>();
  if (open.size === 0) return out;
  const roots = new Map([...new Set(places.map(({ shelfId }) => shelfId))].map((id) => [id, mounts.rootOf(id)]));
  for (const place of places) {
    const root = roots.get(place.shelfId);
    const by = root === null || root === undefined ? undefined : open.get(`${root}/${place.path}`);
    if (by !== undefined) out.set(placeKey(place), by);
  }
  return out;
}

function openPaths(): Map<string, string> {
  const out = new Map<string, string>();
  for (const process_ of entriesOf('/proc')) {
    if (!/^\d+$/.test(process_) || Number(process_) === process.pid) continue;
    for (const descriptor of entriesOf(`/proc/${process_}/fd`)) {
      try {
        const path = readlinkSync(`/proc/${process_}/fd/${descriptor}`);
        if (path.startsWith('/') && !path.startsWith('/dev/') && !path.startsWith('/proc/')) out.set(path, nameOf(process_));
      } catch {
        // It was closed meanwhile.
      }
    }
  }
  return out;
}

function nameOf(id: string): string {
  try {
    const name = readFileSync(`/proc/${id}/comm`, 'utf8').trim();
    return name === PROCESS_NAME ? 'another Mill Shelf' : name || `process ${id}`;
  } catch {
    return `process ${id}`;
  }
}

/** Nothing where there is no such folder, or it may not be looked into. */
function entriesOf(folder: string): string[] {
  try {
    return readdirSync(folder);
  } catch {
    return [];
  }
}
