/** A point or a length in time as a whole number of units at a rate: never seconds. */
import Fraction from 'fraction.js';
import { ceilToRate, floorToRate } from '../time/convert';
import { canDropFrame, formatRate, nominalFps, rate, sameRate, type Rate } from '../time/rate';

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

/** Units of `r`, exactly. */
export function exactFrames({ value, rate: own }: Moment, r: Rate): Fraction {
  return new Fraction(BigInt(r.num) * BigInt(own.den), BigInt(r.den) * BigInt(own.num)).mul(value);
}

const HOUR_SECONDS = 3600;

/**
 * The whole hour that a label stands in, in units of `r`, rounded down: lists of files without timecode often begin there. At
 * rates that may drop frames it is told twice, without and with (SMPTE ST 12-1: 1 h at 30000/1001 is 107 892 frames).
 */
export function hoursBefore(label: Moment, r: Rate): number[] {
  const perHour = nominalFps(label.rate) * HOUR_SECONDS;
  const dropping = canDropFrame(label.rate) ? [perHour - (perHour / HOUR_SECONDS / 30) * 2 * 54] : [];
  return [perHour, ...dropping].map((hour) => floorFrames({ value: Math.floor(label.value / hour) * hour, rate: label.rate }, r));
}

/** Binary places that a sum at mixed rates is bounded to before it is reckoned exactly. */
const PLACES = 192n;

/**
 * Exact running sum of lengths at any mix of rates, so that nothing is rounded on the way: frames while all have one
 * rate. From the second rate on bounds of the sum tell the frame; only where a frame's edge lies between them is the
 * fraction itself made, which grows with the number of rates.
 */
export class LengthSum {
  private only: { readonly rate: Rate; value: number } | null = null;
  private readonly byRate = new Map<string, { readonly rate: Rate; value: bigint }>();
  /** Seconds in units of 2^-PLACES: the sum lies from `low` up to less than `low + rounded`. */
  private low = 0n;
  private rounded = 0n;

  add({ value, rate: r }: Moment): void {
    this.only ??= { rate: r, value: 0 };
    if (this.byRate.size === 0 && sameRate(this.only.rate, r)) {
      this.only.value += value;
      return;
    }
    if (this.byRate.size === 0) this.addMixed(BigInt(this.only.value), this.only.rate);
    this.addMixed(BigInt(value), r);
  }

  private addMixed(value: bigint, r: Rate): void {
    const key = formatRate(r);
    const known = this.byRate.get(key);
    if (known) known.value += value;
    else this.byRate.set(key, { rate: r, value });
    const seconds = (value * BigInt(r.den)) << PLACES;
    this.low += quotient(seconds, BigInt(r.num));
    if (seconds % BigInt(r.num) !== 0n) this.rounded++;
  }

  /** The sum in whole frames at `r`, rounded down. */
  floorAt(r: Rate): number {
    return this.at(r).frame;
  }

  /** Like `floorAt`, and whether nothing was rounded away. */
  at(r: Rate): { frame: number; isWhole: boolean } {
    if (!this.only) return { frame: 0, isWhole: true };
    if (this.byRate.size === 0) {
      const frame = floorFrames(this.only, r);
      return { frame, isWhole: this.only.rate === r || ceilFrames(this.only, r) === frame };
    }
    const unit = BigInt(r.den) << PLACES;
    const [low, high] = [this.low * BigInt(r.num), (this.low + this.rounded) * BigInt(r.num)];
    const frame = quotient(low, unit);
    if (frame === quotient(high, unit) && low % unit !== 0n) return { frame: Number(frame), isWhole: false };
    return this.exactAt(r);
  }

  private exactAt(r: Rate): { frame: number; isWhole: boolean } {
    let [num, den] = [0n, 1n];
    for (const { rate: unit, value } of this.byRate.values()) {
      const [partNum, partDen] = [value * BigInt(unit.den) * BigInt(r.num), BigInt(unit.num) * BigInt(r.den)];
      [num, den] = den % partDen === 0n ? [num + partNum * (den / partDen), den] : [num * partDen + partNum * den, den * partDen];
    }
    return { frame: Number(quotient(num, den)), isWhole: num % den === 0n };
  }
}

/** Rounded down. */
function quotient(num: bigint, den: bigint): bigint {
  return num / den - (num % den < 0n ? 1n : 0n);
}
