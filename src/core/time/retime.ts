/**
 * Which part of the source a retimed event reads. Positions are exact fractions of a source frame; how they become
 * whole frames or samples is decided at the item's own rate, outwards, so that nothing is lost.
 */
import Fraction from 'fraction.js';

/** Constant speed as a fraction of normal: 1/2 is half speed, -1 plays backwards, 0 holds one frame. */
export interface Speed {
  readonly num: number;
  readonly den: number;
}

export const NORMAL_SPEED: Speed = { num: 1, den: 1 };

export function isNormal(speed: Speed): boolean {
  return speed.num === speed.den;
}

/** A value at a record frame counted from the event's in point (may be negative). */
export interface TimeKey {
  readonly frame: number;
  readonly num: number;
  readonly den: number;
}

/**
 * Speed that varies with time. `position`: source frames passed since the in point, straight between the keys.
 * `speed`: source frames per record frame, straight between the keys, passed frames being its integral.
 * Outside the outermost keys the last slope or speed goes on. Keys ascend and no two share a frame.
 */
export interface TimeMap {
  readonly of: 'position' | 'speed';
  readonly keys: readonly TimeKey[];
}

/** Source frames, exactly. */
export interface SourceInterval {
  readonly start: Fraction;
  readonly end: Fraction;
}

/**
 * The fraction behind a decimal speed: n/d with the smallest d up to 1001, else the one whose double it is with a d up to
 * a hundred million, else the decimal to nine places.
 * `within`: by how much the decimal may be rounded. Throws RangeError for what is no speed.
 */
export function speedFromNumber(value: number, within = 1e-12): Speed {
  if (!Number.isFinite(value) || Math.abs(value) > 1e5) throw new RangeError(`${value} is not a speed`);
  for (let den = 1; den <= 1001; den++) {
    const num = Math.round(value * den);
    if (Math.abs(num / den - value) < within) return { num, den };
  }
  return doubledBy(value) ?? { num: Math.round(value * 1e9), den: 1e9 };
}

/** By continued fractions: the length of an event over another comes back as it was. */
function doubledBy(value: number): Speed | null {
  let [beforeNum, num, beforeDen, den] = [0, 1, 1, 0];
  for (let rest = Math.abs(value), step = 0; step < 40; step++) {
    const whole = Math.floor(rest);
    [beforeNum, num] = [num, whole * num + beforeNum];
    [beforeDen, den] = [den, whole * den + beforeDen];
    if (den > 1e8) return null;
    if (num / den === Math.abs(value)) return { num: Math.sign(value) * num, den };
    if (rest === whole) return null;
    rest = 1 / (rest - whole);
  }
  return null;
}

/** Keys in order, doubled frames dropped (the last wins). Null when there is none or one is no number. */
export function timeMap(of: TimeMap['of'], keys: readonly { frame: number; value: number }[]): TimeMap | null {
  if (keys.length === 0 || keys.length > 100_000) return null;
  const byFrame = new Map<number, TimeKey>();
  for (const { frame, value } of keys) {
    if (!Number.isSafeInteger(frame) || !Number.isFinite(value) || Math.abs(value) > 1e12) return null;
    const den = Number.isInteger(value) ? 1 : 1_000_000;
    byFrame.set(frame, { frame, num: Math.round(value * den), den });
  }
  return { of, keys: [...byFrame.values()].sort((a, b) => a.frame - b.frame) };
}

function valueOf(key: TimeKey): Fraction {
  return new Fraction(BigInt(key.num), BigInt(key.den));
}

/** Source frames passed from the in point to record position `at` (record frames, may be fractional). */
export function mappedPosition(map: TimeMap, at: Fraction): Fraction {
  return map.of === 'position' ? straight(map.keys, at) : integral(map.keys, at).sub(integral(map.keys, new Fraction(0)));
}

/** Straight line through the keys around `at`, the outermost slope going on outside. */
function straight(keys: readonly TimeKey[], at: Fraction): Fraction {
  if (keys.length === 1) return valueOf(keys[0]!);
  const index = Math.min(keys.length - 1, Math.max(1, keysUpTo(keys, at)));
  const [a, b] = [keys[index - 1]!, keys[index]!];
  const slope = valueOf(b)
    .sub(valueOf(a))
    .div(b.frame - a.frame);
  return valueOf(a).add(slope.mul(at.sub(a.frame)));
}

