/** Edit rates as exact rationals. A rate counts frames (or sound samples) per second. */

export interface Rate {
  readonly num: number;
  readonly den: number;
}

export class RateError extends Error {}

function gcd(a: number, b: number): number {
  while (b !== 0) [a, b] = [b, a % b];
  return a;
}

/** A rate in lowest terms. Throws RateError unless both parts are positive safe integers. */
export function rate(num: number, den = 1): Rate {
  if (!Number.isSafeInteger(num) || !Number.isSafeInteger(den) || num <= 0 || den <= 0) {
    throw new RateError(`${num}/${den} is not a rate: both parts must be whole numbers above 0`);
  }
  const divisor = gcd(num, den);
  return { num: num / divisor, den: den / divisor };
}

export function sameRate(a: Rate, b: Rate): boolean {
  return a.num * b.den === b.num * a.den;
}

/** The slowest rate at which whole frames of both are whole; null where no whole numbers hold it. */
export function commonRate(a: Rate, b: Rate): Rate | null {
  const num = (a.num / gcd(a.num, b.num)) * b.num;
  return Number.isSafeInteger(num) ? rate(num, gcd(a.den, b.den)) : null;
}

/** Frames a second as timecode counts them: 24000/1001 counts 24 (SMPTE ST 12-1, section 5). */
export function nominalFps(r: Rate): number {
  return Math.round(r.num / r.den);
}

/** Only the 1001 family whose nominal rate is a multiple of 30 has a drop-frame count (SMPTE ST 12-1, 5.2.2). */
export function canDropFrame(r: Rate): boolean {
  return r.den === 1001 && nominalFps(r) % 30 === 0;
}

/** For display and file formats that store a decimal number; never for arithmetic. */
export function rateAsNumber(r: Rate): number {
  return r.num / r.den;
}

/** "25", "23.976", "29.97", "59.94": what people say. */
export function rateLabel(r: Rate): string {
  return r.den === 1 ? String(r.num) : String(Number((r.num / r.den).toFixed(3)));
}

/**
 * The exact rate behind a decimal one as other tools write it (23.98, 23.976, 29.97, 119.88).
 * Anything within 0.02 % of an n·1000/1001 rate is that rate; otherwise the decimal to six places.
 * Throws RateError for what is not a positive finite number.
 */
export function rateFromNumber(value: number): Rate {
  const known = knownRates.get(value);
  if (known) return known;
  const made = exactRate(value);
  if (knownRates.size < 1000) knownRates.set(value, made);
  return made;
}

/** Whether a decimal number can be a rate at all: from one frame in a quarter of an hour to any sample rate. */
export function isRateNumber(value: unknown): value is number {
  return typeof value === 'number' && value >= 0.001 && value <= 1e9;
}

/** Documents repeat the same few rates at every time in them. */
const knownRates = new Map<number, Rate>();

function exactRate(value: number): Rate {
  if (!isRateNumber(value)) throw new RateError(`${value} is not a rate`);
  if (Number.isInteger(value)) return rate(value);
  const ntsc = Math.round(value);
  if (ntsc > 0 && Math.abs(value - (ntsc * 1000) / 1001) / value < 0.0002) return rate(ntsc * 1000, 1001);
  // Six places where they fit a whole number that a double holds exactly, fewer above.
  const scale = value * 1e6 <= Number.MAX_SAFE_INTEGER ? 1e6 : 1e3;
  return rate(Math.round(value * scale), scale);
}

/** Reads "30000/1001" or "25". Null when it is no usable rate (ffprobe says "0/0" for none). */
export function parseRate(text: string): Rate | null {
  const match = /^(\d{1,15})(?:\/(\d{1,15}))?$/.exec(text.trim());
  if (!match) return null;
  const num = Number(match[1]);
  const den = match[2] === undefined ? 1 : Number(match[2]);
  return num > 0 && den > 0 && Number.isSafeInteger(num) && Number.isSafeInteger(den) ? rate(num, den) : null;
}

export function formatRate(r: Rate): string {
  return `${r.num}/${r.den}`;
}
