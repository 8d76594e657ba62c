import { unite, type RangeSet } from './range';

/** So many bounds are kept before they are united. */
const MOST_BOUNDS = 256;

/** Ranges that come one by one, of which only the set is wanted: many that overlap take no more room than what they cover. */
export class RangeGathering {
  /** Ranges that were added. */
  count = 0;
  private bounds: number[] = [];
  private most = MOST_BOUNDS;

  add(start: number, end: number): void {
    this.count++;
    this.bounds.push(start, end);
    if (this.bounds.length >= this.most) this.unite();
  }

  get set(): RangeSet {
    return setOf(this.bounds);
  }

  private unite(): void {
    this.bounds = setOf(this.bounds).flatMap(({ start, end }) => [start, end]);
    // Ranges that lie apart do not get fewer: they are not gone through at every step.
    this.most = Math.max(MOST_BOUNDS, 2 * this.bounds.length);
  }
}

function setOf(bounds: readonly number[]): RangeSet {
  if (bounds.length === 0) return [];
  const ranges = Array.from({ length: bounds.length / 2 }, (_, index) => ({ start: bounds[2 * index]!, end: bounds[2 * index + 1]! }));
  return unite(ranges);
}
