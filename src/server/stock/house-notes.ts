/**
 * What houses leave on a shelf for each other: which of its folders each of them reads. A file of one's own for each house at
 * the shelf's root, hidden, so that no two ever write the same one.
 */
import { isWithin } from '../../core/naming/within';
import { closeSync, fsyncSync, openSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeSync } from 'node:fs';
import { join } from 'node:path';

export interface HouseNote {
  /** What tells the catalogue of that house from any other. */
  readonly house: string;
  /** Name of its machine. */
  readonly name: string;
  readonly at: string;
  /** Folders of the shelf in which clips of its projects have files, each once; "" is all of it. */
  readonly reads: readonly string[];
}

const PREFIX = '.mill-shelf-house-';
/** Notes are small; what is larger is none. */
const MOST_BYTES = 256 * 1024;
const MOST_FOLDERS = 500;

function fileOf(house: string): string {
  return `${PREFIX}${house}.json`;
}

/** Whether a file at the root of a shelf is one of these. */
export function isHouseNote(name: string): boolean {
  return name.startsWith(PREFIX) && name.endsWith('.json');
}

/** Writes the note where it says something new; one that reads nothing any more goes. Throws the file system's error. */
export function writeHouseNote(root: string, note: HouseNote): void {
  const path = join(root, fileOf(note.house));
  const before = readNote(path);
  if (note.reads.length === 0) return before ? rmSync(path, { force: true }) : undefined;
  if (before && before.at.slice(0, 10) === note.at.slice(0, 10) && JSON.stringify(before.reads) === JSON.stringify(note.reads)) return undefined;
  const part = `${path}.part`;
  const file = openSync(part, 'w');
  try {
    writeSync(file, `${JSON.stringify(note, null, 2)}\n`);
    fsyncSync(file);
  } finally {
    closeSync(file);
  }
  renameSync(part, path);
}

/** Notes of houses other than this one; what cannot be read is none. */
export function otherHouses(root: string, house: string): HouseNote[] {
  try {
    return readdirSync(root).flatMap((name) => {
      const note = isHouseNote(name) && name !== fileOf(house) ? readNote(join(root, name)) : null;
      return note ? [note] : [];
    });
  } catch {
    return [];
  }
}

function readNote(path: string): HouseNote | null {
  try {
    if (statSync(path).size > MOST_BYTES) return null;
    const { house, name, at, reads } = JSON.parse(readFileSync(path, 'utf8')) as Partial<HouseNote>;
    const isNote = typeof house === 'string' && typeof name === 'string' && typeof at === 'string' && Array.isArray(reads);
    return isNote ? { house, name: name.slice(0, 100), at, reads: reads.filter((folder) => typeof folder === 'string') } : null;
  } catch {
    return null;
  }
}

/** Whether a house reads something in a folder, or in one around it that holds the folder's files. */
export function readsIn({ reads }: HouseNote, folder: string): boolean {
  return reads.some((own) => isWithin(own, folder) || isWithin(folder, own));
}

/** Few folders that hold all of these: where there are too many, the folders around them. */
export function fewFolders(folders: readonly string[]): string[] {
  let own = [...new Set(folders)].sort();
  for (let depth = 12; own.length > MOST_FOLDERS && depth >= 0; depth--)
    own = [...new Set(own.map((folder) => folder.split('/').slice(0, depth).join('/')))].sort();
  return own;
}
