/** Drives and folders of this machine that may hold media, as they are seen before any is on the list: nothing is written. */
import { existsSync, lstatSync, opendirSync, realpathSync } from 'node:fs';
import { basename, join } from 'node:path';
import { archiveAt } from '../../core/archive/archive-formats';
import type { Cards } from '../../core/media/card';
import { looksLikeMedia } from '../../core/media/media-ending';
import type { ShelfKind } from '../../core/media/shelf-kind';
import { byName } from '../../core/naming/by-name';
import { isInside } from './inside';
import { likelyKind } from './likely-kind';
import { readMountTable, type Mounted } from './mount-table';
import { touching } from './touching';

export interface SeenPlace {
  readonly path: string;
  readonly name: string;
  readonly kind: ShelfKind;
  /** It is where a drive is mounted, not a folder of one. */
  readonly isDrive: boolean;
  /** Files that look like media by their names; `isMore`: there are more, nobody counted on. */
  readonly mediaFiles: number;
  readonly mediaBytes: number;
  readonly isMore: boolean;
  /** Packages of this or another house that lie in it. */
  readonly crates: number;
}

interface Looking {
  readonly roots: readonly string[];
  /** Where shelves of the list stand. */
  readonly taken: readonly string[];
  readonly cards: Cards;
  /** Of a folder that whoever touches it waits for, for ever. */
  readonly isSilent: (path: string) => boolean;
  readonly mountTable?: readonly Mounted[];
}

const MOST_ENTRIES = 5_000;
const MOST_MS = 400;
/** Of all of them together: later folders are not looked at, drives are. */
const MOST_ALL_MS = 4_000;
const MOST_PLACES = 60;
const DEEPEST = 8;

/** Drives first, then folders, by name. Those that hold nothing that looks like media are drives only. */
export function seenPlaces({ roots, taken, cards, isSilent, mountTable = readMountTable() }: Looking): SeenPlace[] {
  const drives = new Set(mountTable.map(({ at }) => at));
  const isFree = (path: string) => !taken.some((own) => isInside(own, path) || isInside(path, own));
  const until = Date.now() + MOST_ALL_MS;
  const look = (path: string): SeenPlace | null => {
    if (isSilent(path) || !isFree(path) || (Date.now() > until && !drives.has(path))) return null;
    return touching(path, () => {
      const isDrive = drives.has(path);
      const counted = countIn(path);
      if (!isDrive && counted.mediaFiles + counted.crates === 0) return null;
      return { path, name: basename(path) || path, kind: likelyKind(path, cards), isDrive, ...counted };
    });
  };
  const candidates = roots.flatMap((root) => candidatesBelow(root, drives, isSilent, taken));
  const seen = [...new Set(candidates)].slice(0, MOST_PLACES).flatMap((path) => look(path) ?? []);
  return seen.sort((a, b) => Number(b.isDrive) - Number(a.isDrive) || byName(a.name, b.name));
}

/** A root with media at its top is one itself; else drives that are mounted in it, and its folders. */
function candidatesBelow(root: string, drives: ReadonlySet<string>, isSilent: (path: string) => boolean, taken: readonly string[]): string[] {
  if (isSilent(root) || !existsSync(root)) return [];
  const real = realpathSync(root);
  const { folders, files } = touching(real, () => namesIn(real));
  if (files.some(looksLikeMedia) && !taken.some((own) => own !== real && isInside(real, own))) return [real];
  return folders.flatMap((name) => {
    const path = join(real, name);
    const mounted = drives.has(path) ? [] : [...drives].filter((drive) => isInside(path, drive));
    return mounted.length > 0 ? mounted : [path];
  });
}

function namesIn(folder: string): { folders: string[]; files: string[] } {
  const names = { folders: [] as string[], files: [] as string[] };
  try {
    const opened = opendirSync(folder);
    try {
      for (let entry = opened.readSync(), count = 0; entry && count < MOST_ENTRIES; entry = opened.readSync(), count++)
        if (!entry.name.startsWith('.')) (entry.isDirectory() ? names.folders : entry.isFile() ? names.files : []).push(entry.name);
    } finally {
      opened.closeSync();
    }
  } catch {
    // What cannot be listed holds nothing that could be used.
  }
  return names;
}

/** For a moment only: a large drive is counted when stock is taken of it. */
function countIn(root: string): Pick<SeenPlace, 'mediaFiles' | 'mediaBytes' | 'isMore' | 'crates'> {
  const until = Date.now() + MOST_MS;
  let [mediaFiles, mediaBytes, crates, entries] = [0, 0, 0, 0];
  const waiting: { readonly path: string; readonly depth: number }[] = [{ path: root, depth: 0 }];
  for (let next = waiting.shift(); next; next = waiting.shift()) {
    if (entries > MOST_ENTRIES || Date.now() > until) return { mediaFiles, mediaBytes, isMore: true, crates };
    const { folders, files } = namesIn(next.path);
    entries += folders.length + files.length;
    for (const name of files.filter(looksLikeMedia)) {
      mediaFiles++;
      mediaBytes += lstatSync(join(next.path, name), { throwIfNoEntry: false })?.size ?? 0;
    }
    const names = new Set(files);
    if (archiveAt((mark) => names.has(mark))) crates++;
    if (next.depth < DEEPEST) for (const name of folders) waiting.push({ path: join(next.path, name), depth: next.depth + 1 });
  }
  return { mediaFiles, mediaBytes, isMore: false, crates };
}
