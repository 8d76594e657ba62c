/** Speeds as M2 lines state them: source frames a second, rounded, in a column beside the reel. Common practice. */
import { nominalFps, rateAsNumber, type Rate } from '../../time/rate';
import { speedFromNumber, type Speed } from '../../time/retime';

export interface SpeedLine {
  /** What the line names: the reel, or (as some writers do) the clip. */
  readonly name: string;
  readonly speed: string;
}

/** "M2  REEL  025.0  00:00:00:00": the timecode may lack, and a name may hold blanks. */
export function readSpeedLine(line: string): SpeedLine | null {
  const words = line.split(/\s+/).slice(1);
  if (words.length > 1 && /^\d\d[:;]\d\d[:;]\d\d[:;.]\d{2,3}$/.test(words.at(-1)!)) words.pop();
  const speed = words.pop();
  return speed !== undefined && words.length > 0 && /^[+-]?\d+(\.\d+)?$/.test(speed) ? { name: words.join(' '), speed } : null;
}

/** What speed and lengths say together. `by`: which of them decided where they do not fit each other. */
export interface AgreedSpeed {
  readonly speed: Speed;
  readonly by: 'both' | 'speed' | 'lengths';
}

/**
 * Speed of an M2 line against `source` frames for `record` frames. Lists state it rounded, and at a rate of the 1001
 * family some count 30 a second and others 29.97: of what it may stand for, the one that the lengths confirm best. Where
 * none fits, the lengths decide, but for those of writers that divide by the speed: there it is the speed.
 */
export function agreeOnSpeed(stated: string, source: number, record: number, rate: Rate): AgreedSpeed {
  const fps = Math.abs(Number(stated));
  const signed = (speed: Speed): Speed => (stated.startsWith('-') ? { num: -speed.num, den: speed.den } : speed);
  if (fps === 0) return { speed: { num: 0, den: 1 }, by: 'both' };
  const decimals = stated.split('.')[1]?.length ?? 0;
  const meanings = [nominalFps(rate), rateAsNumber(rate)].map((base) => {
    const within = 0.5 / 10 ** decimals / base + 1e-9;
    return { value: fps / base, within, speed: speedFromNumber(Math.min(1e5, fps / base), decimals >= 2 ? within : undefined) };
  });
  if (source === 0 || record === 0) return { speed: signed(meanings[0]!.speed), by: 'both' };
  const speeds = meanings.map(({ speed }) => speed);
  // An in point is rounded down, an out point up: up to two frames more than the speed makes.
  const off = ({ num, den }: Speed) => source - (record * num) / den;
  const fitting = nearest(speeds, off, (frames) => frames > -1 && frames < 2);
  if (fitting) return { speed: signed(fitting), by: 'both' };
  const byLengths = signed({ num: source, den: record });
  if (meanings.some(({ value, within }) => Math.abs(source / record - value) <= within)) return { speed: byLengths, by: 'both' };
  const divided = source === record ? null : nearest(speeds, ({ num, den }) => source - (record * den) / num, (frames) => Math.abs(frames) <= 1); // prettier-ignore
  return divided ? { speed: signed(divided), by: 'speed' } : { speed: byLengths, by: 'lengths' };
}

/** The first of those speeds that come nearest to the lengths. */
function nearest(speeds: readonly Speed[], off: (speed: Speed) => number, fits: (frames: number) => boolean): Speed | null {
  const found = speeds.filter((speed) => fits(off(speed)));
  return found.reduce<Speed | null>((best, speed) => (best && Math.abs(off(best)) <= Math.abs(off(speed)) ? best : speed), null);
}

/** Speed as the column takes it: one decimal, three where one is not exact. Counted at the real rate, 14.985 for half of 29.97. */
export function speedColumn(speed: Speed, rate: Rate): string {
  const fps = (rateAsNumber(rate) * speed.num) / speed.den;
  const short = Math.abs(fps * 10 - Math.round(fps * 10)) < 1e-9;
  const digits = Math.abs(fps).toFixed(short ? 1 : 3);
  return `${fps < 0 ? '-' : ''}${digits.padStart(short ? 5 : 7, '0')}`;
}
