/** What fits on the drive, against trying out all there is to try. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { pack, type PackUnit } from './packing';

const optionForm = fc.record({ bytes: fc.integer({ min: 0, max: 40 }) });
const unitForm = fc.record({ seconds: fc.integer({ min: 0, max: 20 }), options: fc.array(optionForm, { maxLength: 3 }) });

type Unit = PackUnit<{ bytes: number }>;

const bytesOf = (units: readonly Unit[], taken: readonly (number | null)[]) =>
  taken.reduce<number>((sum, option, unit) => sum + (option === null ? 0 : units[unit]!.options[option]!.bytes), 0);
const readable = (units: readonly Unit[]) => units.filter(({ options }) => options.length > 0);
/** Steps above the worst option, by the seconds that are read; more than any of that where it is read at all. */
const worth = (units: readonly Unit[], taken: readonly (number | null)[]) =>
  taken.reduce<number>((sum, option, unit) => sum + (option === null ? 0 : units[unit]!.seconds * (3 - option)), 0);

/** Every way to take an option of each unit, within the room. */
function* ways(units: readonly Unit[], room: number, at = 0): Generator<(number | null)[]> {
  if (at === units.length) {
    yield [];
    return;
  }
  const { options } = units[at]!;
  for (const option of options.length === 0 ? [null] : options.keys()) {
    const bytes = option === null ? 0 : options[option]!.bytes;
    if (bytes > room) continue;
    for (const rest of ways(units, room - bytes, at + 1)) yield [option, ...rest];
  }
}

it('never takes more than there is room for, and leaves nothing behind that could be read', () => {
  fc.assert(
    fc.property(fc.array(unitForm, { maxLength: 12 }), fc.integer({ min: 0, max: 200 }), (units, room) => {
      const taken = pack(units, room);
      expect(bytesOf(units, taken)).toBeLessThanOrEqual(room);
      const lightest = readable(units).reduce((sum, { options }) => sum + Math.min(...options.map(({ bytes }) => bytes)), 0);
      if (lightest <= room) expect(taken.filter((option) => option !== null).length).toBe(readable(units).length);
      // Whatever stays behind would not fit any more, lightest as it is.
      const left = room - bytesOf(units, taken);
      units.forEach(({ options }, unit) => taken[unit] === null && options.forEach(({ bytes }) => expect(bytes).toBeGreaterThan(left)));
      units.forEach(({ options }, unit) => {
        const now = taken[unit];
        // Nor is there a better picture that would still fit.
        if (now !== null && now !== undefined)
          options.slice(0, now).forEach(({ bytes }) => expect(bytes - options[now]!.bytes).toBeGreaterThan(left));
      });
    }),
    { numRuns: 2_000 },
  );
});

it('where all can be read it is as good as the best way, but for at most one step of one clip', () => {
  const shares: number[] = [];
  fc.assert(
    fc.property(fc.array(unitForm, { minLength: 1, maxLength: 6 }), fc.integer({ min: 0, max: 160 }), (units, room) => {
      const best = Math.max(...[...ways(units, room)].map((way) => worth(units, way)));
      if (best === -Infinity) return;
      const own = worth(units, pack(units, room));
      const step = Math.max(0, ...units.map(({ seconds, options }) => seconds * Math.max(0, options.length - 1)));
      expect(own).toBeGreaterThanOrEqual(best - step);
      if (best > 0) shares.push(own / best);
    }),
    { numRuns: 2_000 },
  );
  expect(shares.reduce((sum, share) => sum + share, 0) / shares.length).toBeGreaterThan(0.97);
});

it('what the timelines read most is the first to get better pictures', () => {
  const unit = (seconds: number): Unit => ({ seconds, options: [{ bytes: 100 }, { bytes: 10 }] });
  expect(pack([unit(5), unit(60), unit(0)], 130)).toEqual([1, 0, 1]);
  // And the last to stay behind.
  expect(pack([unit(5), unit(60), unit(0)], 20)).toEqual([1, 1, null]);
  expect(pack([unit(5), unit(60), unit(0)], 9)).toEqual([null, null, null]);
  // What stands there already costs nothing.
  expect(pack([{ seconds: 0, options: [{ bytes: 0 }] }], 0)).toEqual([0]);
});
