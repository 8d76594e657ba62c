/** Cuts at random: rates that differ, speeds, dissolves, what is switched off, nested windows. */
import fc from 'fast-check';
import type { Json, OtioObject } from '../../src/core/interchange/otio/otio-types';
import { clipDocument, externalReference, gapDocument, rationalTime, timelineDocument, timeRange, timeWarp, trackDocument, transitionDocument } from '../../src/core/interchange/otio/otio-writer'; // prettier-ignore
import { rate } from '../../src/core/time/rate';

const RATES = [rate(24), rate(25), rate(30), rate(24_000, 1001), rate(30_000, 1001), rate(50)];
const event = fc.record({
  from: fc.integer({ min: 0, max: 700 }),
  length: fc.integer({ min: 1, max: 60 }),
  units: fc.constantFrom(...RATES),
  speed: fc.constantFrom(1, 1, 1, 0.5, 2, -1, 1 / 3, 0, 1.1),
  muted: fc.boolean(),
  dissolve: fc.boolean(),
  window: fc.option(fc.tuple(fc.nat(20), fc.integer({ min: 1, max: 20 })), { nil: null, freq: 3 }),
});
export const RANDOM_CUT = fc.record({
  events: fc.array(event, { minLength: 1, maxLength: 6 }),
  timelineRate: fc.constantFrom(...RATES),
  mediaRate: fc.constantFrom(...RATES),
  /** Where the timeline says that the media begins; null where it does not say. */
  start: fc.option(fc.record({ value: fc.constantFrom(0, 1001, 86_400, 900_017), rate: fc.constantFrom(...RATES) }), { nil: null, freq: 4 }),
  ownStart: fc.constantFrom(null, 0, 900_000),
  sound: fc.boolean(),
  byFrame: fc.boolean(),
});

export function documentOf({ events, timelineRate, start, sound }: typeof RANDOM_CUT extends fc.Arbitrary<infer T> ? T : never): OtioObject {
  const children = events.flatMap(({ from, length, units, speed, muted, dissolve, window }, index): Json[] => {
    const begin = start ? Math.round((start.value * start.rate.den * units.num) / (start.rate.num * units.den)) : 0;
    const reference = externalReference('a.mov', 'a.mov', start && { ...timeRange(start.value, 1000, start.rate) });
    const clip: OtioObject = { ...clipDocument('a.mov', timeRange(begin + from, length, units), reference, speed === 1 ? [] : [timeWarp(speed)]), enabled: !muted }; // prettier-ignore
    const child = window ? { OTIO_SCHEMA: 'Stack.1', name: 'n', source_range: timeRange(window[0], window[1], timelineRate), children: [trackDocument('V1', sound ? 'Audio' : 'Video', [clip])] } : clip; // prettier-ignore
    return [...(dissolve && index > 0 ? [transitionDocument(2, 1, timelineRate)] : []), child];
  });
  return timelineDocument('t', rationalTime(0, timelineRate), [trackDocument('V1', sound ? 'Audio' : 'Video', [gapDocument(3, timelineRate), ...children])]); // prettier-ignore
}
