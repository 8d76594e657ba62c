import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ceilToRate, floorToRate, frameToMicroseconds, rangeToRate } from './convert';
import { rate, type Rate } from './rate';

const RATES: Rate[] = [rate(24000, 1001), rate(24), rate(25), rate(30000, 1001), rate(50), rate(60000, 1001), rate(120), rate(48000)];

describe('rangeToRate', () => {
  it('covers every instant of the input, at the last hours of a day too, and is at most two frames wider', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...RATES),
        fc.constantFrom(...RATES),
        fc.nat(4_000_000_000),
        fc.integer({ min: 1, max: 5000 }),
        (from, to, start, length) => {
          const out = rangeToRate({ start, end: start + length }, from, to);
          // Compared as exact fractions of a second, never as floating point.
          const seconds = (frame: number, r: Rate) => [BigInt(frame) * BigInt(r.den), BigInt(r.num)] as const;
          const atMost = (a: readonly [bigint, bigint], b: readonly [bigint, bigint]) => a[0] * b[1] <= b[0] * a[1];
          expect(atMost(seconds(out.start, to), seconds(start, from))).toBe(true);
          expect(atMost(seconds(start + length, from), seconds(out.end, to))).toBe(true);
          expect(atMost(seconds(start, from), seconds(out.start + 1, to))).toBe(true);
          expect(atMost(seconds(out.end - 1, to), seconds(start + length, from))).toBe(true);
        },
      ),
    );
  });

  it('is the identity between equal rates', () => expect(rangeToRate({ start: 7, end: 9 }, rate(25), rate(50, 2))).toEqual({ start: 7, end: 9 }));

  it('takes sound on the sample', () => {
    expect(floorToRate(900_000, rate(25), rate(48000))).toBe(1_728_000_000);
    expect(ceilToRate(1, rate(30000, 1001), rate(48000))).toBe(1602);
  });

  it('rounds times down to the microsecond', () => expect(frameToMicroseconds(1, rate(30000, 1001))).toBe(33_366));
});