/** How many keys stand at or before `at`. */
function keysUpTo(keys: readonly TimeKey[], at: Fraction): number {
  let low = 0;
  let high = keys.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (at.compare(keys[middle]!.frame) < 0) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** Area under the speed line from the first key to `at`; negative before it. */
function integral(keys: readonly TimeKey[], at: Fraction): Fraction {
  const first = keys[0]!;
  if (at.compare(first.frame) <= 0) return valueOf(first).mul(at.sub(first.frame));
  const index = keysUpTo(keys, at) - 1;
  const a = keys[index]!;
  return areasOf(keys)[index]!.add(areaAfter(a, keys[index + 1], at.sub(a.frame)));
}

/** Trapezoid of `length` frames from a key on; after the last key the speed stays. */
function areaAfter(a: TimeKey, b: TimeKey | undefined, length: Fraction): Fraction {
  const endSpeed = b ? speedBetween(a, b, length) : valueOf(a);
  return valueOf(a).add(endSpeed).div(2).mul(length);
}

/** Area up to each key: an event with a key on every frame asks for each of them. */
const areas = new WeakMap<readonly TimeKey[], readonly Fraction[]>();

function areasOf(keys: readonly TimeKey[]): readonly Fraction[] {
  const known = areas.get(keys);
  if (known) return known;
  const made = [new Fraction(0)];
  for (let index = 1; index < keys.length; index++) {
    const [a, b] = [keys[index - 1]!, keys[index]!];
    made.push(made[index - 1]!.add(areaAfter(a, b, new Fraction(b.frame - a.frame))));
  }
  areas.set(keys, made);
  return made;
}

function speedBetween(a: TimeKey, b: TimeKey, length: Fraction): Fraction {
  return valueOf(a).add(
    valueOf(b)
      .sub(valueOf(a))
      .mul(length)
      .div(b.frame - a.frame),
  );
}

/** Record positions inside (from, to) at which the direction may turn: keys, and where a speed line crosses 0. */
function turns(map: TimeMap, from: number, to: number): Fraction[] {
  const out: Fraction[] = [];
  map.keys.forEach((key, index) => {
    if (key.frame > from && key.frame < to) out.push(new Fraction(key.frame));
    const next = map.keys[index + 1];
    if (map.of !== 'speed' || !next || Math.sign(key.num) * Math.sign(next.num) >= 0) return;
    const share = valueOf(key).div(valueOf(key).sub(valueOf(next)));
    const at = share.mul(next.frame - key.frame).add(key.frame);
    if (at.compare(from) > 0 && at.compare(to) < 0) out.push(at);
  });
  return out;
}

export interface Retime {
  readonly speed: Speed;
  /** Takes the place of `speed` where the speed varies. */
  readonly map: TimeMap | null;
}

/**
 * Part of the source read by record frames [from, to) of an event whose whole length is `lengthFrames`, counted from
 * the source in point, all in the event's frames. `from` may be negative and `to` beyond the length: transitions.
 *
 * Pictures: frame t stands at t · speed; the interval holds one whole frame from each position on, so that rounding
 * it outwards takes the frames on both sides of a fractional position. Backwards the whole range is read from its
 * end. A held frame reads one. Sound: the exact stretch passed, no frame more.
 */
export function sourceInterval(retime: Retime, lengthFrames: number, from: number, to: number, sound: boolean): SourceInterval {
  if (retime.map) return mappedInterval(retime.map, from, to, sound);
  const { speed } = retime;
  const rate = new Fraction(BigInt(speed.num), BigInt(speed.den));
  const one = new Fraction(1);
  if (speed.num === 0) return { start: new Fraction(0), end: one };
  if (speed.num > 0) {
    const start = rate.mul(from);
    const passed = rate.mul(to);
    if (sound) return { start, end: passed };
    return { start, end: largest([passed, rate.mul(to - 1).add(1)]) };
  }
  const back = rate.abs();
  if (sound) return { start: back.mul(lengthFrames - to), end: back.mul(lengthFrames - from) };
  const whole = largest([back.mul(lengthFrames), back.mul(lengthFrames - 1).add(1)]).ceil();
  return { start: smallest([whole.sub(back.mul(to)), whole.sub(1).sub(back.mul(to - 1))]), end: whole.sub(back.mul(from)) };
}

function mappedInterval(map: TimeMap, from: number, to: number, sound: boolean): SourceInterval {
  const lastShown = sound ? to : Math.max(from, to - 1);
  // A picture is taken at whole record frames: the ones on either side of a turn.
  const inside = turns(map, from, to).flatMap((at) => (sound ? [at] : [at.floor(), at.ceil()]));
  const at = [new Fraction(from), new Fraction(lastShown), ...inside].map((position) => mappedPosition(map, position));
  const passed = mappedPosition(map, new Fraction(to));
  return sound
    ? { start: smallest(at), end: largest(at) }
    : { start: smallest([...at, passed]), end: largest([...at.map((position) => position.add(1)), passed]) };
}

function smallest(values: readonly Fraction[]): Fraction {
  return values.reduce((least, value) => (value.compare(least) < 0 ? value : least));
}

function largest(values: readonly Fraction[]): Fraction {
  return values.reduce((most, value) => (value.compare(most) > 0 ? value : most));
}
