/** Random timelines pulled: in its part every event reads the very frames it read in the whole file. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { item, PAL, snapshot, SOUND } from '../../../tests/helpers/snapshots';
import { readTimeline } from '../interchange/otio/otio-reader';
import type { Json, OtioObject } from '../interchange/otio/otio-types';
import { clipDocument, externalReference, gapDocument, rationalTime, timelineDocument, timeRange, timeWarp, trackDocument, transitionDocument } from '../interchange/otio/otio-writer'; // prettier-ignore
import type { MediaFacts } from '../media/item';
import { countsFrom, unstatedSpans } from '../project/counting';
import { collectUses, itemRange } from '../project/usage';
import { rate } from '../time/rate';
import { clamp } from '../time/range';
import type { TrimStep, WriteStep } from './plan';
import { planPull } from './pull';

const RATES = [rate(24), rate(25), rate(30), rate(24_000, 1001), rate(30_000, 1001), rate(50)];
const SETTINGS = {
  timelineIds: ['t'],
  media: 'parts' as const,
  headFrames: 3,
  tailFrames: 2,
  joinGapFrames: 0,
  countDisabled: false,
  destination: { shelfId: 'B', path: '' },
  folderName: 'pulled',
};

const event = fc.record({
  from: fc.integer({ min: 0, max: 700 }),
  length: fc.integer({ min: 1, max: 60 }),
  units: fc.constantFrom(...RATES),
  speed: fc.constantFrom(1, 1, 1, 0.5, 2, -1, 1 / 3, 0, 1.1),
  muted: fc.boolean(),
  dissolve: fc.boolean(),
  window: fc.option(fc.tuple(fc.nat(20), fc.integer({ min: 1, max: 20 })), { nil: null, freq: 3 }),
});
const project = fc.record({
  events: fc.array(event, { minLength: 1, maxLength: 6 }),
  timelineRate: fc.constantFrom(...RATES),
  mediaRate: fc.constantFrom(...RATES),
  /** Where the timeline says that the media begins; null where it does not say. */
  start: fc.option(fc.record({ value: fc.constantFrom(0, 1001, 86_400, 900_017), rate: fc.constantFrom(...RATES) }), { nil: null, freq: 4 }),
  ownStart: fc.constantFrom(null, 0, 900_000),
  sound: fc.boolean(),
  byFrame: fc.boolean(),
});

function documentOf({ events, timelineRate, start, sound }: typeof project extends fc.Arbitrary<infer T> ? T : never): OtioObject {
  const children = events.flatMap(({ from, length, units, speed, muted, dissolve, window }, index): Json[] => {
    const begin = start ? Math.round((start.value * start.rate.den * units.num) / (start.rate.num * units.den)) : 0;
    const reference = externalReference('a.mov', 'a.mov', start && { ...timeRange(start.value, 1000, start.rate) });
    const clip: OtioObject = { ...clipDocument('a.mov', timeRange(begin + from, length, units), reference, speed === 1 ? [] : [timeWarp(speed)]), enabled: !muted }; // prettier-ignore
    const child = window ? { OTIO_SCHEMA: 'Stack.1', name: 'n', source_range: timeRange(window[0], window[1], timelineRate), children: [trackDocument('V1', sound ? 'Audio' : 'Video', [clip])] } : clip; // prettier-ignore
    return [...(dissolve && index > 0 ? [transitionDocument(2, 1, timelineRate)] : []), child];
  });
  return timelineDocument('t', rationalTime(0, timelineRate), [trackDocument('V1', sound ? 'Audio' : 'Video', [gapDocument(3, timelineRate), ...children])]); // prettier-ignore
}

it('an event reads the same frames in its part as in the whole', () => {
  let compared = 0;
  fc.assert(
    fc.property(project, (one) => {
      const facts: Partial<MediaFacts> = one.sound ? { ...SOUND, durationFrames: 48_000 * 60, startFrame: one.ownStart } : { rate: one.mediaRate, durationFrames: 1500, startFrame: one.ownStart }; // prettier-ignore
      const media = item('a.mov', facts);
      const base = snapshot({ timelines: [documentOf(one)], items: [media] });
      const from = { ...base, clips: base.clips.map((clip) => ({ ...clip, conform: one.byFrame ? ('by-frame' as const) : ('by-time' as const) })) };
      const { steps } = planPull(from, SETTINGS);
      const write = steps.find((step): step is WriteStep => step.action === 'write');
      if (!write || write.content.type !== 'timeline') return;
      const trims = steps.filter((step): step is TrimStep => step.action === 'trim');
      const parts = new Map(trims.map((step) => [`..${step.to!.path.slice('pulled'.length)}`, step.range]));
      const [timeline] = from.timelines;
      const clip = from.clips[0]!;
      const spans = unstatedSpans(timeline!.model, timeline!.clipIds);
      const before = collectUses(timeline!.model, { countDisabled: false });
      const after = collectUses(readTimeline(JSON.parse(write.content.text), PAL)!, { countDisabled: false });
      expect(after.length).toBe(before.length);
      before.forEach((use, index) => {
        const whole = itemRange(use, countsFrom(use.event, clip, media.facts, spans.get(clip.id) ?? null), media.facts, clip.conform);
        const inside = clamp([whole], { start: 0, end: media.facts.durationFrames! })[0];
        if (!inside) return;
        const now = after[index]!;
        const reference = now.event.references[0]!;
        const part = parts.get(reference.url!) ?? { start: 0, end: media.facts.durationFrames! };
        const partFacts = { ...media.facts, startFrame: media.facts.startFrame === null ? null : media.facts.startFrame + part.start, durationFrames: part.end - part.start }; // prettier-ignore
        const start = countsFrom(now.event, { ...clip, mediaStart: reference.availableStart }, partFacts, null);
        const read = itemRange(now, start, partFacts, reference.byFrame ? 'by-frame' : 'by-time');
        expect({ start: read.start + part.start, end: read.end + part.start }).toEqual(whole);
        expect(part.start <= inside.start && part.end >= inside.end).toBe(true);
        compared++;
      });
    }),
    { numRuns: 1500 },
  );
  expect(compared).toBeGreaterThan(1000);
});
