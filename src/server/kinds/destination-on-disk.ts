/** What of a destination only the disk tells: a file in the place of a folder, a name that is longer than any can be. */
import type { Blocking } from '../../core/planning/plan/destination';
import { lstatSync, statSync } from 'node:fs';
import { below, type Place } from '../../core/media/item';
import { portableName } from '../../core/naming/safe-name';
import { utf8Length } from '../../core/naming/utf8-length';
import type { Mounts } from '../stock/mounts';

/** Bytes of a name that file systems take at most. */
const LONGEST_NAME_BYTES = 255;
const SHOWN_LETTERS = 40;

/** Why nothing can go there, or null. `settings`: of any kind; those without a destination have no problem. */
export function destinationOnDisk(mounts: Mounts, settings: object): Blocking | null {
  const { destination, second, folderName, crateName } = settings as Partial<Record<'destination' | 'second', Place | null>> & Partial<Record<'folderName' | 'crateName', unknown>>; // prettier-ignore
  // A crate gets a name that every file system takes.
  const name = folderName ?? (typeof crateName === 'string' ? portableName(crateName) : undefined);
  const own = destination && typeof name === 'string' && name.trim() !== '' ? below(destination, name) : destination;
  return (own && problemOf(mounts, own)) ?? (second && problemOf(mounts, second)) ?? null;
}

function problemOf(mounts: Mounts, { shelfId, path }: Place): Blocking | null {
  const names = path.split('/').filter((name) => name !== '');
  const long = names.find((name) => utf8Length(name) > LONGEST_NAME_BYTES);
  if (long !== undefined)
    return {
      code: 'name-too-long',
      message: `The folder name "${long.slice(0, SHOWN_LETTERS)}…" is too long: ${utf8Length(long)} bytes, and disks take ${LONGEST_NAME_BYTES}.`,
      hint: 'Choose a shorter name.',
    };
  if (mounts.rootOf(shelfId) === null) return null;
  for (let count = 1; count <= names.length; count++) {
    const at = names.slice(0, count).join('/');
    const absolute = mounts.resolve({ shelfId, path: at });
    if (!lstatSync(absolute, { throwIfNoEntry: false })) return null;
    const what = isFolder(absolute);
    if (what !== true)
      return {
        code: 'destination-is-file',
        message: what === false ? `"${at}" is a file, not a folder.` : `"${at}" is a link that leads nowhere.`,
        hint: 'Choose a folder, or another name.',
      };
  }
  return null;
}

/** Null for a link that leads nowhere, or in a circle. */
function isFolder(path: string): boolean | null {
  try {
    return statSync(path).isDirectory();
  } catch (error) {
    if (['ENOENT', 'ENOTDIR', 'ELOOP'].includes((error as NodeJS.ErrnoException).code ?? '')) return null;
    throw error;
  }
}
