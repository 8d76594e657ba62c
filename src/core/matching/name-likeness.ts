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

/** A name in the forms it is compared in: told once, compared often. */
interface Forms {
  readonly name: string;
  readonly stem: string;
  readonly key: string;
  readonly parted: string;
  readonly partedStem: string;
  readonly plain: string;
  readonly plainStem: string;
}

function formsOf(name: string): Forms {
  const stem = stemOfName(name);
  return {
    name,
    stem,
    key: nameKey(name),
    parted: partedName(name),
    partedStem: partedName(stem),
    plain: plainName(name),
    plainStem: plainName(stem),
  };
}

const toldForms = new WeakMap<readonly string[], readonly Forms[]>();
const fileForms = new WeakMap<AnswersTo, readonly Forms[]>();

function kept<K extends object>(map: WeakMap<K, readonly Forms[]>, key: K, names: () => readonly string[]): readonly Forms[] {
  const known = map.get(key) ?? names().map(formsOf);
  map.set(key, known);
  return known;
}

/** The best of what the names are like; null where none is. The name a file came with counts as its own. */
export function nameLikeness(told: readonly string[], file: AnswersTo, additions: Additions): NameLikeness | null {
  const names = kept(fileForms, file, () => [fileName(file.place.path), ...(file.originalName === undefined ? [] : [file.originalName])]);
  let best: NameLikeness | null = null;
  for (const name of kept(toldForms, told, () => told))
    for (const own of names) {
      const likeness = file.facts.sequence ? sequenceLikeness(name, file.facts.sequence, own) : likenessOf(name, own, additions);
      if (nameRank(likeness) > nameRank(best)) best = likeness;
    }
  return best;
}

function likenessOf(told: Forms, own: Forms, additions: Additions): NameLikeness | null {
  if (told.key === own.key) return 'exact';
  // What looks like an ending may be a part of the name: "LAY3.01" of "LAY3.01.mov".
  if ([told.parted, told.partedStem].some((name) => name !== '' && (name === own.partedStem || name === own.parted))) return 'stem';
  if (own.plainStem !== '' && (told.plain === own.plainStem || told.plainStem === own.plainStem)) return 'loose';
  // What is added stands behind the rest.
  if (!own.plainStem.startsWith(told.plainStem) && !told.plain.startsWith(own.plainStem)) return null;
  const added = additions.adds(own.stem, told.stem) ?? additions.adds(own.stem, told.name) ?? additions.adds(told.stem, own.stem) ?? additions.adds(told.name, own.stem); // prettier-ignore
  if (added !== null) return added === 'word' ? 'loose' : 'number';
  // A movie of the pictures that the timeline names one by one.
  const frames = withoutFrameNumber(told.stem);
  return frames !== null && isSame(frames, own.stem) ? 'loose' : null;
}

function isSame(a: string, b: string): boolean {
  const key = partedName(a);
  return key !== '' && key === partedName(b);
}

/** Pictures one by one: any frame of them, all of them, or what stands before the number. */
function sequenceLikeness(
  told: Forms,
  { prefix, suffix, firstNumber, lastNumber }: NonNullable<AnswersTo['facts']['sequence']>,
  own: Forms,
): NameLikeness | null {
  const { key, stem } = told;
  if (key === own.key) return 'exact';
  const [before, after] = [nameKey(prefix), nameKey(suffix)];
  if (key.startsWith(before) && key.endsWith(after) && key.length > before.length + after.length) {
    const number = key.slice(before.length, key.length - after.length);
    if (/^\d{1,12}$/.test(number)) return Number(number) >= firstNumber && Number(number) <= lastNumber ? 'exact' : null;
    if (/^(?:\[\d+-\d+\]|%0?\d?d|#+)$/.test(number)) return 'exact';
  }
  const name = trimEndOf(prefix, /[._\- ]/);
  return [told.name, stem, withoutFrameNumber(stem) ?? ''].some((one) => one !== '' && isSame(one, name)) ? 'stem' : null;
}
