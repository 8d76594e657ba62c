/** Registering a folder as a shelf: it gets a marker, or is known again by the one it bears. */
import { existsSync, realpathSync, statSync } from 'node:fs';
import { basename, resolve } from 'node:path';
import type { Catalogue } from '../catalogue/catalogue';
import type { ShelfRow } from '../catalogue/shelves';
import { explainError } from '../runs/explain-error';
import { readMarker, replaceMarker, writeMarker, type Marker } from './marker';
import type { Mounts } from './mounts';

/** A folder that cannot become a shelf, with the reason. `copy` when it bears the marker of another that stands elsewhere. */
export class ConflictingShelf extends Error {
  constructor(
    message: string,
    readonly code: 'shelf' | 'shelf-copy' = 'shelf',
    readonly hint?: string,
  ) {
    super(message);
  }
}

/** `ownIdentity`: the folder is a copy of a shelf and becomes one of its own. Throws ConflictingShelf. */
export function registerShelf(catalogue: Catalogue, mounts: Mounts, path: string, name?: string, ownIdentity = false): ShelfRow {
  const root = resolve(path);
  if (!existsSync(root) || !statSync(root).isDirectory()) throw new ConflictingShelf(`${path} is no folder. Choose one that exists.`);
  if (!mounts.isAllowed(root))
    throw new ConflictingShelf(
      `${path} lies outside the folders this server may use (${mounts.roots.join(', ')}). Start it with --roots to allow more.`,
    );
  const marker = markerOf(catalogue, mounts, root, name?.trim() ?? '', ownIdentity);
  catalogue.shelves.put(marker.id, name?.trim() || catalogue.shelves.names().get(marker.id) || marker.name, new Date().toISOString());
  mounts.set(marker.id, root);
  return catalogue.shelves.get(marker.id)!;
}

function markerOf(catalogue: Catalogue, mounts: Mounts, root: string, name: string, ownIdentity: boolean): Marker {
  const marked = readMarker(root);
  try {
    if (!marked) return writeMarker(root, name || basename(root));
    const known = mounts.rootOf(marked.id);
    const elsewhere = known !== null && realpathSync(known) !== realpathSync(root);
    const undecided = known === null && mounts.copiesOf(marked.id).length > 1;
    if (!elsewhere && !undecided) return marked;
    if (ownIdentity) {
      mounts.lookAgain();
      return replaceMarker(root, name || `${catalogue.shelves.names().get(marked.id) ?? marked.name} copy`);
    }
    const shelf = catalogue.shelves.names().get(marked.id) ?? marked.name;
    throw new ConflictingShelf(
      elsewhere
        ? `${root} is a copy of ${shelf}, which stands at ${known}.`
        : `Several folders bear the marker of ${shelf}: which is the copy cannot be told.`,
      'shelf-copy',
      'Give the copy an identity of its own: then both can be used.',
    );
  } catch (error) {
    if (error instanceof ConflictingShelf) throw error;
    throw new ConflictingShelf(`${root} cannot become a shelf. ${explainError(error)}`);
  }
}
