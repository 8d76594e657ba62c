import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  clipDocument,
  externalReference,
  formatOtio,
  gapDocument,
  rationalTime,
  timelineDocument,
  timeRange,
  timeWarp,
  trackDocument,
  transitionDocument,
} from '../interchange/otio/otio-writer';
import { readOtio } from '../interchange/otio/otio-reader';
import type { OtioObject } from '../interchange/otio/otio-types';
import { contains } from '../time/range';
import { rate, type Rate } from '../time/rate';
import { collectUses, itemRange, usedRanges } from './usage';

const PAL = rate(25);
const reference = externalReference('a.mov', 'a', timeRange(1000, 5000, PAL));
const cut = (start: number, length: number, speed?: number, r: Rate = PAL) =>
  clipDocument('a', timeRange(start, length, r), reference, speed === undefined ? [] : [timeWarp(speed)]);
const uses = (tracks: OtioObject[], countDisabled = false) =>
  collectUses(readOtio(formatOtio(timelineDocument('t', rationalTime(0, PAL), tracks)), PAL).timelines[0]!.timeline, { countDisabled });
const picture = (children: OtioObject[]) => trackDocument('V1', 'Video', children);

describe('collectUses', () => {
  it('counts a transition on both of its sides', () => {
    const [before, after] = uses([picture([cut(1000, 50), transitionDocument(6, 4, PAL), cut(2000, 50)])]);
    expect(before!.source).toEqual({ start: 1000, end: 1054 });
    expect(after!.source).toEqual({ start: 1994, end: 2050 });
  });

  it('reads only the window of a nested timeline, at any depth', () => {
    const inner: OtioObject = {
      OTIO_SCHEMA: 'Stack.1',
      name: 'inner',
      source_range: timeRange(20, 30, PAL),
      children: [picture([cut(1000, 40), cut(3000, 40)])],
    };
    const outer: OtioObject = { OTIO_SCHEMA: 'Stack.1', name: 'outer', source_range: timeRange(5, 10, PAL), children: [picture([inner])] };
    expect(uses([picture([gapDocument(100, PAL), inner])]).map((use) => [use.source, use.recordStart, use.nestedIn])).toEqual([
      [{ start: 1020, end: 1040 }, 100, ['inner']],
      [{ start: 3000, end: 3010 }, 120, ['inner']],
    ]);
    expect(uses([picture([outer])]).map((use) => use.source)).toEqual([{ start: 1025, end: 1035 }]);
  });

  it('leaves out what is switched off, unless asked', () => {
    const off = { ...cut(1000, 10), enabled: false };
    const muted = { ...picture([cut(2000, 10)]), enabled: false };
    expect(uses([picture([off]), muted])).toEqual([]);
    expect(uses([picture([off]), muted], true)).toHaveLength(2);
  });

  it('never loses a frame that a slow model shows, under random trims of a retimed nested event', () => {
    const percents = fc.constantFrom(25, 50, 80, 100, 133, 200, 300, -50, -100, -200);
    fc.assert(
      fc.property(percents, fc.integer({ min: 4, max: 60 }), fc.nat(30), fc.integer({ min: 1, max: 30 }), (percent, length, from, window) => {
        fc.pre(from + window <= length);
        const nested: OtioObject = {
          OTIO_SCHEMA: 'Stack.1',
          name: 'n',
          source_range: timeRange(from, window, PAL),
          children: [picture([cut(2000, length, percent / 100)])],
        };
        const used = uses([picture([nested])]).map((use) => use.source);
        // Backwards the event shows its source range from the end.
        const speed = Math.abs(percent);
        const wholeEnd = 2000 + Math.max(Math.ceil((length * speed) / 100), Math.ceil(((length - 1) * speed) / 100) + 1);
        for (let frame = from; frame < from + window; frame++) {
          const position = percent > 0 ? 2000 + (frame * speed) / 100 : wholeEnd - 1 - (frame * speed) / 100;
          expect(contains(used, Math.floor(position))).toBe(true);
        }
      }),
    );
  });
});

describe('itemRange', () => {
  const facts = { rate: PAL, startFrame: 9000 };
  const use = (start: number, end: number, r: Rate = PAL) => ({ source: { start, end }, rate: r });

  it('counts from the stated media start, else from the file’s timecode, else from 0', () => {
    expect(itemRange(use(1010, 1020), { value: 1000, rate: PAL }, facts)).toEqual({ start: 10, end: 20 });
    expect(itemRange(use(9010, 9020), null, facts)).toEqual({ start: 10, end: 20 });
    expect(itemRange(use(10, 20), null, facts)).toEqual({ start: 10, end: 20 });
  });

  it('takes the whole frames of another rate around the use', () => {
    expect(itemRange(use(1, 2, rate(30)), null, { rate: rate(24), startFrame: null })).toEqual({ start: 0, end: 2 });
    expect(
      usedRanges(
        [use(0, 25), use(25, 50)].map((entry) => ({ ...entry }) as never),
        null,
        { rate: rate(48000), startFrame: null },
      ),
    ).toEqual([{ start: 0, end: 96_000 }]);
  });
});
