/** Which of several files a timeline means: in order, and the one that may be taken unasked, if there is one. */
import { fileName, folderOf, placeKey } from '../media/item';
import { stemOf } from '../media/card';
import { isSameContent, isTelling, isTellingAtOtherRate, type Judged } from './judge';
import { nameRank } from './name-likeness';
import { REEL_LIKENESS } from './reel';

/** How many other sources of the same timeline a folder has files for; see together.ts. */
export type FolderVotes = (judged: Judged) => number;

/** `matched`: one source, nothing against it; `ambiguous`: several may be it; `doubtful`: something speaks against each. */
export type Verdict = 'matched' | 'ambiguous' | 'doubtful' | 'no match';

export interface Decision {
  /** The likeliest first. */
  readonly order: readonly Judged[];
  readonly verdict: Verdict;
  readonly taken: Judged | null;
  /** Files that keep it from being matched; of other content than the first. */
  readonly rivals: readonly Judged[];
}

/**
 * `isCut`: there are more files of its names, or of its reels, than are held against it, so that none is the only one.
 * `isThere`: whether the shelf of a file is attached. What is not there is never taken, but is a rival. `isMixed`: the list has
 * sources at other rates than its own.
 */
export function decide(
  judged: readonly Judged[],
  isCut: { readonly names: boolean; readonly reels: boolean },
  votes: FolderVotes,
  isThere: (judged: Judged) => boolean,
  isMixed = false,
): Decision {
  // What only shares a reel or its kind, and does not hold the frames, is worth nothing; beside a file of the name no more than a timecode is.
  const isNamed = judged.some(({ name }) => name === 'exact' || name === 'stem');
  const likely = judged.filter(
    ({ name, held, against, reel }) =>
      nameRank(name) > 0 || (held !== null && !against.includes('kind') && (held === 'timecode' || (reel !== null && !isNamed))),
  );
  const order = [...likely].sort((a, b) => compare(a, b) || votes(b) - votes(a) || placeOrder(a, b));
  const telling = order.filter((own) => isTelling(own) || (isMixed && isTellingAtOtherRate(own)));
  const best = telling[0];
  if (!best) return { order, verdict: order.length === 0 ? 'no match' : 'doubtful', taken: null, rivals: [] };
  const rank = nameRank(best.name);
  // A count from some hour is a guess beside a timecode of its own.
  const equals = telling.filter((own) => nameRank(own.name) === rank && !(best.held === 'timecode' && own.held === 'hour'));
  const others = likely.filter((own) => !telling.includes(own) && mayBeMeant(own, rank));
  const rivals = [...equals, ...others].filter((own) => own !== best && !isOneSource(own, best));
  const isAmbiguous = rivals.length > 0 || isCut.names || (isCut.reels && rank === 0);
  const taken = isAmbiguous ? null : (equals.find(isThere) ?? null);
  return { order, verdict: isAmbiguous ? 'ambiguous' : taken ? 'matched' : 'doubtful', taken, rivals };
}

/**
 * A file that is not telling and yet may be the one: a better name, whatever speaks against it but another reel; the same
 * name at another rate, since a list may be read at the wrong one.
 */
function mayBeMeant({ name, against }: Judged, rank: number): boolean {
  if (nameRank(name) > rank) return !against.includes('reel') && !against.includes('kind');
  return nameRank(name) === rank && rank > 0 && against.length === 1 && against[0] === 'rate';
}

function compare(a: Judged, b: Judged): number {
  const telling = Number(isTelling(b)) - Number(isTelling(a));
  if (telling !== 0) return telling;
  const clear = a.against.length - b.against.length;
  return nameRank(b.name) - nameRank(a.name) || clear || heldRank(b) - heldRank(a) || reelRank(b) - reelRank(a);
}

function heldRank({ held }: Judged): number {
  return held === null ? 0 : held === 'timecode' ? 2 : 1;
}

function reelRank({ reel }: Judged): number {
  return reel === null ? 0 : REEL_LIKENESS.length - REEL_LIKENESS.indexOf(reel);
}

function placeOrder(a: Judged, b: Judged): number {
  const [x, y] = [placeKey(a.candidate.place), placeKey(b.candidate.place)];
  return x < y ? -1 : x > y ? 1 : 0;
}

/** Equal content, or files of one recording: tied by its identifier, or a picture and its sound of one name in one folder. */
function isOneSource({ candidate: a }: Judged, { candidate: b }: Judged): boolean {
  if (isSameContent(a, b)) return true;
  if (a.place.shelfId !== b.place.shelfId) return false;
  if (a.facts.materialId && a.facts.materialId === b.facts.materialId) return folderOf(a.place.path) === folderOf(b.place.path);
  const kinds = new Set([a.facts.kind, b.facts.kind]);
  const isPair = kinds.has('video') && kinds.has('audio') && [a, b].every(({ facts }) => facts.kind === 'audio' || facts.audio.length === 0);
  return isPair && folderOf(a.place.path) === folderOf(b.place.path) && stemOf(fileName(a.place.path)) === stemOf(fileName(b.place.path));
}
