/** Frame counts from one rate to another, exactly. Ranges round outwards: a used frame is never lost. */
import type { Rate } from './rate';
import type { FrameRange } from './range';

/**
 * `frame` at rate `from`, times to/from, as an exact fraction: whole + a rest, `over` when there is one.
 * Integers in, integers out; BigInt where the product leaves the safe range.
 */
function scaled(frame: number, from: Rate, to: Rate): { whole: number; over: boolean } {
  const num = to.num * from.den;
  const den = to.den * from.num;
  const product = frame * num;
  if (Number.isSafeInteger(num) && Number.isSafeInteger(den) && Number.isSafeInteger(product)) {
    const rest = product % den;
    return { whole: (product - rest) / den - (rest < 0 ? 1 : 0), over: rest !== 0 };
  }
  return scaledBig(frame, from, to);
}

function scaledBig(frame: number, from: Rate, to: Rate): { whole: number; over: boolean } {
  const den = BigInt(to.den) * BigInt(from.num);
  const product = BigInt(frame) * BigInt(to.num) * BigInt(from.den);
  const rest = product % den;
  return { whole: Number(product / den - (rest < 0n ? 1n : 0n)), over: rest !== 0n };
}

/** The frame at rate `to` that is showing when `frame` at rate `from` begins. */
export function floorToRate(frame: number, from: Rate, to: Rate): number {
  return scaled(frame, from, to).whole;
}

/** The first frame at rate `to` that begins at or after the begin of `frame` at rate `from`. */
export function ceilToRate(frame: number, from: Rate, to: Rate): number {
  const { whole, over } = scaled(frame, from, to);
  return over ? whole + 1 : whole;
}

/** Half-open range from one rate to another, outwards: every instant of the input is covered by the output. */
export function rangeToRate(range: FrameRange, from: Rate, to: Rate): FrameRange {
  return { start: floorToRate(range.start, from, to), end: ceilToRate(range.end, from, to) };
}

/**
 * Begin of `frame` in whole microseconds, rounded down: how a cutting tool is told a time.
 * Floor, because a time a fraction late skips the frame.
 */
export function frameToMicroseconds(frame: number, r: Rate): number {
  return Number((BigInt(frame) * BigInt(r.den) * 1_000_000n) / BigInt(r.num));
}

/** For display and progress only. */
export function framesToSeconds(frames: number, r: Rate): number {
  return (frames * r.den) / r.num;
}
