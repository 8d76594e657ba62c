/** How alike a name that a timeline gives is to the name of a file. */
import { fileName } from '../media/item';
import { nameKey } from '../naming/sort-key';
import { trimEndOf } from '../naming/trim-end';
import type { Additions } from './additions';
import { partedName, plainName, stemOfName, withoutFrameNumber } from './plain-name';
import type { AnswersTo } from './reel';

/**
 * From most to least: `exact` the file name, in whatever case; `stem` without its ending or with another, signs and accents
 * aside; `loose` with signs left out, or something added by a word; `number` a number added, which may as well be another take.
 */
export const NAME_LIKENESS = ['exact', 'stem', 'loose', 'number'] as const;
export type NameLikeness = (typeof NAME_LIKENESS)[number];

export function nameRank(likeness: NameLikeness | null): number {
  return likeness === null ? 0 : NAME_LIKENESS.length - NAME_LIKENESS.indexOf(likeness);
}

/** The best of what the names are like; null where none is. The name a file came with counts as its own. */
export function nameLikeness(told: readonly string[], file: AnswersTo, additions: Additions): NameLikeness | null {
  const names = [fileName(file.place.path), ...(file.originalName === undefined ? [] : [file.originalName])];
  let best: NameLikeness | null = null;
  for (const name of told)
    for (const own of names) {
      const likeness = file.facts.sequence ? sequenceLikeness(name, file.facts.sequence, own) : likenessOf(name, own, additions);
      if (nameRank(likeness) > nameRank(best)) best = likeness;
    }
  return best;
}

function likenessOf(told: string, own: string, additions: Additions): NameLikeness | null {
  if (nameKey(told) === nameKey(own)) return 'exact';
  const [toldStem, ownStem] = [stemOfName(told), stemOfName(own)];
  // What looks like an ending may be a part of the name: "LAY3.01" of "LAY3.01.mov".
  if ([told, toldStem].some((name) => isSame(name, ownStem) || isSame(name, own))) return 'stem';
  const plain = plainName(ownStem);
  if (plain !== '' && [told, toldStem].some((name) => plainName(name) === plain)) return 'loose';
  const added = additions.adds(ownStem, toldStem) ?? additions.adds(ownStem, told) ?? additions.adds(toldStem, ownStem) ?? additions.adds(told, ownStem); // prettier-ignore
  if (added !== null) return added === 'word' ? 'loose' : 'number';
  // A movie of the pictures that the timeline names one by one.
  const frames = withoutFrameNumber(toldStem);
  return frames !== null && isSame(frames, ownStem) ? 'loose' : null;
}

function isSame(a: string, b: string): boolean {
  const key = partedName(a);
  return key !== '' && key === partedName(b);
}

/** Pictures one by one: any frame of them, all of them, or what stands before the number. */
function sequenceLikeness(
  told: string,
  { prefix, suffix, firstNumber, lastNumber }: NonNullable<AnswersTo['facts']['sequence']>,
  own: string,
): NameLikeness | null {
  const key = nameKey(told);
  if (key === nameKey(own)) return 'exact';
  const [before, after] = [nameKey(prefix), nameKey(suffix)];
  if (key.startsWith(before) && key.endsWith(after) && key.length > before.length + after.length) {
    const number = key.slice(before.length, key.length - after.length);
    if (/^\d{1,12}$/.test(number)) return Number(number) >= firstNumber && Number(number) <= lastNumber ? 'exact' : null;
    if (/^(?:\[\d+-\d+\]|%0?\d?d|#+)$/.test(number)) return 'exact';
  }
  const stem = stemOfName(told);
  const name = trimEndOf(prefix, /[._\- ]/);
  return [told, stem, withoutFrameNumber(stem) ?? ''].some((one) => one !== '' && isSame(one, name)) ? 'stem' : null;
}
