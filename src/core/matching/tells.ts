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

/** From `from` up to, not including, `to`; only keys of this length. */
export interface KeyRange {
  readonly from: string;
  readonly to: string;
  readonly length: number;
}

export interface Asked {
  /** Keys of names, and of reels. */
  readonly names: readonly string[];
  readonly reels: readonly string[];
  /** Names with something added. */
  readonly added: readonly KeyRange[];
}

export function askedOf(told: { readonly names: readonly string[]; readonly reels: readonly string[] }, additions: Additions): Asked {
  const stems = told.names.flatMap((name) => [name, stemOfName(name)]);
  const frames = stems.flatMap((stem) => withoutFrameNumber(stem) ?? []);
  const bare = stems.flatMap((stem) => additions.before(stem));
  const plain = [...new Set(stems.map(plainName))].filter((key) => key !== '');
  const names = [...new Set([...plain, ...[...frames, ...bare].map(plainName)])].filter((key) => key !== '');
  const reels = reelsAsked(told.reels);
  return {
    names: names.map((key) => NAME + key),
    // A whole name may be a reel, and is found as a name.
    reels: reels.flatMap((key) => [REEL + key, NAME + key]),
    added: plain.flatMap((key) => additions.ranges(NAME + key)),
  };
}
