/** Camera cards: trees of folders that cameras write and readers expect whole. */
import { fileName } from './item';

/** By which folders, one in the other, the tree of a card is known. */
export interface CardRule {
  /** What its trees are called in lists. */
  readonly name: string;
  /** Names of folders with strokes between them. `#` is a digit, `?` any sign, `*` any number of them; large and small letters are one. */
  readonly sign: string;
}

/**
 * Known everywhere. Sources: DCIM with folders of three digits and five signs, CIPA DC-009 (DCF); BDMV with STREAM, the AVCHD
 * format; the others common practice of camera recorders.
 */
export const STANDARD_CARD_RULES: readonly CardRule[] = [
  { name: 'Still and action cameras (DCF)', sign: 'DCIM/###?????' },
  { name: 'AVCHD', sign: 'BDMV/STREAM' },
  { name: 'Clips with an index of their own', sign: 'CONTENTS/CLIP' },
  { name: 'Pictures and sound apart', sign: 'CONTENTS/VIDEO' },
  { name: 'Pictures and sound apart', sign: 'CONTENTS/AUDIO' },
  { name: 'Clips in numbered folders', sign: 'CONTENTS/CLIPS###' },
  { name: 'Camera with MP4 files', sign: 'M4ROOT/CLIP' },
  { name: 'Proxies of a camera with MP4 files', sign: 'M4ROOT/SUB' },
  { name: 'Camera with MXF files', sign: 'XDROOT/CLIP' },
  { name: 'Proxies of a camera with MXF files', sign: 'XDROOT/SUB' },
  { name: 'Older camera with MP4 files', sign: 'MP_ROOT/###?????' },
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

/** Cards as they are known by a list of rules. */
export class Cards {
  private readonly signs: readonly (readonly RegExp[])[];

  constructor(rules: readonly CardRule[]) {
    this.signs = rules.map(({ sign }) => sign.split('/').map(nameLike));
  }

  /** Whether a tree may begin with a folder of this name. */
  mayBegin(name: string): boolean {
    return BETWEEN.test(name) || this.signs.some(([first]) => first!.test(name));
  }

  /** The card that a file at this path lies on, or null. */
  around(path: string): OnCard | null {
    // Files lie by the hundred in one folder.
    const folder = path.slice(0, Math.max(0, path.lastIndexOf('/')));
    if (this.lastFolder !== folder) {
      this.lastCard = this.aroundFolder(folder);
      this.lastFolder = folder;
    }
    return this.lastCard;
  }

  private lastFolder = '';
  private lastCard: OnCard | null = null;

  private aroundFolder(folder: string): OnCard | null {
    const names = folder.split('/');
    for (let at = 0; at < names.length; at++) {
      if (!this.signs.some((sign) => at + sign.length <= names.length && sign.every((like, index) => like.test(names[at + index]!)))) continue;
      let top = at;
      while (top > 0 && BETWEEN.test(names[top - 1]!)) top--;
      return { root: names.slice(0, top).join('/'), tree: names.slice(0, top + 1).join('/') };
    }
    return null;
  }
}

export const STANDARD_CARDS = new Cards(STANDARD_CARD_RULES);

/** Folders that a sign may name at most, and signs of each. */
const MOST_FOLDERS = 6;
const LONGEST_SIGN_NAME = 60;

/** What is wrong with a sign, in words; null for one that can be used. */
export function signProblem(sign: string): string | null {
  const names = sign.split('/');
  if (sign.trim() === '') return 'Name the folders that a card of this kind has, as CONTENTS/CLIPS###.';
  if (names.some((name) => name.trim() === '' || name === '.' || name === '..')) return 'Between two strokes a folder has no name.';
  if (names.length > MOST_FOLDERS) return `More than ${MOST_FOLDERS} folders in each other.`;
  if (names.some((name) => name.length > LONGEST_SIGN_NAME)) return `A name of more than ${LONGEST_SIGN_NAME} signs.`;
  if (/[\u0000-\u001f\u007f\\]/.test(sign)) return 'A sign that no folder of a card has.';
  if (names.some((name) => (name.match(/\*/g) ?? []).length > 2)) return 'More than two * in one name.';
  if (names.every((name) => /^[*?#]+$/.test(name))) return 'It would fit every folder: at least one of them needs letters.';
  return null;
}

function nameLike(pattern: string): RegExp {
  const parts = [...pattern].map((sign) =>
    sign === '#' ? '\\d' : sign === '?' ? '.' : sign === '*' ? '.*' : sign.replace(/[\\^$.|+()[\]{}]/g, '\\$&'),
  );
  return new RegExp(`^${parts.join('')}$`, 'iu');
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
