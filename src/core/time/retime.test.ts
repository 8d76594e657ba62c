import fc from 'fast-check';
import Fraction from 'fraction.js';
import { describe, expect, it } from 'vitest';
import { mappedPosition, NORMAL_SPEED, sourceInterval, speedFromNumber, timeMap, type Retime, type TimeMap } from './retime';

const at = (percent: number): Retime => ({ speed: speedFromNumber(percent / 100), map: null });
const whole = (retime: Retime, length: number, sound = false) => {
  const { start, end } = sourceInterval(retime, length, 0, length, sound);
  return [start.valueOf(), end.valueOf()];
};

it('a length over another comes back as that fraction', () => {
  fc.assert(
    fc.property(fc.integer({ min: -2_000_000, max: 2_000_000 }), fc.integer({ min: 1, max: 2_000_000 }), (source, record) => {
      fc.pre(Math.abs(source) <= record * 1e5);
      const { num, den } = speedFromNumber(source / record);
      expect(num * record).toBe(source * den);
    }),
  );
});

describe('constant speed', () => {
  it('holds every frame that a slow model reads, one by one, and at most two more', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 80 }), fc.integer({ min: 1, max: 400 }), (duration, percent) => {
        const [start, end] = whole(at(percent), duration) as [number, number];
        let last = 0;
        for (let frame = 0; frame < duration; frame++) {
          const [below, above] = [Math.floor((frame * percent) / 100), Math.ceil((frame * percent) / 100)];
          expect(below >= start && above < Math.ceil(end)).toBe(true);
          last = above;
        }
        expect(Math.ceil(end) - last).toBeLessThanOrEqual(Math.ceil(percent / 100) + 1);
      }),
    );
  });

  it('at normal speed reads what it lasts; held, one frame; backwards, the same as forwards', () => {
    expect(whole(at(100), 25)).toEqual([0, 25]);
    expect(whole(at(0), 25)).toEqual([0, 1]);
    expect(whole(at(-100), 25)).toEqual([0, 25]);
    expect(whole(at(50), 3)).toEqual([0, 2]);
  });

  it('keeps sound exact: half of 25 frames is twelve and a half', () => {
    expect(whole(at(50), 25, true)).toEqual([0, 12.5]);
    expect(whole(at(-50), 25, true)).toEqual([0, 12.5]);
  });

  it('takes the smallest fraction behind a decimal speed, and refuses what is none', () => {
    expect(speedFromNumber(0.3333333333333333)).toEqual({ num: 1, den: 3 });
    expect(speedFromNumber(24 / 23.976)).toEqual({ num: 1000, den: 999 });
    expect(() => speedFromNumber(Infinity)).toThrow(RangeError);
  });
});

describe('speed that varies', () => {
  const keys = fc
    .uniqueArray(fc.integer({ min: -20, max: 120 }), { minLength: 1, maxLength: 6 })
    .chain((frames) => fc.tuple(...frames.map((frame) => fc.integer({ min: -400, max: 400 }).map((value) => ({ frame, value: value / 100 })))));

  it('a speed held by its keys is that constant speed', () => {
    const map = timeMap('speed', [
      { frame: 0, value: 2 },
      { frame: 50, value: 2 },
    ])!;
    expect(whole({ speed: NORMAL_SPEED, map }, 50)).toEqual(whole(at(200), 50));
  });

  it('from 0 to 2 in 100 frames passes 100 source frames: half of speed times time', () => {
    const map = timeMap('speed', [
      { frame: 0, value: 0 },
      { frame: 100, value: 2 },
    ])!;
    expect(mappedPosition(map, new Fraction(100)).valueOf()).toBe(100);
    expect(mappedPosition(map, new Fraction(50)).valueOf()).toBe(25);
    expect(mappedPosition(map, new Fraction(150)).valueOf()).toBe(200);
  });

  it('never lacks a frame that a slow model reads, whichever way it turns', () => {
    fc.assert(
      fc.property(
        keys,
        fc.constantFrom('speed', 'position'),
        fc.integer({ min: -10, max: 60 }),
        fc.integer({ min: 1, max: 80 }),
        (list, of, from, length) => {
          const map: TimeMap = timeMap(of, list)!;
          const { start, end } = sourceInterval({ speed: NORMAL_SPEED, map }, length, from, from + length, false);
          for (let frame = from; frame < from + length; frame++) {
            const position = slowPosition(map, frame);
            expect(Math.floor(position + 1e-9)).toBeGreaterThanOrEqual(Math.floor(start.valueOf() + 1e-9));
            expect(Math.ceil(position - 1e-9)).toBeLessThan(Math.ceil(end.valueOf() - 1e-9) + 1e-9);
          }
        },
      ),
    );
  });
});

/** The same map in floating point, step by step: thousandths of a frame summed where speeds are given. */
function slowPosition(map: TimeMap, frame: number): number {
  const keys = map.keys.map((key) => ({ frame: key.frame, value: key.num / key.den }));
  const between = (x: number, outside: 'hold' | 'go on') => {
    if (keys.length === 1) return keys[0]!.value;
    let index = keys.findIndex((key) => x < key.frame);
    if (outside === 'hold' && index === 0) return keys[0]!.value;
    if (outside === 'hold' && index < 0) return keys.at(-1)!.value;
    index = index < 0 ? keys.length - 1 : Math.max(1, index);
    const [a, b] = [keys[index - 1]!, keys[index]!];
    return a.value + ((b.value - a.value) * (x - a.frame)) / (b.frame - a.frame);
  };
  if (map.of === 'position') return between(frame, 'go on');
  // Between whole frames the speed is a straight line, for keys stand on whole frames: the midpoint is exact.
  let sum = 0;
  for (let step = 0; step < Math.abs(frame); step++) sum += between(frame > 0 ? step + 0.5 : -step - 0.5, 'hold') * Math.sign(frame);
  return sum;
}
