/** Runs of numbered picture files, seen as one item each. */
import type { SequenceFacts } from './item';

const PICTURE = /\.(dpx|exr|tiff?|png|jpe?g|tga|cin)$/i;
/** Fewer numbered pictures than this are stills that happen to carry numbers. */
const SHORTEST_SEQUENCE = 5;

export interface FoundSequence {
  readonly facts: SequenceFacts;
  /** Names of its files in order. */
  readonly files: readonly string[];
}

/** Splits the names of one folder into sequences and single files. Order of `single` is as given. */
export function findSequences(names: readonly string[]): { sequences: FoundSequence[]; single: string[] } {
  const groups = new Map<string, { prefix: string; suffix: string; padding: number; files: Map<number, string> }>();
  const groupOf = new Map<string, string>();
  for (const name of names) {
    const match = PICTURE.test(name) ? /^(.*?)(\d{3,10})(\.[^.]+)$/.exec(name) : null;
    if (!match) continue;
    const [, prefix = '', digits = '', suffix = ''] = match;
    const key = JSON.stringify([prefix, suffix.toLowerCase(), digits.length]);
    const group = groups.get(key) ?? { prefix, suffix, padding: digits.length, files: new Map() };
    group.files.set(Number(digits), name);
    groups.set(key, group);
    groupOf.set(name, key);
  }
  const sequences: FoundSequence[] = [];
  for (const [key, group] of groups) {
    if (group.files.size < SHORTEST_SEQUENCE) {
      groups.delete(key);
      continue;
    }
    const numbers = [...group.files.keys()].sort((a, b) => a - b);
    const firstNumber = numbers[0]!;
    const lastNumber = numbers[numbers.length - 1]!;
    sequences.push({
      facts: { prefix: group.prefix, suffix: group.suffix, padding: group.padding, firstNumber, lastNumber, missingNumbers: missing(numbers) },
      files: numbers.map((number) => group.files.get(number)!),
    });
  }
  return { sequences, single: names.filter((name) => !groups.has(groupOf.get(name) ?? '')) };
}

function missing(sorted: readonly number[]): number[] {
  const out: number[] = [];
  for (let i = 1; i < sorted.length && out.length < 10_000; i++) {
    for (let number = sorted[i - 1]! + 1; number < sorted[i]! && out.length < 10_000; number++) out.push(number);
  }
  return out;
}

/** File name of frame `number`. */
export function frameName(facts: Pick<SequenceFacts, 'prefix' | 'suffix' | 'padding'>, number: number): string {
  return `${facts.prefix}${String(number).padStart(facts.padding, '0')}${facts.suffix}`;
}

/** "pour_v003.[1001-1240].dpx": how a sequence is named on the screen and in the catalogue. */
export function sequenceName(facts: SequenceFacts): string {
  const pad = (number: number) => String(number).padStart(facts.padding, '0');
  return `${facts.prefix}[${pad(facts.firstNumber)}-${pad(facts.lastNumber)}]${facts.suffix}`;
}

/** File names of the sequence frames [start, end), counted from its first frame; missing ones left out. */
export function frameNames(facts: SequenceFacts, range: { start: number; end: number }): string[] {
  const gaps = new Set(facts.missingNumbers);
  const out: string[] = [];
  for (let frame = range.start; frame < range.end; frame++) {
    const number = facts.firstNumber + frame;
    if (!gaps.has(number) && number <= facts.lastNumber) out.push(frameName(facts, number));
  }
  return out;
}
