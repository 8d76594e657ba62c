import fc from 'fast-check';
import Fraction from 'fraction.js';
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
import { contains, type FrameRange } from '../time/range';
import { rate, type Rate } from '../time/rate';
import type { ClipEvent } from './timeline';
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

  it('a window that begins between two frames reaches into one more at its end', () => {
    const half = { ...timeRange(0, 10, PAL), start_time: rationalTime(21, rate(50)) };
    const inner: OtioObject = { OTIO_SCHEMA: 'Stack.1', name: 'inner', source_range: half, children: [picture([cut(1000, 40)])] };
    // From 10.5 to 20.5: the frames 10 to 20 are seen.
    expect(uses([picture([inner])]).map((use) => use.source)).toEqual([{ start: 1010, end: 1021 }]);
    expect(uses([{ ...picture([cut(1000, 40)]), source_range: half }]).map((use) => use.source)).toEqual([{ start: 1010, end: 1021 }]);
  });

  it('all that is inside counts where an effect of the nesting does not tell what it does', () => {
    const effect = { OTIO_SCHEMA: 'TimeEffect.1', name: 'ramp', effect_name: 'ramp', metadata: {} };
    const inner: OtioObject = { OTIO_SCHEMA: 'Stack.1', name: 'inner', source_range: timeRange(5, 10, PAL), effects: [effect], children: [picture([cut(1000, 40), cut(3000, 40)])] }; // prettier-ignore
    expect(uses([picture([inner])]).map((use) => use.source)).toEqual([
      { start: 1000, end: 1040 },
      { start: 3000, end: 3040 },
    ]);
  });

  it('a slow nesting is read both ways, as a slow clip is', () => {
    const inner: OtioObject = { OTIO_SCHEMA: 'Stack.1', name: 'inner', source_range: timeRange(0, 40, PAL), effects: [timeWarp(0.5)], children: [picture([cut(1000, 100)])] }; // prettier-ignore
    expect(uses([picture([inner])]).map((use) => use.source)).toEqual([{ start: 1000, end: 1040 }]);
  });

  it('a slow event or nesting that is cut by a frame is still read both ways', () => {
    const window = (child: OtioObject, from: number, length: number): OtioObject => ({ OTIO_SCHEMA: 'Stack.1', name: 'w', source_range: timeRange(from, length, PAL), children: [picture([child])] }); // prettier-ignore
    const sources = (child: OtioObject, from: number, length: number) => uses([picture([window(child, from, length)])]).map((use) => use.source);
    expect(sources(cut(1000, 40, 0.5), 0, 39)).toEqual([{ start: 1000, end: 1039 }]);
    expect(sources(cut(1000, 40, 0.5), 1, 39)).toEqual([{ start: 1000, end: 1040 }]);
    // Backwards the first frames of the record are the last ones of the source.
    expect(sources(cut(1000, 40, -0.5), 1, 39)).toEqual([{ start: 1000, end: 1039 }]);
    const slow: OtioObject = { OTIO_SCHEMA: 'Stack.1', name: 'slow', source_range: timeRange(0, 40, PAL), effects: [timeWarp(0.5)], children: [picture([cut(1000, 100)])] }; // prettier-ignore
    expect(sources(slow, 0, 39)).toEqual([{ start: 1000, end: 1039 }]);
  });

  it('a transition inside a nested timeline whose window ends at the cut shows the incoming clip before it', () => {
    const inner: OtioObject = { OTIO_SCHEMA: 'Stack.1', name: 'n', source_range: timeRange(0, 50, PAL), children: [picture([cut(1000, 50), transitionDocument(6, 4, PAL), cut(2000, 50)])] }; // prettier-ignore
    expect(uses([picture([inner])]).map((use) => [use.source, use.durationFrames])).toEqual([
      [{ start: 1000, end: 1050 }, 50],
      [{ start: 1994, end: 2000 }, 0],
    ]);
  });

  it('a track whose range states its record timecode is shown whole, with a note; another range outside is told', () => {
    const of = (start: number, length: number) => {
      const track = { ...picture([cut(1000, 50), cut(2000, 50)]), source_range: timeRange(start, length, PAL) };
      const read = readOtio(formatOtio(timelineDocument('t', rationalTime(0, PAL), [track])), PAL);
      const found = collectUses(read.timelines[0]!.timeline, { countDisabled: false });
      return [found.length, read.findings.map((finding) => finding.code)];
    };
    // As the CMX 3600 adapter of OpenTimelineIO writes it for a list that starts at an hour.
    expect(of(90_000, 100)).toEqual([2, ['otio-window-timecode']]);
    expect(of(90_000, 60)).toEqual([0, ['otio-window-outside']]);
    expect(of(50, 50)).toEqual([1, []]);
  });

  it('leaves out what is switched off, unless asked', () => {
    const off = { ...cut(1000, 10), enabled: false };
    const muted = { ...picture([cut(2000, 10)]), enabled: false };
    expect(uses([picture([off]), muted])).toEqual([]);
    expect(uses([picture([off]), muted], true)).toHaveLength(2);
  });

  it('finds the window of a retimed nesting: twice as fast shows twice as much', () => {
    const inner: OtioObject = {
      OTIO_SCHEMA: 'Stack.1',
      name: 'inner',
      source_range: timeRange(20, 30, PAL),
      effects: [timeWarp(2)],
      children: [picture([cut(1000, 100)])],
    };
    expect(uses([picture([inner])]).map((use) => use.source)).toEqual([{ start: 1020, end: 1080 }]);
  });

  it('counts a transition beside a nesting inside it', () => {
    const inner: OtioObject = { OTIO_SCHEMA: 'Stack.1', name: 'n', source_range: timeRange(20, 30, PAL), children: [picture([cut(1000, 100)])] };
    expect(uses([picture([cut(3000, 10), transitionDocument(4, 0, PAL), inner])])[1]!.source).toEqual({ start: 1016, end: 1050 });
  });

  it('shows only the part of a track that the track itself states', () => {
    const track = { ...picture([cut(1000, 40), cut(3000, 40)]), source_range: timeRange(30, 20, PAL) };
    expect(uses([track]).map((use) => [use.source, use.recordStart])).toEqual([
      [{ start: 1030, end: 1040 }, 0],
      [{ start: 3000, end: 3010 }, 10],
    ]);
  });

  it('takes all of the media under an effect that does not tell how it changes time', () => {
    const odd = { ...cut(1000, 10), effects: [{ OTIO_SCHEMA: 'TimeEffect.1', effect_name: 'odd' }] };
    expect(uses([picture([odd])])[0]!.source).toEqual({ start: 1000, end: 6000 });
  });
});

