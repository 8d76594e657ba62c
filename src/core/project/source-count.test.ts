import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rate, type Rate } from '../time/rate';
import { frameToTimecode } from '../time/timecode';
import { floorToRate } from '../time/convert';
import { labelAt, settle, settleAll, speedOf, type CountQuestion, type SourceCount } from './source-count';

const FILM = rate(24_000, 1001);
const PAL = rate(25);
const HOUR = 3600;

interface Shot {
  /** Frames of the source, from the first of the file. */
  readonly at: number;
  readonly seconds: number;
}

/** What a list of `list` writes of shots of a file of `own` that begins at `hour`, counted in either way. */
function listed(list: Rate, own: Rate, hour: number, minutes: number, shots: readonly Shot[], count: SourceCount): CountQuestion[] {
  const nominal = Math.round(own.num / own.den);
  const startFrame = hour * HOUR * nominal;
  const facts = { rate: own, startFrame, durationFrames: Math.floor((minutes * 60 * own.num) / own.den), dropFrame: false };
  return shots.map(({ at, seconds }) => {
    const recordFrames = Math.round((seconds * list.num) / list.den);
    const frames = Math.max(1, floorToRate(recordFrames, list, own));
    const label = (frame: number) => (count === 'source' ? frameToTimecode(frame, own, false) : frameToTimecode(floorToRate(frame, own, list), list, false)); // prettier-ignore
    const out = count === 'source' ? label(startFrame + at + frames) : frameToTimecode(floorToRate(startFrame + at, own, list) + recordFrames, list, false); // prettier-ignore
    return { rate: list, dropFrame: false, labels: { in: label(startFrame + at), out }, recordFrames, facts };
  });
}

describe('how a list counts its sources', () => {
  it('is told by what the file holds: 10:01:01:00 of 23.976 in a list of 25', () => {
    const shots = [{ at: 1464, seconds: 4 }];
    const own = listed(PAL, FILM, 10, 1.25, shots, 'source');
    expect(own[0]!.labels.in).toBe('10:01:01:00');
    expect(settle(own)).toBe('source');
    const byTime = listed(PAL, FILM, 10, 1.25, shots, 'list');
    // 36 097.06 s of time are that label of the list.
    expect(byTime[0]!.labels.in).toBe('10:01:37:01');
    expect(settle(byTime)).toBe('list');
  });

  it('is never settled against what was written, whatever the rates, shots and lengths', () => {
    const rates = [FILM, rate(24), PAL, rate(30_000, 1001), rate(30), rate(50), rate(60_000, 1001)];
    let [told, open] = [0, 0];
    fc.assert(
      fc.property(
        fc.constantFrom(...rates),
        fc.constantFrom(...rates),
        fc.integer({ min: 1, max: 22 }),
        fc.array(fc.record({ at: fc.nat(2000), seconds: fc.double({ min: 0.2, max: 30, noNaN: true }) }), { minLength: 1, maxLength: 20 }),
        fc.constantFrom<SourceCount>('list', 'source'),
        (list, own, hour, shots, count) => {
          fc.pre(list !== own);
          const settled = settle(listed(list, own, hour, 10, shots, count));
          if (settled === 'list' || settled === 'source') told++;
          else open++;
          expect([count, 'open']).toContain(settled);
        },
      ),
      { numRuns: 2000 },
    );
    expect(told).toBeGreaterThan(open / 4);
  });

  it('goes with the others of the list where the media leaves it open, and beyond the file either way stays as it is', () => {
    const settled = new Map([['a', 'source'], ['b', 'open'], ['c', 'neither']] as const); // prettier-ignore
    expect(Object.fromEntries(settleAll(settled, 'list'))).toEqual({ a: 'source', b: 'source', c: 'list' });
    expect(Object.fromEntries(settleAll(new Map([['b', 'open']]), 'list'))).toEqual({ b: 'list' });
    expect(settle(listed(PAL, FILM, 10, 1, [{ at: 40_000, seconds: 2 }], 'source'))).toBe('neither');
    // One of them reads beyond the file, or a copy was cut short: the others tell.
    const inside = [1, 200, 400, 600, 800].map((at) => ({ at, seconds: 1.2 }));
    expect(settle(listed(PAL, FILM, 10, 0.6, [...inside, { at: 5000, seconds: 3 }], 'source'))).toBe('source');
  });

  it('labels that a rate does not have are none of it; a speed is only what a frame cannot explain', () => {
    expect([labelAt('10:00:00:24', { rate: FILM, dropFrame: false }), labelAt('00:00:01:37', { rate: rate(50), dropFrame: false })]).toEqual([
      null,
      87,
    ]);
    expect(labelAt('01:01:00;00', { rate: rate(30_000, 1001), dropFrame: true })).toBeNull();
    // 96 frames of 23.976 fill 100 of 25, 100 of them are played faster: as film is transferred to PAL.
    expect([speedOf(96, FILM, 100, PAL), speedOf(100, FILM, 100, PAL)]).toEqual([null, { num: 100 * 1001 * 25, den: 100 * 24_000 }]);
    expect(speedOf(3000, FILM, 3000, rate(24))).toBeNull();
  });
});
