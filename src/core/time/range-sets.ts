import type { FrameRange, RangeSet } from './range';

/** How many ranges are kept before they are united. */
const MOST_RANGES = 1 << 18;

/**
 * Many sets of ranges at once, of which the ranges come one by one and in any order. They are written down one after the
 * other and brought to their sets many at a time; those that overlap take no more room than what they cover.
 */
export class RangeSets {
  /** By set: ranges that were added, empty ones too. */
  readonly counts: Uint32Array;
  private readonly sets: RangeSet[];
  private owners: Int32Array;
  private starts: Float64Array;
  private ends: Float64Array;
  private used = 0;

  constructor(
    sets: number,
    private most = MOST_RANGES,
  ) {
    this.counts = new Uint32Array(sets);
    this.sets = new Array<RangeSet>(sets).fill([]);
    this.owners = new Int32Array(most);
    this.starts = new Float64Array(most);
    this.ends = new Float64Array(most);
  }

  add(set: number, start: number, end: number): void {
    this.counts[set]!++;
    if (end <= start) return;
    if (this.used === this.most) this.unite();
    this.owners[this.used] = set;
    this.starts[this.used] = start;
    this.ends[this.used++] = end;
  }

  of(set: number): RangeSet {
    if (this.used > 0) this.unite();
    return this.sets[set]!;
  }

  private unite(): void {
    const { owners, used, sets } = this;
    // Where the ranges of each set begin, and by then how many of it are placed.
    const from = new Uint32Array(sets.length + 1);
    for (let index = 0; index < used; index++) from[owners[index]! + 1]!++;
    for (let set = 0; set < sets.length; set++) from[set + 1]! += from[set]!;
    const next = from.slice();
    const starts = new Float64Array(used);
    const ends = new Float64Array(used);
    for (let index = 0; index < used; index++) {
      const at = next[owners[index]!]!++;
      starts[at] = this.starts[index]!;
      ends[at] = this.ends[index]!;
    }
    let kept = 0;
    for (let set = 0; set < sets.length; set++) {
      const [first, after] = [from[set]!, from[set + 1]!];
      if (first < after) sets[set] = united(sets[set]!, starts.subarray(first, after), ends.subarray(first, after));
      kept += sets[set]!.length;
    }
    this.used = 0;
    // Ranges that lie apart do not get fewer: they are not gone through again and again.
    if (2 * kept > this.most) this.makeRoom(2 * kept);
  }

  private makeRoom(most: number): void {
    this.most = most;
    this.owners = new Int32Array(most);
    this.starts = new Float64Array(most);
    this.ends = new Float64Array(most);
  }
}

/**
 * Begins and ends are sorted each for itself: before the next begin lies a gap exactly where as many ranges have ended
 * before it as have begun. None of them is empty.
 */
function united(set: RangeSet, starts: Float64Array, ends: Float64Array): RangeSet {
  if (set.length > 0) {
    const [allStarts, allEnds] = [new Float64Array(set.length + starts.length), new Float64Array(set.length + ends.length)];
    set.forEach(({ start, end }, index) => ((allStarts[index] = start), (allEnds[index] = end)));
    allStarts.set(starts, set.length);
    allEnds.set(ends, set.length);
    return united([], allStarts, allEnds);
  }
  starts.sort();
  ends.sort();
  const out: FrameRange[] = [];
  let from = 0;
  for (let index = 0; index < starts.length; index++) {
    if (index + 1 < starts.length && starts[index + 1]! <= ends[index]!) continue;
    out.push({ start: starts[from]!, end: ends[index]! });
    from = index + 1;
  }
  return out;
}