/** Everything a slow model looks at, frame by frame. Times are exact fractions of a second. */
const RATES = [rate(24000, 1001), rate(24), PAL, rate(30000, 1001), rate(50), rate(60000, 1001), rate(120000, 1001)];
const shot = fc.record({
  units: fc.constantFrom(...RATES),
  speed: fc.constantFrom(25, 50, 80, 100, 100, 100, 133, 200, 300, -50, -100, -200),
  from: fc.nat(50),
  length: fc.integer({ min: 2, max: 40 }),
  early: fc.nat(4),
});

describe('usage against a slow model', () => {
  it.each(['Video', 'Audio'] as const)('never loses a used frame under random retimes, rate mixes, transitions and nested windows: %s', (kind) => {
    fc.assert(
      fc.property(
        fc.constantFrom(...RATES),
        kind === 'Video' ? fc.constantFrom(...RATES) : fc.constantFrom(rate(48_000), rate(44_100)),
        fc.array(shot, { minLength: 1, maxLength: 4 }),
        fc.nat(40),
        fc.integer({ min: 1, max: 60 }),
        (record, own, shots, windowStart, windowLength) => {
          const MEDIA = 1_710_000;
          const children = shots.flatMap(({ units, speed, from, length, early }, index) => {
            const media = externalReference('a.mov', 'a', timeRange(MEDIA, 5000, units));
            const clip = clipDocument('a', timeRange(MEDIA + 100 + from, length, units), media, speed === 100 ? [] : [timeWarp(speed / 100)]);
            return index > 0 && early > 0 ? [transitionDocument(early, early, record), clip] : [clip];
          });
          const nested: OtioObject = {
            OTIO_SCHEMA: 'Stack.1',
            name: 'n',
            source_range: timeRange(windowStart, windowLength, record),
            children: [trackDocument('T', kind, children)],
          };
          const document = timelineDocument('t', rationalTime(0, record), [trackDocument('T', kind, [nested])]);
          const read = readOtio(formatOtio(document), record);
          // A window behind all there is, and as long, is taken for a record timecode: all of it is shown then.
          fc.pre(!read.findings.some(({ code }) => code === 'otio-window-timecode'));
          const model = read.timelines[0]!.timeline;
          const ranges = new Map<number, FrameRange[]>();
          for (const use of collectUses(model, { countDisabled: false })) {
            const begin = { value: MEDIA, rate: use.rate };
            ranges.set(use.event.index, [...(ranges.get(use.event.index) ?? []), itemRange(use, begin, { rate: own, startFrame: null })]);
          }
          let startSeconds = new Fraction(0);
          shots.forEach(({ units, speed, from, length, early }, index) => {
            const frame = (r: Rate) => new Fraction(r.den, r.num);
            const endSeconds = startSeconds.add(frame(units).mul(length));
            const before = index > 0 ? frame(record).mul(early) : new Fraction(0);
            const after = index < shots.length - 1 && shots[index + 1]!.early > 0 ? frame(record).mul(shots[index + 1]!.early) : new Fraction(0);
            for (let shown = windowStart; shown < windowStart + windowLength; shown++) {
              const seconds = frame(record).mul(shown);
              if (seconds.compare(startSeconds.sub(before)) < 0 || seconds.compare(endSeconds.add(after)) >= 0) continue;
              const local = seconds.sub(startSeconds).div(frame(units));
              const rateOf = new Fraction(Math.abs(speed), 100);
              // Backwards the event shows its source range from the end; sound from its exact end.
              const exactEnd = rateOf.mul(length);
              const wholeEnd = [exactEnd, rateOf.mul(length - 1).add(1)].reduce((a, b) => (a.compare(b) > 0 ? a : b)).ceil();
              const position =
                kind === 'Audio'
                  ? speed > 0
                    ? local.mul(rateOf)
                    : exactEnd.sub(local.mul(rateOf))
                  : speed > 0
                    ? local.floor().mul(rateOf)
                    : wholeEnd.sub(1).sub(local.floor().mul(rateOf));
              const at = position
                .add(100 + from)
                .mul(frame(units))
                .div(frame(own));
              const needed = kind === 'Audio' ? [speed > 0 ? at.floor() : at.ceil().sub(1)] : [at.floor(), at.ceil()];
              for (const one of needed) expect(contains(ranges.get(index) ?? [], one.valueOf()), `frame ${shown}, event ${index}`).toBe(true);
            }
            startSeconds = endSeconds;
          });
        },
      ),
      { numRuns: 300 },
    );
  });
});

