/** What kind of storage a folder most likely is, by what lies at its root and how it is mounted; the user has the last word. */
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Cards } from '../../core/media/card';
import type { ShelfKind } from '../../core/media/shelf-kind';
import { fileSystemOf, isNetwork } from './mount-table';

/** Folders down to what a card is known by: PRIVATE/AVCHD/BDMV/STREAM. */
const DEEPEST = 4;

/** A card bears the folders of one at its root, as DCIM/100ABCDE. */
export function likelyKind(root: string, cards: Cards): ShelfKind {
  if (isNetwork(fileSystemOf(root) ?? '')) return 'server';
  const isCard = (path: string, depth: number): boolean =>
    cards.around(`${path}/x`)?.root === '' || (depth < DEEPEST && foldersIn(join(root, path)).some((name) => isCard(`${path}/${name}`, depth + 1)));
  return foldersIn(root).some((name) => cards.mayBegin(name) && isCard(name, 1)) ? 'card' : 'working';
}

function foldersIn(folder: string): string[] {
  try {
    return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => (entry.isDirectory() ? [entry.name] : []));
  } catch {
    return [];
  }
}
