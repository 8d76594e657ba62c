/** Everything that lies in a folder which is to stay whole, also what no stocktake lists and what cannot go along. */
import { accessSync, constants, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { joinPath } from '../../core/media/item';
import type { UndividedTrouble } from '../../core/planning/sort/sort-input';
import { PART_SUFFIX } from './part-name';
import { isHouseNote } from './house-notes';
import { MARKER_NAME } from './marker';

export interface AllBelow {
  /** Plain files, by their paths in the folder; what is the application's own is none. */
  readonly files: readonly string[];
  /** Folders that hold nothing. */
  readonly hollow: readonly string[];
  readonly cannotGo: readonly { readonly path: string; readonly why: UndividedTrouble['why'] }[];
}

export function allBelow(top: string): AllBelow {
  const found: { files: string[]; hollow: string[]; cannotGo: { path: string; why: UndividedTrouble['why'] }[] } = {
    files: [],
    hollow: [],
    cannotGo: [],
  };
  visit('');
  return found;

  function visit(path: string): void {
    const entries = listed(join(top, path));
    if (!entries) {
      found.cannotGo.push({ path, why: 'cannot be read' });
      return;
    }
    if (entries.length === 0 && path !== '') found.hollow.push(path);
    for (const entry of entries) {
      const name = entry.name.toString('utf8');
      const own = joinPath(path, name);
      // What is no UTF-8 would be another name when it is written again.
      if (!Buffer.from(name, 'utf8').equals(entry.name)) found.cannotGo.push({ path: own, why: 'has a name that is not UTF-8' });
      else if (entry.isDirectory()) visit(own);
      else if (entry.isSymbolicLink()) found.cannotGo.push({ path: own, why: 'is a link' });
      else if (!entry.isFile()) found.cannotGo.push({ path: own, why: 'is no plain file' });
      else if (name === MARKER_NAME || name.endsWith(PART_SUFFIX) || isHouseNote(name)) continue;
      else if (!isReadable(join(top, own))) found.cannotGo.push({ path: own, why: 'cannot be read' });
      else found.files.push(own);
    }
  }
}

function listed(folder: string) {
  try {
    return readdirSync(folder, { withFileTypes: true, encoding: 'buffer' });
  } catch {
    return null;
  }
}

function isReadable(path: string): boolean {
  try {
    accessSync(path, constants.R_OK);
    return true;
  } catch {
    return false;
  }
}
