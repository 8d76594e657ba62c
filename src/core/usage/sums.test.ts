import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { documentOf, RANDOM_CUT } from '../../../tests/helpers/random-cuts';
import { item, PAL, shelf, snapshot as snapshotOf, SOUND, timeline } from '../../../tests/helpers/snapshots';
import { readTimeline } from '../interchange/otio/otio-reader';
import { clipDocument, externalReference, timeRange } from '../interchange/otio/otio-writer';
import { placeKey, type Item } from '../media/item';
import type { Snapshot, TimelineSnapshot } from '../planning/plan/snapshot';
import { stockOf } from '../planning/plan/stock-view';
import { framesRead } from '../planning/taking/event-use';
import { forEachEventUse } from '../planning/taking/used-media';
import { expectedFrom, linksRead, type Clip } from '../project/clip';
import { clipEvents } from '../project/timeline';
import { framesToSeconds } from '../time/convert';
import { clamp, totalFrames, unite, type FrameRange } from '../time/range';
import { sumTimelines } from './timeline-sums';
import { reportUsage } from './usage-report';

const SEQUENCE = { prefix: 's.', suffix: '.dpx', padding: 6, firstNumber: 86_400, lastNumber: 87_399, missingRuns: [] };
const CUTS = fc.array(RANDOM_CUT, { minLength: 1, maxLength: 3 });

/** A picture, a picture with its sound, and a sequence, each read by every third event. */
function projectOf(cuts: (typeof RANDOM_CUT extends fc.Arbitrary<infer T> ? T : never)[], step: number): Snapshot {
  const { mediaRate, ownStart: startFrame, byFrame } = cuts[0]!;
  // Stills have no rate of their own.
  const rate = step === 5 ? null : mediaRate;
  const files: Item[][] = [
    [item('a.mov', { rate, startFrame })],
    [item('b.mov', { rate, startFrame }), item('b.wav', SOUND)],
    [item('s', { kind: 'sequence', rate, startFrame, sequence: SEQUENCE })],
  ];
  const clips = files.map((own, index): Clip => ({
    id: `clip ${index}`, name: `Clip ${index}`, binPath: '', mediaStart: index === 1 ? { value: 900_000, rate: PAL } : null, setAside: false,
    renditions: [{ id: `r${index}`, kind: 'source', links: own.map((entry) => ({ place: entry.place, url: entry.place.path, expected: expectedFrom(entry, entry.place.path) })) }],
    note: '', colour: '', marks: null, conform: byFrame ? 'by-frame' : 'by-time', madeBy: 'timeline', mediaKey: `${index}`,
  })); // prettier-ignore
  const timelines = cuts.map((cut, number): TimelineSnapshot => {
    const document = documentOf(cut);
    const model = readTimeline(document, PAL)!;
    for (const event of clipEvents(model.tracks))
      for (const reference of event.references) {
        // A timeline that counts by the timecode of its files, and another that counts them from 0: neither says so.
        if (number === 1) Object.assign(reference, { availableStart: null });
        if (event.index % 3 === 2) Object.assign(reference, { sequence: { startNumber: 86_401, step } });
      }
    const clipIds = [...clipEvents(model.tracks)].map(({ index }) => `clip ${index % 3}`);
    return { id: `t${number}`, model, document, clipIds, positions: clipIds.map((_, index) => (index % 5 === 4 ? 1 : null)) };
  });
  return { project: { id: 'p', name: 'P', rate: PAL, dropFrame: false }, clips, timelines, shelves: [shelf('A')], items: files.flat() };
}

/** Event by event, each reckoned for itself. */
function slowly(snapshot: Snapshot, timelineId: string, all: boolean): Map<string, { links: FrameRange[]; first: FrameRange[] }> {
  const stock = stockOf(snapshot);
  const read = new Map<string, { links: FrameRange[]; first: FrameRange[] }>();
  forEachEventUse(snapshot, [timelineId], all, (use) => {
    linksRead(use.clip, use.use.trackKind === 'audio', use.named, stock).forEach(({ place }, index) => {
      const own = read.get(placeKey(place!)) ?? { links: [], first: [] };
      const range = framesRead(use, stock.itemAt(place!)!.facts);
      own.links.push(range);
      if (index === 0) own.first.push(range);
      read.set(placeKey(place!), own);
    });
  });
  return read;
}

describe('what many events read, taken together', () => {
  it('is what each of them reads', () => {
    let moved = 0;
    fc.assert(
      fc.property(CUTS, fc.boolean(), fc.constantFrom(1, 2, 5), (cuts, countDisabled, step) => {
        const snapshot = projectOf(cuts, step);
        const ids = snapshot.timelines.map(({ id }) => id);
        const report = reportUsage(snapshot, { timelineIds: ids, bins: [], clipIds: [], countDisabled });
        const each = ids.map((id) => slowly(snapshot, id, countDisabled));
        for (const usage of [...report.items, ...report.neverUsed]) {
          const own = each.map((read) => read.get(usage.key)?.links ?? []);
          const { durationFrames } = snapshot.items.find(({ id }) => id === usage.itemId)!.facts;
          expect(usage.used).toEqual(clamp(unite(own.flat()), { start: 0, end: durationFrames! }));
          expect([usage.useCount, usage.timelineCount]).toEqual([own.flat().length, own.filter((list) => list.length > 0).length]);
          moved += usage.useCount;
        }
        const sums = sumTimelines(snapshot, snapshot.timelines);
        for (const { id, clipIds } of snapshot.timelines) {
          let [media, used] = [0, 0];
          for (const [key, { first }] of slowly(snapshot, id, true)) {
            const { rate, durationFrames } = snapshot.items.find((entry) => placeKey(entry.place) === key)!.facts;
            if (first.length === 0) continue;
            if (!rate) continue;
            media += framesToSeconds(durationFrames!, rate);
            used += framesToSeconds(totalFrames(clamp(unite(first), { start: 0, end: durationFrames! })), rate);
          }
          expect(sums.get(id)!.mediaSeconds).toBeCloseTo(media, 6);
          expect(sums.get(id)!.usedSeconds).toBeCloseTo(used, 6);
          expect(sums.get(id)!.clips).toBe(new Set(clipIds).size);
        }
      }),
      { numRuns: 400 },
    );
    expect(moved).toBeGreaterThan(400);
  });

  it('a file that is not there counts in no sum, and its clip is counted', () => {
    const snapshot = projectOf(fc.sample(CUTS, { numRuns: 1, seed: 7 })[0]!, 1);
    const gone = { ...snapshot, items: [] };
    const [first] = gone.timelines;
    expect(sumTimelines(gone, [first!]).get('t0')).toMatchObject({ clips: new Set(first!.clipIds).size, mediaSeconds: 0, usedSeconds: 0 });
  });

  it('where no timeline says what it counts from, each is judged for itself', () => {
    const unstated = (id: string, start: number) =>
      timeline(id, [clipDocument('a.mov', timeRange(start + 10, 20, PAL), externalReference('a.mov', 'a.mov', null))]);
    const snap = snapshotOf({ timelines: [unstated('from 0', 0), unstated('timecode', 900_040)], items: [item('a.mov')] });
    const choice = { timelineIds: ['from 0', 'timecode'], bins: [], clipIds: [], countDisabled: false };
    expect(reportUsage(snap, choice).items[0]!.used).toEqual([
      { start: 10, end: 30 },
      { start: 50, end: 70 },
    ]);
  });
});
