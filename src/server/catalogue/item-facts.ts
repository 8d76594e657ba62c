import { gapsIn } from '../../core/media/image-sequence';
import type { MediaFacts, NumberRun, SequenceFacts } from '../../core/media/item';

/** Facts as they are kept. Earlier versions kept the missing numbers of a sequence one by one. */
export function factsFromJson(text: string): MediaFacts {
  const facts = JSON.parse(text) as Omit<MediaFacts, 'sequence'> & { sequence: (SequenceFacts & { missingNumbers?: readonly number[] }) | null };
  if (!facts.sequence?.missingNumbers) return facts;
  const { missingNumbers, ...sequence } = facts.sequence;
  return { ...facts, sequence: { ...sequence, missingRuns: runsOf(missingNumbers) } };
}

function runsOf(numbers: readonly number[]): NumberRun[] {
  const gaps = gapsIn(numbers);
  const starts = [numbers[0], ...gaps.map(([, last]) => last + 1)];
  const ends = [...gaps.map(([first]) => first - 1), numbers.at(-1)];
  return numbers.length === 0 ? [] : starts.map((start, index): NumberRun => [start!, ends[index]!]);
}
