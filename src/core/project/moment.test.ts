import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rate, rateFromNumber, type Rate } from '../time/rate';
import { ceilFrames, floorFrames, LengthSum, moment } from './moment';

const RATES: Rate[] = [rate(24_000, 1001), rate(24), rate(25), rate(30_000, 1001), rate(60_000, 1001), rate(48_000), rate(44_100), rate(1)];
const length = fc.record({ value: fc.integer({ min: 0, max: 5_000_000_000 }), rate: fc.constantFrom(...RATES) });

describe('a running sum of lengths', () => {
  it('is exact at any mix of rates, and knows whether anything was rounded away', () => {
    fc.assert(
      fc.property(fc.array(length, { maxLength: 20 }), fc.constantFrom(...RATES), (lengths, at) => {
        const sum = new LengthSum();
        // The same as one fraction of a second, num/den, in whole numbers.
        let [num, den] = [0n, 1n];
        for (const one of lengths) {
          sum.add(one);
          [num, den] = [num * BigInt(one.rate.num) + BigInt(one.value) * BigInt(one.rate.den) * den, den * BigInt(one.rate.num)];
        }
        const [frames, parts] = [num * BigInt(at.num), den * BigInt(at.den)];
        expect(sum.at(at)).toEqual({ frame: Number(frames / parts), isWhole: frames % parts === 0n });
        expect(sum.floorAt(at)).toBe(Number(frames / parts));
      }),
    );
  });
});

describe('a moment', () => {
  it('at any rate that a number can state, fractions too, is whole units of a rate', () => {
    fc.assert(
      fc.property(fc.double({ min: -1e13, max: 1e13, noNaN: true }), fc.double({ min: 0.001, max: 1e9, noNaN: true }), (value, fps) => {
        const made = moment(value, rateFromNumber(fps));
        expect(Number.isInteger(made.value)).toBe(true);
        const seconds = (made.value * made.rate.den) / made.rate.num;
        expect(Math.abs(seconds - value / fps)).toBeLessThanOrEqual(Math.abs(seconds) * 1e-3 + 1 / fps);
        expect(Number.isFinite(floorFrames(made, rate(25)))).toBe(true);
      }),
    );
  });

  it('is whole, or kept to a millionth of a unit; frames around it enclose it', () => {
    expect(moment(7, rate(25))).toEqual({ value: 7, rate: rate(25) });
    expect(moment(7.25, rate(25))).toEqual({ value: 7_250_000, rate: rate(25_000_000) });
    fc.assert(
      fc.property(length, fc.constantFrom(...RATES), (one, at) => {
        const [below, above] = [floorFrames(one, at), ceilFrames(one, at)];
        expect(above - below === 0 || above - below === 1).toBe(true);
        const exact = BigInt(one.value) * BigInt(one.rate.den) * BigInt(at.num);
        const unit = BigInt(one.rate.num) * BigInt(at.den);
        expect(BigInt(below) * unit <= exact && exact <= BigInt(above) * unit).toBe(true);
      }),
    );
  });
});
