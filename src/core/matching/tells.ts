/** Keys by which files are found: what a file may be named or answer to, and what a timeline asks for. */
import { fileName } from '../media/item';
import { trimEndOf } from '../naming/trim-end';
import type { Additions } from './additions';
import { plainName, stemOfName, withoutFrameNumber } from './plain-name';
import { reelKeys, reelsAsked, type AnswersTo } from './reel';

const NAME = 'n';
const REEL = 'r';

/** The key of the name that a file has. */
export function nameTell(path: string): string {
  return NAME + plainName(stemOfName(fileName(path)));
}

/** Keys of a file, each once: `n` and a name, `r` and a reel that is not its name. */
export function tellsOf(file: AnswersTo): string[] {
  const { place, facts, originalName } = file;
  const names = [fileName(place.path), ...(originalName === undefined ? [] : [originalName])].flatMap((name) => {
    const stem = stemOfName(name);
    return facts.sequence ? [trimEndOf(facts.sequence.prefix, /[._\- ]/), withoutFrameNumber(stem) ?? stem] : [stem];
  });
  const keys = [...new Set(names.map(plainName))].filter((key) => key !== '');
  return [...keys.map((key) => NAME + key), ...reelKeys(file).filter((key) => !keys.includes(key)).map((key) => REEL + key)]; // prettier-ignore
}

/** From `from` up to, not including, `to`; only keys of this length. All of them begin with `stem`. */
export interface KeyRange {
  readonly stem: string;
  readonly from: string;
  readonly to: string;
  readonly length: number;
}

/** What is asked where no file of the very name may be taken. */
export interface WiderAsked {
  /** Names before something was added to them, or without the number of a frame. */
  readonly names: readonly string[];
  readonly reels: readonly string[];
  /** Names with something added. */
  readonly added: readonly KeyRange[];
}

interface ToldWords {
  readonly names: readonly string[];
  readonly reels: readonly string[];
}

/** Keys of the names that are told, with their endings and without. */
export function namesAsked({ names }: ToldWords): string[] {
  const plain = new Set(names.flatMap((name) => [plainName(name), plainName(stemOfName(name))]));
  return [...plain].filter((key) => key !== '').map((key) => NAME + key);
}

export function widerAsked({ names, reels }: ToldWords, additions: Additions): WiderAsked {
  const stems = [...new Set(names.flatMap((name) => [name, stemOfName(name)]))];
  const bare = new Set(stems.flatMap((stem) => [withoutFrameNumber(stem) ?? '', ...additions.before(stem)]).map(plainName));
  // Something is added in front of the ending.
  const ranges = [...new Set(names.map((name) => plainName(stemOfName(name))))].filter((key) => key !== '').flatMap((key) => additions.ranges(NAME + key).map((range) => ({ stem: NAME + key, ...range }))); // prettier-ignore
  return {
    names: [...bare].filter((key) => key !== '').map((key) => NAME + key),
    // A whole name may be a reel, and is found as a name.
    reels: reelsAsked(reels).flatMap((key) => [REEL + key, NAME + key]),
    added: [...new Map(ranges.map((range) => [`${range.from} ${range.to} ${range.length}`, range])).values()],
  };
}
