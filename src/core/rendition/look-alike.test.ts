import fc from 'fast-check';
import { expect, it } from 'vitest';
import { placeOf, soundAgainst, type SmallPicture } from './look-alike';

const SIZE = 96 * 54;
/** A picture with a bright field whose left edge stands at `at`. */
const field = (at: number, low = 40, high = 200): SmallPicture => Uint8Array.from({ length: SIZE }, (_, index) => (index % 96 >= at && index % 96 < at + 20 ? high : low)); // prettier-ignore
const noisy = (picture: SmallPicture, seed: number, much: number): SmallPicture =>
  picture.map((value, index) => Math.min(255, Math.max(0, value + (hash(index, seed) % (2 * much + 1)) - much)));
/** Evenly spread, the same for the same. */
function hash(a: number, b: number): number {
  let mixed = (a * 374_761_393 + b * 668_265_263) | 0;
  mixed = Math.imul(mixed ^ (mixed >>> 13), 1_274_126_177);
  return (mixed ^ (mixed >>> 16)) >>> 0;
}

it('a moving picture fits its own place, through noise, gain and a bar of letters, and is told wherever it is moved to', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 4 }), fc.integer({ min: 1, max: 6 }), fc.nat(20), fc.double({ min: 0.4, max: 1, noNaN: true }), fc.boolean(), (shown, step, much, gain, hasBar) => {
      const around = [0, 1, 2, 3, 4].map((index) => field(10 + index * step));
      const copy = noisy(around[shown]!, shown + 3, much).map((value) => value * gain + 8).map((value, index) => (hasBar && index >= 96 * 46 ? 255 : value)); // prettier-ignore
      const verdict = placeOf(copy, around, 2);
      if (shown === 2) expect(verdict).toEqual({ is: 'here' });
      else expect(verdict).toEqual({ is: 'elsewhere', by: shown - 2 });
    }),
  ); // prettier-ignore
});

it('what is dark, flat or still tells nothing; what is wholly another is told', () => {
  const dark = new Uint8Array(SIZE).fill(2);
  const still = [0, 1, 2, 3, 4].map(() => field(30));
  expect(placeOf(dark, [dark, dark, dark], 1)).toEqual({ is: 'untold' });
  expect(placeOf(field(30), still, 2)).toEqual({ is: 'untold' });
  expect(placeOf(new Uint8Array(SIZE).fill(128), still, 2)).toEqual({ is: 'another' });
  expect(placeOf(field(70), [0, 1, 2, 3, 4].map((index) => field(10 + index)), 2)).toEqual({ is: 'another' }); // prettier-ignore
  // The first and the last frame have neighbours on one side alone.
  expect(placeOf(field(10), [field(10), field(12)], 0)).toEqual({ is: 'here' });
});

it('noise that a tiny copy cannot hold tells nothing: all places are as unlike', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 10_000 }), fc.integer({ min: 20, max: 90 }), (seed, much) => {
      const base = field(30);
      const around = [0, 1, 2, 3, 4].map((index) => noisy(base, seed * 5 + index, much));
      expect(placeOf(base, around, 2)).toEqual({ is: 'untold' });
    }),
  );
});

it('channels are told by how they rise and fall, whatever their level', () => {
  const beat = (period: number) => Array.from({ length: 200 }, (_, index) => (index % period < period / 2 ? -12 : -50));
  const quiet = (own: readonly number[]) => own.map((level) => level - 9);
  const [a, b, silence] = [beat(10), beat(17), Array.from({ length: 200 }, () => -60)];
  expect(soundAgainst([a, b], [quiet(a), quiet(b)])).toBeNull();
  expect(soundAgainst([a, b], [b, a])).toBe('channel 1 is channel 2 of its source');
  expect(soundAgainst([a, silence], [silence, a])).toBe('channel 1 does not sound like that of its source');
  expect(soundAgainst([silence, silence], [silence, silence])).toBeNull();
  // The same on both: neither order is wrong.
  expect(soundAgainst([a, a], [a, a])).toBeNull();
});
