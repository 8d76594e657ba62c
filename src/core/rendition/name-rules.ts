/** Whether a file's name says that it is made of another: the same stem, or with one of the endings that are usual for it. */
import { foldPath } from '../naming/fold-path';
import { splitExtension } from '../naming/safe-name';

/** Endings as they are typed: separated by commas or blanks, each once, the longest first so that it is the one taken off. */
export function endingsOf(text: string): string[] {
  const endings = text.split(/[\s,]+/).filter((ending) => ending !== '').map(foldPath); // prettier-ignore
  return [...new Set(endings)].sort((a, b) => b.length - a.length);
}

/** Stems that a file of this name may be made of, folded as names are compared. `endings`: see endingsOf. */
export function stemsOf(name: string, endings: readonly string[]): string[] {
  const stem = foldPath(splitExtension(name)[0]);
  const shorter = endings.filter((ending) => stem.endsWith(ending) && stem.length > ending.length).map((ending) => stem.slice(0, -ending.length));
  return [...new Set([stem, ...shorter])];
}

/** Whether a folder of this name lies on the way to a file; with no name any way will do. */
export function isBelowFolder(path: string, folder: string): boolean {
  if (folder.trim() === '') return true;
  const wanted = foldPath(folder.trim());
  return path.split('/').slice(0, -1).some((name) => foldPath(name) === wanted); // prettier-ignore
}
