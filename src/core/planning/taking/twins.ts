/** Sources that look like one another: of one name, or of one reel and timecode. What is made of one may be of the other. */
import { foldPath } from '../../naming/fold-path';
import type { Item, Place } from '../../media/item';
import { samePlace } from '../../media/item';

/** What a source is looked for by. */
export interface Twinned {
  readonly place: Place | null;
  readonly name: string;
  readonly fingerprint: string | null;
  readonly reel: string | null;
  /** Seconds of its timecode and of its length; null where they are not known. */
  readonly startSeconds: number | null;
  readonly seconds: number | null;
  /** Lines of its picture; null where they are not known. */
  readonly height: number | null;
}

/** Every other source that the house knows of its name, or of its reel and timecode, plugged in or not; see the server's. */
export type AskTwins = (source: Twinned) => readonly Item[];

export const NO_TWINS: AskTwins = () => [];

/**
 * Another source that a file may be of as well; null where there is none, or where the folders tell: the file lies in a folder
 * named as one of its source's and none of the other's. `fits`: whether the file could be of a source. `shelfName`: names of shelves tell too.
 */
export function rivalOf(
  item: Item,
  own: Twinned,
  twins: readonly Item[],
  fits: (twin: Item) => boolean,
  shelfName: (id: string) => string,
): Item | null {
  const at = folderNames(item.place, shelfName);
  const mine = own.place ? folderNames(own.place, shelfName) : new Set<string>();
  return (
    twins.find((twin) => {
      if (samePlace(twin.place, item.place) || samePlace(twin.place, own.place)) return false;
      // A smaller picture of the same name is a light copy, not another source.
      if (own.height !== null && (twin.facts.video?.height ?? own.height) < own.height) return false;
      if (!fits(twin)) return false;
      const theirs = folderNames(twin.place, shelfName);
      const isMine = [...at].some((name) => mine.has(name) && !theirs.has(name));
      const isTheirs = [...at].some((name) => theirs.has(name) && !mine.has(name));
      return !isMine || isTheirs;
    }) ?? null
  );
}

/** Names of the folders around a file and of its shelf, as names are compared. */
function folderNames({ shelfId, path }: Place, shelfName: (id: string) => string): Set<string> {
  return new Set([shelfName(shelfId), ...path.split('/').slice(0, -1)].map(foldPath));
}

/** How many folder names a file and a source have in common. */
export function sharedFolders(item: Item, place: Place | null, shelfName: (id: string) => string): number {
  const own = place ? folderNames(place, shelfName) : new Set<string>();
  return [...folderNames(item.place, shelfName)].filter((name) => own.has(name)).length;
}
