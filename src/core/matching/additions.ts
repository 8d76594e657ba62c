/**
 * What systems add to the end of a name when they copy, render or sync a file: rules one can see and change. A rule is
 * the text that is added; `#` stands for one digit, and a blank, `_`, `-` and `.` for each other.
 */
import { plainName } from './plain-name';

/** Common practice. */
export const USUAL_ADDITIONS: readonly string[] = [
  ' copy',
  ' copy #',
  '_#',
  ' (#)',
  '.new',
  '.new.##',
  '.sync',
  ' (##.## FPS)',
  ' (##.# FPS)',
  ' FF',
];

export const MOST_ADDITIONS = 40;
export const LONGEST_ADDITION = 40;
/** How many additions may stand behind each other: "a copy_1.sync". */
const MOST_AT_ONCE = 3;

export interface Additions {
  readonly rules: readonly string[];
  /** Every name that a stem may have been before something was added to it, the stem itself not among them. */
  before(stem: string): readonly string[];
  /** Whether a stem is another with something added, by rules of digits alone (which may as well be numbers of takes) or by words. */
  adds(stem: string, base: string): 'number' | 'word' | null;
  /** By plain names: what may be added, as bounds from `from` up to, not including, `to`; `length` is that of the whole name. */
  ranges(plainStem: string): readonly { readonly from: string; readonly to: string; readonly length: number }[];
}

/** Rules as they are typed, one a line; what is empty, too long or too much is left out. */
export function additionsFrom(rules: readonly string[]): Additions {
  const kept = [...new Set(rules.map((rule) => rule.replace(/[\r\n]/g, '').trimEnd()).filter((rule) => plainName(rule) !== '' || /#/.test(rule)))]
    .filter((rule) => rule.length <= LONGEST_ADDITION)
    .slice(0, MOST_ADDITIONS);
  const patterns = kept.map((rule) => ({ isNumber: !/\p{L}/u.test(rule), pattern: patternOf(rule) }));
  // Most names have nothing added: one look tells.
  const any = kept.length === 0 ? /(?!)/ : new RegExp(`(?:${kept.map(bodyOf).join('|')})$`, 'iu');
  const tails = kept.map(tailOf);
  const strip = (stem: string) => !any.test(stem) ? [] : patterns.flatMap(({ pattern, isNumber }) => {
    const base = stem.replace(pattern, '');
    return base === stem || base === '' ? [] : [{ base, isNumber }];
  }); // prettier-ignore
  const all = (stem: string): Map<string, boolean> => {
    const found = new Map<string, boolean>();
    let now: readonly (readonly [string, boolean])[] = [[stem, true]];
    for (let depth = 0; depth < MOST_AT_ONCE; depth++) {
      now = now.flatMap(([from, numbers]) => strip(from).map(({ base, isNumber }) => [base, numbers && isNumber] as const)).filter(([base]) => !found.has(base)); // prettier-ignore
      for (const [base, numbers] of now) found.set(base, numbers);
    }
    return found;
  };
  return {
    rules: kept,
    before: (stem) => (any.test(stem) ? [...all(stem).keys()] : []),
    adds: (stem, base) => {
      const plain = plainName(base);
      for (const [shorter, numbers] of all(stem)) if (plainName(shorter) === plain) return numbers ? 'number' : 'word';
      return null;
    },
    ranges: (plainStem) => tails.map(({ from, to, length }) => ({ from: plainStem + from, to: plainStem + to, length: plainStem.length + length })),
  };
}

function bodyOf(rule: string): string {
  return [...rule].map((sign) => (sign === '#' ? '\\d' : /[ _.-]/.test(sign) ? '[ _.-]' : sign.replace(/[$()*+/?[\\\]^{|}]/, '\\$&'))).join('');
}

function patternOf(rule: string): RegExp {
  return new RegExp(`${bodyOf(rule)}$`, 'iu');
}

/** What stands behind a plain name: signs are not in it, digits are a stretch of the index. */
function tailOf(rule: string): { from: string; to: string; length: number } {
  const tail = plainName(rule.replaceAll('#', '0'));
  const first = rule.indexOf('#');
  const words = first < 0 ? tail : plainName(rule.slice(0, first));
  return first < 0 ? { from: words, to: `${words}\u0001`, length: tail.length } : { from: `${words}0`, to: `${words}:`, length: tail.length };
}

export const USUAL = additionsFrom(USUAL_ADDITIONS);
