/** How a crate stands today: against what it held when it was made, by what the last stocktakes saw. */
import type { Place } from '../../media/item';
import { formatCount, plural, oneOrMany } from '../../words/figures';

/**
 * `whole`: every file stands there and is, byte for byte, what it was when it was last read. `unread`: all of them stand
 * there in their sizes, but some were written or moved since and were not read. `changed`: some are others or missing, or were added.
 * `gone`: it does not stand where it was, nor anywhere else that is known.
 */
export type CrateState = 'whole' | 'unread' | 'changed' | 'gone';

export interface CrateCounts {
  /** Files that it held; 0 where an earlier version made it and none has looked since. */
  readonly files: number;
  /** Of those files: read and equal; of equal size but not read since; different; missing. */
  readonly equal: number;
  readonly unread: number;
  readonly other: number;
  readonly missing: number;
  /** Files among its media that no list of it names. */
  readonly extra: number;
}

export interface CrateStanding extends CrateCounts {
  readonly state: CrateState;
  /** Where it stands; where it was last, when it is gone. */
  readonly place: Place;
  /** Stands somewhere else than where it was made. */
  readonly isMoved: boolean;
  /** What the last check found that no stocktake sees, in words; null where nothing. */
  readonly found: string | null;
  /** Folders that hold the same crate too, as its lists tell. */
  readonly copies: readonly Place[];
}

/** `stands`: whether what says that it is a bag stands there; `found`: as in CrateStanding. */
export function crateState({ files, equal, unread, other, missing, extra }: CrateCounts, stands: boolean, found: string | null = null): CrateState {
  if (!stands && equal + unread === 0) return 'gone';
  // RFC 8493, section 3: a bag whose payload holds what no manifest lists is not valid.
  if (other + missing + extra > 0 || !stands || found !== null) return 'changed';
  return unread > 0 || files === 0 || equal < files ? 'unread' : 'whole';
}

/** What is wrong with it, in words; null while it is whole. */
export function standingWords({ state, files, unread, other, missing, extra, found, isMoved }: CrateStanding): string | null {
  switch (state) {
    case 'whole':
      return null;
    case 'gone':
      return 'it is not there any more';
    case 'unread':
      return files === 0
        ? 'its files were not compared yet'
        : `${plural(unread, 'file was', 'files were')} ${isMoved ? 'moved' : 'written'} since and not compared`;
    case 'changed':
      return [
        ...(missing > 0 ? [`${formatCount(missing)} of ${plural(files, 'file')} ${oneOrMany(missing, 'is', 'are')} missing`] : []),
        ...(other > 0 ? [`${plural(other, 'file was', 'files were')} changed`] : []),
        ...(extra > 0 ? [`${plural(extra, 'file was', 'files were')} added that no list of it names`] : []),
        ...(missing + other + extra === 0 && found !== null ? [found] : []),
        ...(missing + other + extra === 0 && found === null ? ['what says that it is a crate is missing'] : []),
      ].join(', ');
  }
}
