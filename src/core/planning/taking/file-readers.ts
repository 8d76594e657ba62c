/** Who reads files that would go, and whose last ones they are: one answer for removing, undoing and all that clears. */
import { placeKey, type Place } from '../../media/item';
import { byName } from '../../naming/by-name';
import type { KnownReaders } from '../plan/step';

/** Who reads files that would go, of any project; see the server's readers. */
export type AskReaders = (going: readonly Place[]) => readonly FileReader[];

export interface FileReader {
  readonly projectId: string;
  readonly project: string;
  readonly clipId: string;
  readonly clip: string;
  readonly renditionId: string;
  readonly place: Place;
  /** Linked by its place, not known as a copy. */
  readonly isLinked: boolean;
  /** Holds only some frames of the source. */
  readonly isPart: boolean;
  /** No other whole file of the clip is known on a shelf that is plugged in. */
  readonly losesLast: boolean;
}

export function readersByPlace(readers: readonly FileReader[]): ReadonlyMap<string, readonly FileReader[]> {
  const out = new Map<string, FileReader[]>();
  for (const reader of readers) {
    const own = out.get(placeKey(reader.place));
    if (own) own.push(reader);
    else out.set(placeKey(reader.place), [reader]);
  }
  return out;
}

/** Names of clips that lose their last file. */
export function lostClips(readers: ReturnType<typeof readersByPlace>): string[] {
  const lost = [...readers.values()].flat().filter(({ losesLast }) => losesLast);
  return [...new Map(lost.map(({ clipId, clip }) => [clipId, clip])).values()].sort(byName);
}

/** What a removal knows of the readers of its file; see RemoveStep. */
export function knownReaders(readers: readonly FileReader[]): KnownReaders {
  return {
    renditions: [...new Set(readers.filter(({ isLinked }) => isLinked).map(({ renditionId }) => renditionId))],
    losing: [...new Set(readers.filter(({ losesLast }) => losesLast).map(({ clipId }) => clipId))],
  };
}
