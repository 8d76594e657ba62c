/** The source frames that a line of a list states for a part of an event, rounded outwards. */
import Fraction from 'fraction.js';
import { sameRate, type Rate } from '../../time/rate';
import { mappedPosition, sourceInterval, type SourceInterval, type Speed, type TimeMap } from '../../time/retime';
import type { Pace } from './laid';

export interface SourceCounting {
  readonly rate: Rate;
  readonly dropFrame: boolean;
  /** Frames are found by their number: one of the source for one of the event. */
  readonly isByFrame: boolean;
}

/**
 * Source frames from the in point that the record part [from, to) of an event at `r` takes, rounded outwards; one where it
 * holds. `part`: by how much of a source frame its in point lies behind a whole one. `between`: by how much the part that is
 * read begins behind the frame it is written to; 0 where labels count otherwise than the list.
 */
export function sourceRead(
  speed: Speed,
  durationFrames: number,
  [from, to]: readonly [number, number],
  part: Fraction,
  r: Rate,
  count: SourceCounting,
): { start: number; end: number; between: number } {
  if (speed.num === 0) return { start: 0, end: 1, between: 0 };
  const { start, end } = passed(speed, durationFrames, from, Math.max(to, from + 1));
  if (count.isByFrame || sameRate(count.rate, r)) {
    const behind = start.add(part);
    return { start: behind.floor().valueOf(), end: end.add(part).ceil().valueOf(), between: behind.sub(behind.floor()).valueOf() };
  }
  const scale = new Fraction(BigInt(count.rate.num) * BigInt(r.den), BigInt(count.rate.den) * BigInt(r.num));
  return { start: start.mul(scale).floor().valueOf(), end: end.mul(scale).ceil().valueOf(), between: 0 };
}

/** What is passed from `from` to `to`, as an event of that length alone reads it: fast and backwards whole frames from its end. */
function passed(speed: Speed, durationFrames: number, from: number, to: number): SourceInterval {
  if (speed.num > -speed.den) return sourceInterval({ speed, map: null }, durationFrames, from, to, true);
  const whole = (frames: number) => sourceInterval({ speed, map: null }, frames, 0, frames, false).end;
  const back = new Fraction(BigInt(-speed.num), BigInt(speed.den));
  const end = whole(durationFrames).sub(back.mul(from));
  return { start: end.sub(whole(to - from)), end };
}

/** Source frames that the part [from, to) of a piece takes, which goes through its event at a pace of its own: its first frame is the one shown. */
export function pacedRead(
  own: Speed,
  pace: Pace,
  durationFrames: number,
  from: number,
  to: number,
  r: Rate,
  count: SourceCounting,
): { start: number; end: number } {
  const at = pace.frameAt(from);
  const each = new Fraction(BigInt(Math.abs(own.num)), BigInt(own.den));
  // Backwards it goes from its end.
  const first = own.num < 0 ? each.mul(durationFrames - at).ceil().sub(1) : each.mul(at).floor(); // prettier-ignore
  const scale = count.isByFrame ? new Fraction(1) : new Fraction(BigInt(count.rate.num) * BigInt(r.den), BigInt(count.rate.den) * BigInt(r.num));
  const { num, den } = timesPace(own, pace);
  const passed = new Fraction(BigInt(Math.abs(num)), BigInt(den)).mul(to - from).mul(scale).ceil().valueOf(); // prettier-ignore
  const length = Math.max(1, passed);
  if (num >= 0) return { start: first.mul(scale).floor().valueOf(), end: first.mul(scale).floor().valueOf() + length };
  const end = first.add(1).mul(scale).ceil().valueOf();
  return { start: end - length, end };
}

export function timesPace({ num, den }: Speed, { speed }: Pace): Speed {
  const all = new Fraction(BigInt(num), BigInt(den)).mul(speed);
  return { num: Number(all.s * all.n), den: Number(all.d) };
}

/** Source frames passed over the whole event, a record frame; to the thousandth, as finely as a list states it. */
export function averageSpeed(map: TimeMap, frames: number): Speed {
  const passed = mappedPosition(map, new Fraction(frames)).sub(mappedPosition(map, new Fraction(0)));
  return { num: Math.round((passed.valueOf() / frames) * 1000), den: 1000 };
}