describe('usage under retimed nesting', () => {
  it('never loses a frame of what is inside, forwards, backwards, held or by keys, however deep', () => {
    const level = fc.record({
      speed: fc.constantFrom(25, 50, 100, 133, 200, -100, -50, -200, 0),
      from: fc.nat(20),
      length: fc.integer({ min: 1, max: 40 }),
    });
    fc.assert(
      fc.property(fc.array(level, { minLength: 1, maxLength: 3 }), (levels) => {
        const MEDIA = 100_000;
        let inside: OtioObject = clipDocument('a', timeRange(MEDIA, 5000, PAL), externalReference('a.mov', 'a', timeRange(MEDIA, 5000, PAL)));
        // From the innermost out: each shows a window of the one inside it at its own speed.
        for (const { speed, from, length } of levels) {
          const effects = speed === 100 ? [] : [timeWarp(speed / 100)];
          inside = { OTIO_SCHEMA: 'Stack.1', name: 'n', source_range: timeRange(from, length, PAL), effects, children: [picture([inside])] };
        }
        const used = uses([picture([inside])]).map((use) => use.source);
        const outermost = levels.at(-1)!;
        for (let frame = 0; frame < outermost.length; frame++) {
          let at: number | null = frame;
          for (const { speed, from, length } of [...levels].reverse()) {
            if (at === null || at < 0 || at >= length) {
              at = null;
              break;
            }
            const rateOf = Math.abs(speed) / 100;
            const whole = Math.ceil(Math.max(rateOf * length, rateOf * (length - 1) + 1) - 1e-9);
            at = from + Math.floor((speed >= 0 ? at * rateOf : whole - 1 - at * rateOf) + 1e-9);
          }
          if (at !== null) expect(contains(used, MEDIA + at), `frame ${frame} shows ${at}`).toBe(true);
        }
      }),
      { numRuns: 400 },
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

  it('finds the same number instead of the same time where the clip is conformed frame for frame', () => {
    const media = { rate: rate(24), startFrame: null };
    expect(itemRange(use(1250, 1300), { value: 1000, rate: PAL }, media, 'by-frame')).toEqual({ start: 250, end: 300 });
    expect(itemRange(use(1250, 1300), { value: 1000, rate: PAL }, media)).toEqual({ start: 240, end: 289 });
  });

  it('counts from the timecode of the file when only a transition reaches before it', () => {
    const event = { sourceIn: { value: 9000, rate: PAL } } as ClipEvent;
    expect(itemRange({ ...use(8992, 9020), event }, null, facts)).toEqual({ start: -8, end: 20 });
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
