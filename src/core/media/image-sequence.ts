/** Runs of numbered picture files, seen as one item each. */
import type { NumberRun, SequenceFacts } from './item';

const PICTURE = /\.(dpx|exr|tiff?|png|jpe?g|tga|cin)$/i;
/** Fewer numbered pictures than this are stills that happen to carry numbers. */
export const SHORTEST_SEQUENCE = 5;
/** More missing numbers in a row than this part two runs: pictures named by the clock are no sequence. */
export const WIDEST_GAP = 1_000;

export interface FoundSequence {
  readonly facts: SequenceFacts;
  /** Names of its files in order. */
  readonly files: readonly string[];
}

/** Splits the names of one folder into sequences and single files. Order of `single` is as given. */
export function findSequences(names: readonly string[]): { sequences: FoundSequence[]; single: string[] } {
  const groups = new Map<string, { prefix: string; suffix: string; padding: number; numbers: number[] }>();
  for (const name of names) {
    const match = PICTURE.test(name) ? /^(.*?)(\d{3,10})(\.[^.]+)$/.exec(name) : null;
    if (!match) continue;
    const [, prefix = '', digits = '', suffix = ''] = match;
    // The suffix as it is written: names of frames are made from it.
    const key = JSON.stringify([prefix, suffix, digits.length]);
    const group = groups.get(key) ?? { prefix, suffix, padding: digits.length, numbers: [] };
    group.numbers.push(Number(digits));
    groups.set(key, group);
  }
  const sequences: FoundSequence[] = [];
  const inSequence = new Set<string>();
  for (const { prefix, suffix, padding, numbers } of groups.values()) {
    for (const run of splitAtGaps(numbers.sort((a, b) => a - b))) {
      if (run.length < SHORTEST_SEQUENCE) continue;
      const files = run.map((number) => frameName({ prefix, suffix, padding }, number));
      const facts = { prefix, suffix, padding, firstNumber: run[0]!, lastNumber: run.at(-1)!, missingRuns: gapsIn(run) };
      sequences.push({ facts, files });
      for (const name of files) inSequence.add(name);
    }
  }
  return { sequences, single: names.filter((name) => !inSequence.has(name)) };
}

function splitAtGaps(sorted: readonly number[]): number[][] {
  const runs: number[][] = [];
  for (const number of sorted) {
    const run = runs.at(-1);
    if (run && number - run.at(-1)! - 1 <= WIDEST_GAP) run.push(number);
    else runs.push([number]);
  }
  return runs;
}

/** Runs of numbers that lack between the first and the last, both ends inclusive. */
export function gapsIn(sorted: readonly number[]): NumberRun[] {
  return sorted.flatMap((number, index): NumberRun[] => {
    const before = sorted[index - 1];
    return before === undefined || number - before <= 1 ? [] : [[before + 1, number - 1]];
  });
}

export function missingFrames(facts: SequenceFacts): number {
  return facts.missingRuns.reduce((sum, [first, last]) => sum + last - first + 1, 0);
}

/** Numbers of the frames that are there, in order, out of the sequence frames [start, end) counted from its first. */
export function presentNumbers(facts: SequenceFacts, range?: { start: number; end: number }): number[] {
  const from = facts.firstNumber + (range?.start ?? 0);
  const to = Math.min(facts.lastNumber, facts.firstNumber + (range?.end ?? Infinity) - 1);
  const out: number[] = [];
  let gap = 0;
  for (let number = from; number <= to; number++) {
    while (gap < facts.missingRuns.length && facts.missingRuns[gap]![1] < number) gap++;
    const run = facts.missingRuns[gap];
    if (run && number >= run[0]) number = run[1];
    else out.push(number);
  }
  return out;
}

/** File name of frame `number`. */
export function frameName(facts: Pick<SequenceFacts, 'prefix' | 'suffix' | 'padding'>, number: number): string {
  return `${facts.prefix}${String(number).padStart(facts.padding, '0')}${facts.suffix}`;
}

/** "pour_v003.[1001-1240].dpx": how a sequence is named on the screen and in the catalogue. */
export function sequenceName(facts: Pick<SequenceFacts, 'prefix' | 'suffix' | 'padding' | 'firstNumber' | 'lastNumber'>): string {
  const pad = (number: number) => String(number).padStart(facts.padding, '0');
  return `${facts.prefix}[${pad(facts.firstNumber)}-${pad(facts.lastNumber)}]${facts.suffix}`;
}
