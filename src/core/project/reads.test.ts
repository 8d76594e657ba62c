import { deserialize, serialize } from 'node:v8';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { documentOf, RANDOM_CUT } from '../../../tests/helpers/random-cuts';
import { PAL } from '../../../tests/helpers/snapshots';
import { readTimeline } from '../interchange/otio/otio-reader';
import { clipDocument, externalReference, rationalTime, timelineDocument, timeRange, trackDocument } from '../interchange/otio/otio-writer';
import { rate } from '../time/rate';
import { countsFrom, unstatedSpans } from './counting';
import { forEachRead, readsOf, withClips, type ReadUse, type TimelineReads } from './reads';
import { clipEvents, type Timeline } from './timeline';
import { collectUses, itemRange, type Use } from './usage';

const NO_CLIP = 2;
const clipIdsOf = (model: Timeline) => [...clipEvents(model.tracks)].map(({ index }) => (index === NO_CLIP ? null : `clip ${index % 3}`));

function told(reads: TimelineReads, countDisabled: boolean) {
  const out: { clipId: string; use: ReadUse; named: number | null; span: unknown }[] = [];
  forEachRead(reads, reads.clipIds, countDisabled, (clipId, use, named, span) => out.push({ clipId, use, named, span }));
  return out;
}

const words = ({ event, trackName, trackKind, nestedIn, recordStart, source, rate, exact }: Use | ReadUse) => ({
  index: event.index,
  name: event.name,
  sourceIn: event.sourceIn,
  trackName,
  trackKind,
  nestedIn,
  recordStart,
  source,
  rate,
  exact: exact && [exact.start.toFraction(), exact.end.toFraction()],
});

describe('what a timeline reads', () => {
  it('is told as its model tells it, after it was kept too', () => {
    let rows = 0;
    fc.assert(
      fc.property(RANDOM_CUT, fc.boolean(), fc.constantFrom(null, 0, 900_000), (cut, countDisabled, own) => {
        const model = readTimeline(documentOf(cut), PAL)!;
        const clipIds = clipIdsOf(model);
        const spans = unstatedSpans(model, clipIds);
        const positions = clipIds.map((_, index) => (index % 2 === 0 ? null : index % 5));
        const reads = deserialize(serialize(readsOf(model, clipIds, positions))) as TimelineReads;
        const uses = collectUses(model, { countDisabled }).filter(({ event }) => clipIds[event.index] !== null);
        const seen = told(reads, countDisabled);
        expect(seen.map(({ use }) => words(use))).toEqual(uses.map(words));
        expect(seen.map(({ clipId, named, span }) => [clipId, named, span])).toEqual(
          uses.map(({ event: { index } }) => [clipIds[index], positions[index], spans.get(clipIds[index]!) ?? null]),
        );
        // The frames of a file that follow from it are the same.
        const clip = { mediaStart: null, conform: cut.byFrame ? 'by-frame' : 'by-time', renditions: [] } as never;
        const facts = { kind: cut.sound ? ('audio' as const) : ('video' as const), rate: cut.mediaRate, startFrame: own, durationFrames: 2000 };
        const range = (use: Use | ReadUse, span: never) => itemRange(use, countsFrom(use.event, clip, facts, span), facts);
        expect(seen.map(({ use, span }) => range(use, span as never))).toEqual(
          uses.map((use) => range(use, (spans.get(clipIds[use.event.index]!) ?? null) as never)),
        );
        rows += seen.length;
      }),
      { numRuns: 500 },
    );
    expect(rows).toBeGreaterThan(500);
  });

  it('keeps frames and numbers that are too large for the narrow form', () => {
    const samples = rate(96_000);
    const cutOf = (events: number, start: number) =>
      readTimeline(timelineDocument('t', rationalTime(0, PAL), [trackDocument('A1', 'Audio', Array.from({ length: events }, (_, index) => clipDocument(`${index}`, timeRange(start, 40, samples), externalReference("", "", null))))]), PAL)!; // prettier-ignore
    const late = readsOf(cutOf(2, 36_000 * 96_000), ['a', 'b']);
    expect(late.frames).toBeInstanceOf(Float64Array);
    expect(told(late, true)[1]!.use).toMatchObject({ source: { start: 3_456_000_000, end: 3_456_000_040 }, name: '1' });
    const many = readsOf(
      cutOf(33_000, 0),
      Array.from({ length: 33_000 }, (_, index) => `clip ${index}`),
    );
    expect([many.places.BYTES_PER_ELEMENT, many.frames.BYTES_PER_ELEMENT, late.places.BYTES_PER_ELEMENT]).toEqual([4, 4, 2]);
    const last = told(many, true).at(-1)!;
    expect([last.clipId, last.use.event.index, last.use.event.name]).toEqual(['clip 32999', 32_999, '32999']);
  });

  it('leaves out clips that have no owner, and keeps those of which nothing is shown', () => {
    const model = readTimeline(documentOf({ events: [], timelineRate: PAL, mediaRate: PAL, start: null, ownStart: null, sound: false, byFrame: false }), PAL)!; // prettier-ignore
    expect(readsOf(model, ['unseen']).clipIds).toEqual(['unseen']);
    const [cut] = fc.sample(RANDOM_CUT, { numRuns: 1, seed: 4 });
    const shown = readTimeline(documentOf({ ...cut!, events: [cut!.events[0]!, cut!.events[0]!].map((event) => ({ ...event, muted: false, window: null })) }), PAL)!; // prettier-ignore
    const reads = withClips(readsOf(shown, ['a', 'b']), (id) => `${id}2`);
    const owned: string[] = [];
    forEachRead(reads, reads.clipIds.map((id) => (id === 'b2' ? 'mine' : null)), true, (owner) => owned.push(owner)); // prettier-ignore
    expect([reads.clipIds, owned]).toEqual([['a2', 'b2'], ['mine']]);
  });
});
