/** Registering a folder as a shelf: it gets a marker, or is known again by the one it bears. */
import { randomUUID } from 'node:crypto';
import { existsSync, realpathSync, statSync } from 'node:fs';
import { basename, resolve } from 'node:path';
import type { Catalogue } from '../catalogue/catalogue';
import type { ShelfKind } from '../../core/media/shelf-kind';
import type { ShelfRow } from '../catalogue/shelves';
import { explainError } from '../errors/explain-error';
import { Problem } from '../errors/problem';
import { likelyKind } from './likely-kind';
import { readMarker, replaceMarker, writeMarker, type ShelfMarker } from './marker';
import { attachedRoots, type Mounts } from './mounts';
import { contentSign, volumeSign, type ShelfSign } from './shelf-sign';
import { nestingsOf } from './nested-shelves';

/** A folder that cannot become a shelf, with the reason. `copy` when it bears the marker of another that stands elsewhere. */
export class ConflictingShelf extends Problem {
  constructor(detail: string, code: 'shelf' | 'shelf-copy' | 'inside-shelf' = 'shelf', hint?: string) {
    super(code, detail, hint);
  }
}

/** `ownIdentity`: the folder is a copy of a shelf and becomes one of its own. Throws ConflictingShelf. */
export function registerShelf(catalogue: Catalogue, mounts: Mounts, path: string, name?: string, ownIdentity = false, kind?: ShelfKind): ShelfRow {
  const root = resolve(path);
  if (!existsSync(root) || !statSync(root).isDirectory()) throw new ConflictingShelf(`${path} is no folder. Choose one that exists.`);
  if (!mounts.isAllowed(root))
    throw new ConflictingShelf(
      `${path} lies outside the folders this server may use (${mounts.roots.join(', ')}). Start it with --roots to allow more.`,
    );
  mustLieApart(catalogue, mounts, root);
  const known = mounts.shelfAt(root);
  const unmarked = known !== null && mounts.knownBy(known) !== 'marker' ? known : null;
  const kindOf = () => kind ?? likelyKind(root, catalogue.cardRules.cards());
  const marker =
    unmarked === null ? markerOf(catalogue, mounts, root, name?.trim() ?? '', ownIdentity, kindOf) : { id: unmarked, name: basename(root) };
  const isNew = !catalogue.shelves.names().has(marker.id);
  catalogue.shelves.put(marker.id, name?.trim() || catalogue.shelves.names().get(marker.id) || marker.name, new Date().toISOString());
  if (kind ?? isNew) catalogue.shelves.setKind(marker.id, kindOf());
  mounts.set(marker.id, root);
  return catalogue.shelves.get(marker.id)!;
}

/** A file in two shelves would have two entries: what is done through one happens to the other. Throws ConflictingShelf. */
function mustLieApart(catalogue: Catalogue, mounts: Mounts, root: string): void {
  const names = catalogue.shelves.names();
  const nameOf = (id: string) => names.get(id) ?? 'a shelf';
  const own = mounts.shelfAt(root);
  const others = attachedRoots(mounts, catalogue.shelves.list().map(({ id }) => id)).filter(({ shelfId }) => shelfId !== own); // prettier-ignore
  for (const { outer, inner, path } of nestingsOf([...others, { shelfId: NEW, root }])) {
    if (inner === NEW || path === '') {
      const shelf = nameOf(inner === NEW ? outer : inner);
      throw new ConflictingShelf(
        path === ''
          ? `${root} is ${shelf}, which is on the list already.`
          : `${root} is the folder "${path}" of ${shelf}, which is on the list already.`,
        'inside-shelf',
        path === '' ? 'Nothing needs to be added.' : `Nothing needs to be added: wherever a folder is asked for, choose "${path}" on ${shelf}.`,
      );
    }
    if (outer === NEW)
      throw new ConflictingShelf(
        `${nameOf(inner)}, which is on the list, lies inside it (in "${path}").`,
        'inside-shelf',
        `Add its other folders one by one, or take ${nameOf(inner)} off the list first.`,
      );
  }
}

/** Stands for the folder that is to be added. */
const NEW = '';

function markerOf(catalogue: Catalogue, mounts: Mounts, root: string, name: string, ownIdentity: boolean, kindOf: () => ShelfKind): ShelfMarker {
  const marked = readMarker(root);
  try {
    if (!marked) return newMarker(mounts, root, name || basename(root), kindOf);
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

/** Nothing was written because nothing can be: a locked card, a share that is only read, a full drive. */
const CANNOT_WRITE = new Set(['EROFS', 'EACCES', 'EPERM', 'ENOSPC', 'EDQUOT']);

/** A camera's card is not written to where its volume tells it, nor is what cannot be. Throws what the file system says where nothing else tells it. */
function newMarker(mounts: Mounts, root: string, name: string, kindOf: () => ShelfKind): ShelfMarker {
  const volume = volumeSign(root);
  if (volume && kindOf() === 'card') return unmarked(mounts, name, volume);
  try {
    return writeMarker(root, name);
  } catch (error) {
    const sign = CANNOT_WRITE.has((error as NodeJS.ErrnoException).code ?? '') ? (volume ?? contentSign(root)) : null;
    if (!sign) throw error;
    return unmarked(mounts, name, sign);
  }
}

function unmarked(mounts: Mounts, name: string, sign: ShelfSign): ShelfMarker {
  const id = randomUUID();
  mounts.setSign(id, sign);
  return { id, name };
}
