/** Half-open frame ranges [start, end) of whole frames, and sets of them. */

export interface FrameRange {
  readonly start: number;
  readonly end: number;
}

/** Ranges in ascending order that neither touch nor overlap, none empty. Every function here returns this form. */
export type RangeSet = readonly FrameRange[];

export function frames(range: FrameRange): number {
  return Math.max(0, range.end - range.start);
}

export function totalFrames(set: RangeSet): number {
  return set.reduce((sum, range) => sum + frames(range), 0);
}

/** Brings ranges in any order into a set; touching ranges become one. */
export function unite(ranges: Iterable<FrameRange>): RangeSet {
  return joinGaps(ranges, 0);
}

/**
 * As unite, and closes every gap of at most `limitFrames` frames: with jump cuts one part with the gap
 * inside is better than two files.
 */
export function joinGaps(ranges: Iterable<FrameRange>, limitFrames: number): RangeSet {
  const sorted = [...ranges].filter((range) => range.end > range.start).sort((a, b) => a.start - b.start);
  const out: { start: number; end: number }[] = [];
  for (const range of sorted) {
    const last = out[out.length - 1];
    if (last && range.start - last.end <= limitFrames) last.end = Math.max(last.end, range.end);
    else out.push({ start: range.start, end: range.end });
  }
  return out;
}

export function intersect(a: RangeSet, b: RangeSet): RangeSet {
  const out: FrameRange[] = [];
  for (let i = 0, j = 0; i < a.length && j < b.length;) {
    const start = Math.max(a[i]!.start, b[j]!.start);
    const end = Math.min(a[i]!.end, b[j]!.end);
    if (start < end) out.push({ start, end });
    if (a[i]!.end < b[j]!.end) i++;
    else j++;
  }
  return out;
}

/** What of `a` is not in `b`. */
export function subtract(a: RangeSet, b: RangeSet): RangeSet {
  const out: FrameRange[] = [];
  let j = 0;
  for (const range of a) {
    let start = range.start;
    while (j < b.length && b[j]!.end <= start) j++;
    for (let k = j; k < b.length && b[k]!.start < range.end; k++) {
      if (b[k]!.start > start) out.push({ start, end: b[k]!.start });
      start = Math.max(start, b[k]!.end);
    }
    if (start < range.end) out.push({ start, end: range.end });
  }
  return out;
}

/** Each range longer by `head` frames before and `tail` frames after. Overlaps become one. */
export function grow(set: RangeSet, head: number, tail: number): RangeSet {
  return unite(set.map((range) => ({ start: range.start - head, end: range.end + tail })));
}

/** Only what lies inside `limits`. */
export function clamp(set: RangeSet, limits: FrameRange): RangeSet {
  return intersect(set, unite([limits]));
}

export function contains(set: RangeSet, frame: number): boolean {
  return set.some((range) => frame >= range.start && frame < range.end);
}

/** Whether every frame of `inner` is in `outer`. */
export function covers(outer: RangeSet, inner: RangeSet): boolean {
  return subtract(inner, outer).length === 0;
}
