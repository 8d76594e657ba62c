/** A point or a length in time as a whole number of units at a rate: never seconds. */
import { ceilToRate, floorToRate } from '../time/convert';
import { rate, sameRate, type Rate } from '../time/rate';

export interface Moment {
  readonly value: number;
  readonly rate: Rate;
}

/** Whole units: a fractional value is kept exactly to a millionth of a unit by a finer rate, or as finely as one can be. */
export function moment(value: number, r: Rate): Moment {
  if (Number.isInteger(value)) return { value, rate: r };
  const scale = [1e6, 1e3].find((fine) => Number.isSafeInteger(r.num * fine) && Math.abs(value * fine) <= Number.MAX_SAFE_INTEGER);
  return scale === undefined ? { value: Math.floor(value), rate: r } : { value: Math.round(value * scale), rate: rate(r.num * scale, r.den) };
}

export function floorFrames(m: Moment, r: Rate): number {
  return sameRate(m.rate, r) ? m.value : floorToRate(m.value, m.rate, r);
}

export function ceilFrames(m: Moment, r: Rate): number {
  return sameRate(m.rate, r) ? m.value : ceilToRate(m.value, m.rate, r);
}

/**
 * Exact running sum of lengths at any mix of rates, so that nothing is rounded on the way: frames while all have one
 * rate, a fraction of a second from the second rate on.
 */
export class LengthSum {
  private only: { readonly rate: Rate; value: number } | null = null;
  private seconds: { num: bigint; den: bigint } | null = null;

  add({ value, rate: r }: Moment): void {
    this.only ??= { rate: r, value: 0 };
    if (!this.seconds && sameRate(this.only.rate, r)) {
      this.only.value += value;
      return;
    }
    this.seconds ??= secondsOf(this.only.value, this.only.rate);
    const part = secondsOf(value, r);
    // Most rates divide what is there already: the fraction grows with the number of rates, not of lengths.
    const rest = this.seconds.den % part.den;
    if (rest === 0n) this.seconds.num += part.num * (this.seconds.den / part.den);
    else this.seconds = { num: this.seconds.num * part.den + part.num * this.seconds.den, den: this.seconds.den * part.den };
  }

  /** The sum in whole frames at `r`, rounded down. */
  floorAt(r: Rate): number {
    return this.at(r).frame;
  }

  /** As floorAt, and whether nothing was rounded away. */
  at(r: Rate): { frame: number; isWhole: boolean } {
    if (!this.only) return { frame: 0, isWhole: true };
    if (!this.seconds) {
      const frame = floorFrames(this.only, r);
      return { frame, isWhole: this.only.rate === r || ceilFrames(this.only, r) === frame };
    }
    const den = this.seconds.den * BigInt(r.den);
    const num = this.seconds.num * BigInt(r.num);
    const rest = num % den;
    return { frame: Number(num / den - (rest < 0n ? 1n : 0n)), isWhole: rest === 0n };
  }
}

function secondsOf(value: number, r: Rate): { num: bigint; den: bigint } {
  return { num: BigInt(value) * BigInt(r.den), den: BigInt(r.num) };
}
