import fc from 'fast-check';
import { RangeSets } from './range-sets';
import { describe, expect, it } from 'vitest';
import { clamp, contains, covers, grow, intersect, joinGaps, subtract, totalFrames, unite, type FrameRange, type RangeSet } from './range';

const ranges = fc.array(
  fc.tuple(fc.integer({ min: -40, max: 40 }), fc.integer({ min: 0, max: 20 })).map(([start, length]): FrameRange => ({ start, end: start + length })),
  { maxLength: 8 },
);
const frames = (set: Iterable<FrameRange>) => {
  const out = new Set<number>();
  for (const { start, end } of set) for (let frame = start; frame < end; frame++) out.add(frame);
  return out;
};
const sorted = (set: Set<number>) => [...set].sort((a, b) => a - b);
const wellFormed = (set: RangeSet) => set.every((range, index) => range.end > range.start && (index === 0 || range.start > set[index - 1]!.end));

describe('range sets against plain sets of frames', () => {
  it('unite, intersect, subtract', () => {
    fc.assert(
      fc.property(ranges, ranges, (a, b) => {
        const [x, y] = [unite(a), unite(b)];
        expect(wellFormed(x)).toBe(true);
        expect(sorted(frames(x))).toEqual(sorted(frames(a)));
        expect(sorted(frames(intersect(x, y)))).toEqual(sorted(new Set([...frames(a)].filter((frame) => frames(b).has(frame)))));
        expect(sorted(frames(subtract(x, y)))).toEqual(sorted(new Set([...frames(a)].filter((frame) => !frames(b).has(frame)))));
        expect(totalFrames(x)).toBe(frames(a).size);
        expect(covers(x, y)).toBe([...frames(b)].every((frame) => frames(a).has(frame)));
      }),
    );
  });

  it('grow reaches every frame within the handles', () => {
    fc.assert(
      fc.property(ranges, fc.nat(10), fc.nat(10), (a, head, tail) => {
        const wanted = new Set<number>();
        for (const frame of frames(a)) for (let near = frame - head; near <= frame + tail; near++) wanted.add(near);
        expect(sorted(frames(grow(unite(a), head, tail)))).toEqual(sorted(wanted));
      }),
    );
  });

  it('joinGaps closes gaps up to the limit and no wider ones', () => {
    fc.assert(
      fc.property(ranges, fc.nat(6), (a, limit) => {
        const joined = joinGaps(a, limit);
        expect(covers(joined, unite(a))).toBe(true);
        for (let index = 1; index < joined.length; index++) expect(joined[index]!.start - joined[index - 1]!.end).toBeGreaterThan(limit);
        for (const gap of subtract(joined, unite(a))) expect(gap.end - gap.start).toBeLessThanOrEqual(limit);
      }),
    );
  });

  it('clamp keeps inside the media', () => {
    expect(
      clamp(
        [
          { start: -5, end: 4 },
          { start: 8, end: 20 },
        ],
        { start: 0, end: 10 },
      ),
    ).toEqual([
      { start: 0, end: 4 },
      { start: 8, end: 10 },
    ]);
    expect(contains([{ start: 0, end: 4 }], 4)).toBe(false);
  });
});

describe('a jump cut', () => {
  // Common practice: a gap of 3 or 4 frames between two used parts is kept, one file instead of two.
  it('of four frames becomes one part', () =>
    expect(
      joinGaps(
        [
          { start: 0, end: 50 },
          { start: 54, end: 100 },
        ],
        4,
      ),
    ).toEqual([{ start: 0, end: 100 }]));
});

it('ranges of many sets that come one by one make the sets they make at once, however many', () => {
  const range = fc.tuple(fc.nat(2), fc.integer({ min: -500, max: 500 }), fc.integer({ min: -2, max: 9 }));
  fc.assert(
    fc.property(fc.array(range, { maxLength: 700, size: 'max' }), fc.integer({ min: 1, max: 300 }), fc.nat(700), (ranges, room, lookAt) => {
      const sets = new RangeSets(3, room);
      ranges.forEach(([set, start, length], index) => {
        // Looked at in between, they go on.
        if (index === lookAt) sets.of(set);
        sets.add(set, start, start + length);
      });
      for (const set of [0, 1, 2]) {
        const own = ranges.filter(([of]) => of === set);
        expect(sets.of(set)).toEqual(unite(own.map(([, start, length]) => ({ start, end: start + length }))));
        expect(sets.counts[set]).toBe(own.length);
      }
    }),
  );
});
