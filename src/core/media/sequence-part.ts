/** Parts of image sequences that are sequences themselves: known again under the same name by a stocktake. */
import { unite, type FrameRange, type RangeSet } from '../time/range';
import { presentNumbers, SHORTEST_SEQUENCE } from './image-sequence';
import type { SequenceFacts } from './item';

/**
 * `ranges` (frames counted from the first, half-open) grown outwards until each begins and ends on a frame that is
 * there, and holds enough of them not to be taken for stills. They unite where they meet.
 */
export function asSequences(ranges: RangeSet, facts: SequenceFacts): RangeSet {
  const numbers = presentNumbers(facts);
  return unite(ranges.map((range) => grown(range, numbers, facts.firstNumber)));
}

function grown(range: FrameRange, numbers: readonly number[], firstNumber: number): FrameRange {
  // Index of the last frame at or before the begin, and of the first at or after the last one.
  let from = Math.max(0, upperBound(numbers, firstNumber + range.start) - 1);
  let to = Math.min(numbers.length - 1, upperBound(numbers, firstNumber + range.end - 2));
  for (let tail = true; to - from + 1 < SHORTEST_SEQUENCE && to - from + 1 < numbers.length; tail = !tail) {
    if (tail && to < numbers.length - 1) to++;
    else if (from > 0) from--;
  }
  return { start: numbers[from]! - firstNumber, end: numbers[to]! - firstNumber + 1 };
}

/** Index of the first entry above `value`. */
function upperBound(sorted: readonly number[], value: number): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle]! > value) high = middle;
    else low = middle + 1;
  }
  return low;
}
