/** A point or a length in time as a whole number of units at a rate: never seconds. */
import { ceilToRate, floorToRate } from '../time/convert';
import { rate, sameRate, type Rate } from '../time/rate';

export interface Moment {
  readonly value: number;
  readonly rate: Rate;
}

/** Whole units: a fractional value is kept exactly to a millionth of a unit by a finer rate. */
export function moment(value: number, r: Rate): Moment {
  if (Number.isInteger(value)) return { value, rate: r };
  return { value: Math.round(value * 1e6), rate: rate(r.num * 1e6, r.den) };
}

export function floorFrames(m: Moment, r: Rate): number {
  return sameRate(m.rate, r) ? m.value : floorToRate(m.value, m.rate, r);
}

export function ceilFrames(m: Moment, r: Rate): number {
  return sameRate(m.rate, r) ? m.value : ceilToRate(m.value, m.rate, r);
}

/** Exact running sum of lengths at any mix of rates; one bucket a rate, so that nothing is rounded on the way. */
export class LengthSum {
  private readonly buckets: { rate: Rate; value: number }[] = [];

  add(length: Moment): void {
    const bucket = this.buckets.find((entry) => sameRate(entry.rate, length.rate));
    if (bucket) bucket.value += length.value;
    else this.buckets.push({ rate: length.rate, value: length.value });
  }

  /** The sum in whole frames at `r`, rounded down. */
  floorAt(r: Rate): number {
    return this.at(r).frame;
  }

  /** As floorAt, and whether nothing was rounded away. */
  at(r: Rate): { frame: number; isWhole: boolean } {
    if (this.buckets.length === 0) return { frame: 0, isWhole: true };
    if (this.buckets.length === 1) {
      const only = this.buckets[0]!;
      const frame = floorFrames(only, r);
      return { frame, isWhole: only.rate === r || ceilFrames(only, r) === frame };
    }
    let num = 0n;
    let den = 1n;
    for (const { rate: unit, value } of this.buckets) {
      const partNum = BigInt(value) * BigInt(unit.den) * BigInt(r.num);
      const partDen = BigInt(unit.num) * BigInt(r.den);
      num = num * partDen + partNum * den;
      den *= partDen;
    }
    const rest = num % den;
    return { frame: Number(num / den - (rest < 0n ? 1n : 0n)), isWhole: rest === 0n };
  }
}
