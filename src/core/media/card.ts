/** Camera cards: trees of folders that cameras write and readers expect whole. */
import { fileName } from './item';

/**
 * Folders by which the tree of a card is known, with what must lie in them. Sources: DCIM with folders of three digits and
 * five signs, CIPA DC-009 (DCF); BDMV with STREAM, the AVCHD format; the others common practice of camera recorders.
 */
const SIGNS: readonly { readonly path: RegExp; readonly depth: number }[] = [
  { path: /^DCIM\/\d{3}[A-Z0-9_]{5}$/i, depth: 2 },
  { path: /^BDMV\/STREAM$/i, depth: 2 },
  { path: /^CONTENTS\/(CLIP|VIDEO|AUDIO|CLIPS\d{3})$/i, depth: 2 },
];
/** Folders that stand between a card's own folder and its sign. */
const BETWEEN = /^(PRIVATE|AVCHD|XDROOT)$/i;

/** Where a file lies on a card. */
export interface OnCard {
  /** The folder that stands for the card, "" where it is written to the root of a shelf. */
  readonly root: string;
  /** The folder in it that the sign begins with, as DCIM. */
  readonly tree: string;
}

/** The card that a file at this path lies on, or null. */
export function onCard(path: string): OnCard | null {
  const names = path.split('/');
  for (let at = 0; at < names.length - 1; at++) {
    for (const { path: sign, depth } of SIGNS) {
      if (at + depth >= names.length || !sign.test(names.slice(at, at + depth).join('/'))) continue;
      let top = at;
      while (top > 0 && BETWEEN.test(names[top - 1]!)) top--;
      return { root: names.slice(0, top).join('/'), tree: names.slice(0, top + 1).join('/') };
    }
  }
  return null;
}

/**
 * Names and stems of the media that a file of this name may be the sidecar of: the same stem, the whole name with more
 * behind it ("a.mov.xmp"), or a stem with the number that recorders give the papers of a clip ("A001C002M01.XML").
 */
export function masterStems(name: string): string[] {
  const stem = stemOf(name);
  const numbered = /^(.+?)[_-]?M\d\d$/i.exec(stem);
  return numbered ? [stem, numbered[1]!] : [stem];
}

export function stemOf(path: string): string {
  const name = fileName(path);
  const dot = name.lastIndexOf('.');
  return dot <= 0 ? name : name.slice(0, dot);
}

export function isBelow(path: string, folder: string): boolean {
  return folder === '' || path === folder || path.startsWith(`${folder}/`);
}
