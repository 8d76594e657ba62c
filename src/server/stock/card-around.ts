/** Whether a folder lies in the tree of a camera card, by what stands on the disk: the tree is known by folders deeper in it. */
import { isWithin } from '../../core/naming/within';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { type Cards } from '../../core/media/card';
import { fileName } from '../../core/media/item';

/** Folders between the begin of a tree and what it is known by. */
const DEEPEST = 3;

/** `path`: below the root of a shelf; it need not be there yet. */
export function isInCardTree(root: string, path: string, cards: Cards): boolean {
  if (cards.around(`${path}/x`)) return true;
  const names = path.split('/');
  const around = names.map((_, index) => names.slice(0, index + 1).join('/')).filter((folder) => cards.mayBegin(fileName(folder)));
  return around.some((folder) => holdsSign(root, folder, path, cards, DEEPEST));
}

function holdsSign(root: string, folder: string, path: string, cards: Cards, depth: number): boolean {
  if (depth === 0) return false;
  return foldersIn(join(root, folder)).some((name) => {
    const inside = `${folder}/${name}`;
    const card = cards.around(`${inside}/x`);
    return card ? isWithin(path, card.tree) : holdsSign(root, inside, path, cards, depth - 1);
  });
}

function foldersIn(folder: string): string[] {
  try {
    return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => (entry.isDirectory() ? [entry.name] : []));
  } catch {
    // It is made by the run, or cannot be listed.
    return [];
  }
}
