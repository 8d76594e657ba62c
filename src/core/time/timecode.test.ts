import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { canDropFrame, nominalFps, rate, rateFromNumber, type Rate } from './rate';
import { framesPerDay, frameToTimecode, parseTimecode } from './timecode';

const RATES: Rate[] = [
  rate(24000, 1001),
  rate(24),
  rate(25),
  rate(30000, 1001),
  rate(30),
  rate(48000, 1001),
  rate(48),
  rate(50),
  rate(60000, 1001),
  rate(60),
  rate(120000, 1001),
  rate(120),
];

describe('frameToTimecode and parseTimecode', () => {
  it('are each other’s inverse on every frame of a day, at every rate, dropping or not', () => {
    fc.assert(
      fc.property(fc.constantFrom(...RATES), fc.boolean(), fc.nat(10_368_000), (r, wantsDrop, any) => {
        const drop = wantsDrop && canDropFrame(r);
        const frame = any % framesPerDay(r, drop);
        const back = parseTimecode(frameToTimecode(frame, r, drop), r, drop);
        expect(back).toEqual({ ok: true, frame, dropFrame: drop });
      }),
      { numRuns: 3000 },
    );
  });

  it('never writes a label that drop-frame counting leaves out', () => {
    const r = rate(30000, 1001);
    for (let minute = 0; minute < 1440; minute++) {
      const label = `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}:00;00`;
      expect(parseTimecode(label, r).ok).toBe(minute % 10 === 0);
    }
  });

  it('wraps over midnight in both directions', () => {
    expect(frameToTimecode(25 * 86_400, rate(25), false)).toBe('00:00:00:00');
    expect(frameToTimecode(-1, rate(25), false)).toBe('23:59:59:24');
    expect(frameToTimecode(-1, rate(30000, 1001), true)).toBe('23:59:59;29');
  });

  it.each([
    ['10:00:00', 'expected hh:mm:ss:ff'],
    ['24:00:00:00', 'hour 24'],
    ['10:60:00:00', 'minute 60'],
    ['10:00:60:00', 'second 60'],
    ['10:00:00:25', 'the last one is 24'],
  ])('says what is wrong with %s', (label, words) => {
    const result = parseTimecode(label, rate(25));
    expect(result.ok ? '' : result.reason).toContain(words);
  });

  it('names a dropped label as such', () => {
    const result = parseTimecode('00:01:00;00', rate(30000, 1001));
    expect(result.ok ? '' : result.reason).toContain('leaves out');
  });
});

describe('rateFromNumber', () => {
  it.each([
    [23.976, 24000, 1001],
    [23.98, 24000, 1001],
    [23.976023976023978, 24000, 1001],
    [29.97, 30000, 1001],
    [59.94, 60000, 1001],
    [119.88, 120000, 1001],
    [25, 25, 1],
    [12.5, 25, 2],
  ])('finds the exact rate behind %d', (value, num, den) => expect(rateFromNumber(value)).toEqual({ num, den }));

  it('keeps whole rates whole', () => RATES.filter((r) => r.den === 1).forEach((r) => expect(rateFromNumber(nominalFps(r))).toEqual(r)));
});
