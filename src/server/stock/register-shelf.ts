/** Registering a folder as a shelf: it gets a marker, or is known again by the one it bears. */
import { existsSync, statSync } from 'node:fs';
import { basename, resolve } from 'node:path';
import type { Catalogue } from '../catalogue/catalogue';
import type { ShelfRow } from '../catalogue/shelves';
import { explainError } from '../runs/explain-error';
import { readMarker, writeMarker } from './marker';
import type { Mounts } from './mounts';

/** A folder that cannot become a shelf, with the reason. */
export class ConflictingShelf extends Error {}

export function registerShelf(catalogue: Catalogue, mounts: Mounts, path: string, name?: string): ShelfRow {
  const root = resolve(path);
  if (!existsSync(root) || !statSync(root).isDirectory()) throw new ConflictingShelf(`${path} is no folder. Choose one that exists.`);
  if (!mounts.isAllowed(root))
    throw new ConflictingShelf(
      `${path} lies outside the folders this server may use (${mounts.roots.join(', ')}). Start it with --roots to allow more.`,
    );
  const marked = readMarker(root);
  let marker = marked;
  try {
    marker ??= writeMarker(root, name?.trim() || basename(root));
  } catch (error) {
    throw new ConflictingShelf(`${path} cannot become a shelf. ${explainError(error)}`);
  }
  catalogue.shelves.put(marker.id, name?.trim() || catalogue.shelves.get(marker.id)?.name || marker.name, new Date().toISOString());
  mounts.set(marker.id, root);
  return catalogue.shelves.get(marker.id)!;
}
