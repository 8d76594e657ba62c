/** Which copy of a file is read: files that are equal in every byte are copies of one source. */
import { isWithin } from '../naming/within';
import { fileName, placeKey, samePlace, type Place } from '../media/item';

/** What a project reads first. */
export interface ReadingWish {
  /** Drives that the user wants read before others, in order. */
  readonly drives: readonly string[];
  /** The project's own folders. */
  readonly own: readonly Place[];
  /** The shelf most of its clips are linked on; null where there is none. */
  readonly most: string | null;
  /** Sealed packages: read last, unless most of the project lies in them. */
  readonly crates: readonly Place[];
}

export const NO_WISH: ReadingWish = { drives: [], own: [], most: null, crates: [] };

/** A file as a clip links it. */
export interface LinkedFile {
  readonly place: Place;
  /** `standing`: as it was linked, as far as the last stocktake saw; `other`: another file stands there. */
  readonly is: 'standing' | 'other' | 'gone';
  /** Whether the user wants it read there, wherever else a copy is. */
  readonly isChosen: boolean;
}

const OWN = 1_000;
const LINKED = 2_000;
const MOST = 3_000;
const ANY = 4_000;
const SEALED = 5_000;

/** Lower is read first. */
function rankOf(place: Place, linked: LinkedFile, wish: ReadingWish): number {
  const isLinked = samePlace(place, linked.place);
  if (isLinked && linked.isChosen) return -1;
  const wanted = wish.drives.indexOf(place.shelfId);
  if (wanted >= 0) return wanted;
  if (liesIn(place, wish.own)) return OWN;
  const rank = isLinked ? LINKED : place.shelfId === wish.most ? MOST : ANY;
  return liesIn(place, wish.crates) ? rank + SEALED : rank;
}

/** Whether a place is one of these folders or lies below one. */
export function liesIn({ shelfId, path }: Place, folders: readonly Place[]): boolean {
  return folders.some((folder) => folder.shelfId === shelfId && isWithin(path, folder.path));
}

/**
 * Of a file and its copies (where the last stocktake saw them, the linked place not among them) the one that is read now.
 * Where nothing is attached, the linked place as long as it may still be there, else the copy whose drive is to be
 * plugged in. Another file under the linked name asks for a word of the user's: only a copy that would be read before it
 * anyway is read instead.
 */
export function copyRead<Copy extends { readonly place: Place }>(
  linked: LinkedFile,
  copies: readonly Copy[],
  wish: ReadingWish,
  isAttached: (shelfId: string) => boolean,
): Copy | null {
  if (copies.length === 0) return null;
  const own = rankOf(linked.place, linked, wish);
  const isHere = isAttached(linked.place.shelfId);
  const best = (among: readonly Copy[]): Copy | null => {
    let first: { copy: Copy; rank: number } | null = null;
    for (const copy of among) {
      const rank = rankOf(copy.place, linked, wish);
      if (first === null || rank < first.rank || (rank === first.rank && isBefore(copy.place, first.copy.place, linked.place)))
        first = { copy, rank };
    }
    return first !== null && (first.rank < own || linked.is === 'gone' || (linked.is === 'standing' && !isHere)) ? first.copy : null;
  };
  const attached = best(copies.filter(({ place }) => isAttached(place.shelfId)));
  if (attached) return attached;
  return linked.is === 'gone' && isHere ? best(copies) : null;
}

/** The same name goes first: copies of one content may be files of their own to whoever named them. */
function isBefore(a: Place, b: Place, linked: Place): boolean {
  const [sameA, sameB] = [fileName(a.path) === fileName(linked.path), fileName(b.path) === fileName(linked.path)];
  return sameA === sameB ? placeKey(a) < placeKey(b) : sameA;
}
