/** Which source frames a retimed event reads. Speeds are exact fractions; ranges come out whole, rounded outwards. */
import type { FrameRange } from './range';

/** Constant speed as a fraction of normal: 1/2 is half speed, -1 plays backwards, 0 holds one frame. */
export interface Speed {
  readonly num: number;
  readonly den: number;
}

export const NORMAL_SPEED: Speed = { num: 1, den: 1 };

/** The fraction behind a decimal speed: n/d with the smallest d up to 1001, else the decimal to nine places. */
export function speedFromNumber(value: number): Speed {
  if (!Number.isFinite(value) || Math.abs(value) > 1e5) throw new RangeError(`${value} is not a speed`);
  for (let den = 1; den <= 1001; den++) {
    const num = Math.round(value * den);
    if (Math.abs(num / den - value) < 1e-12) return { num, den };
  }
  return { num: Math.round(value * 1e9), den: 1e9 };
}

/** Source frames passed in `frames` frames of record at `speed`, whatever the direction, rounded up. */
export function framesTravelled(frames: number, speed: Speed): number {
  const product = BigInt(Math.abs(speed.num)) * BigInt(Math.ceil(frames));
  const den = BigInt(speed.den);
  return Number((product + den - 1n) / den);
}

/**
 * Source frames read by an event of `durationFrames` record frames whose source range begins at `inFrame`.
 * The last frame shown stands at in + (duration − 1) · |speed|; at a fractional position the frames on either
 * side of it are read. Backwards the same range is read from its end. A held frame reads one.
 * A fractional in point takes the whole frames around it.
 */
export function retimedSourceRange(inFrame: number, durationFrames: number, speed: Speed): FrameRange {
  const start = Math.floor(inFrame);
  if (durationFrames <= 0) return { start, end: start };
  const fraction = inFrame > start ? 1 : 0;
  if (speed.num === 0) return { start, end: start + 1 + fraction };
  const length = Math.max(framesTravelled(durationFrames, speed), framesTravelled(durationFrames - 1, speed) + 1);
  return { start, end: start + length + fraction };
}
