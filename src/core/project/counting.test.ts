/** Where events count from, against a model that knows which frames of the file each event was made to show. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cut, item, PAL, snapshot, timeline } from '../../../tests/helpers/snapshots';
import type { OtioObject } from '../interchange/otio/otio-types';
import { clipDocument, externalReference, sequenceReference, timeRange } from '../interchange/otio/otio-writer';
import type { Item } from '../media/item';
import { findUsedMedia } from '../planning/taking/used-media';
import { unite, type RangeSet } from '../time/range';
import { rate, type Rate } from '../time/rate';
import type { Clip } from './clip';
import { countsFrom } from './counting';

const ALL = { media: 'parts' as const, headFrames: 0, tailFrames: 0, joinGapFrames: 0, countDisabled: false };

/** Used frames of the one item of these timelines. */
function used(timelines: readonly OtioObject[], items: readonly Item[], own: Partial<Clip> = {}): RangeSet {
  const base = snapshot({ timelines, items });
  const whole = { ...base, clips: base.clips.map((clip) => ({ ...clip, ...own })) };
  const media = findUsedMedia(whole, { ...ALL, timelineIds: base.timelines.map((entry) => entry.id) });
  expect(media.items).toHaveLength(1);
  return media.items[0]!.used;
}

/** An event that states nothing of its media, as lists do. */
const bare = (path: string, inFrame: number, length: number, r: Rate = PAL) =>
  clipDocument(path, timeRange(inFrame, length, r), externalReference(path, path, null));

describe('an event counts from where its own reference says', () => {
  it('two timelines that count one file differently lose no frame', () => {
    const byTimecode = timeline('A', [cut('a.mov', 100, 50)]);
    const fromZero = timeline('B', [cut('a.mov', 400, 30, 0)]);
    const both = [
      { start: 100, end: 150 },
      { start: 400, end: 430 },
    ];
    expect(used([byTimecode, fromZero], [item('a.mov')])).toEqual(both);
    expect(used([fromZero, byTimecode], [item('a.mov')])).toEqual(both);
  });

  it('two references into one sequence with other first frames read other frames', () => {
    const sequence = { prefix: 'pour.', suffix: '.dpx', padding: 4, firstNumber: 1001, lastNumber: 1100, missingRuns: [] };
    const pour = item('pour.[1001-1100].dpx', { kind: 'sequence', rate: null, durationFrames: 100, startFrame: null, sequence });
    const of = (first: number, from: number, length: number) => {
      const parts = { folderUrl: '', prefix: 'pour.', suffix: '.dpx', padding: 4, startNumber: first, rate: PAL };
      const reference = sequenceReference(parts, 'pour', timeRange(0, 1101 - first, PAL));
      return clipDocument('pour.[1001-1100].dpx', timeRange(from, length, PAL), reference);
    };
    const base = snapshot({ timelines: [timeline('A', [of(1001, 0, 10), of(1041, 0, 10)])], items: [pour] });
    const link = { place: pour.place, url: '', expected: { ...base.clips[0]!.renditions[0]!.links[0]!.expected, fingerprint: pour.fingerprint } };
    const clip: Clip = { ...base.clips[0]!, id: 'pour', renditions: [{ id: 'r', kind: 'source', links: [link] }] };
    const linked = { ...base, clips: [clip], timelines: base.timelines.map((entry) => ({ ...entry, clipIds: ['pour', 'pour'] })) };
    expect(findUsedMedia(linked, { ...ALL, timelineIds: ['A'] }).items[0]!.used).toEqual([
      { start: 0, end: 10 },
      { start: 40, end: 50 },
    ]);
  });

  it('a list beside a timeline that counts from 0 is read by the file’s timecode', () => {
    const list = timeline('List', [bare('a.mov', 900_000 + 200, 25)]);
    const otio = timeline('Cut', [cut('a.mov', 10, 5, 0)]);
    expect(used([otio, list], [item('a.mov')])).toEqual([
      { start: 10, end: 15 },
      { start: 200, end: 225 },
    ]);
  });

  it('where nothing is stated one rule holds for all events of a clip', () => {
    // The file starts at 00:00:04:00; read by its timecode the first event would be before its first frame.
    const early = item('a.mov', { startFrame: 100, startTimecode: '00:00:04:00' });
    expect(used([timeline('A', [bare('a.mov', 50, 10), bare('a.mov', 150, 10)])], [early])).toEqual([
      { start: 50, end: 60 },
      { start: 150, end: 160 },
    ]);
    expect(used([timeline('A', [bare('a.mov', 110, 10), bare('a.mov', 150, 10)])], [early])).toEqual([
      { start: 10, end: 20 },
      { start: 50, end: 60 },
    ]);
  });

  it('whatever the timelines count from, the frames they were made to show are used and no others', () => {
    const event = fc.record({ from: fc.integer({ min: 0, max: 900 }), length: fc.integer({ min: 1, max: 100 }) });
    const cutOf = fc.record({
      start: fc.constantFrom<number | null>(0, 900_000, 86_400, null),
      events: fc.array(event, { minLength: 1, maxLength: 4 }),
    });
    fc.assert(
      fc.property(fc.array(cutOf, { minLength: 1, maxLength: 4 }), (cuts) => {
        const documents = cuts.map(
          ({ start, events }, index) =>
          // Without a start the events carry the file's timecode, as lists do.
          timeline(String(index), events.map(({ from, length }) => (start === null ? bare('a.mov', 900_000 + from, length) : cut('a.mov', from, length, start)))), // prettier-ignore
        );
        const model = unite(cuts.flatMap(({ events }) => events.map(({ from, length }) => ({ start: from, end: Math.min(1000, from + length) }))));
        expect(used(documents, [item('a.mov')])).toEqual(model);
      }),
      { numRuns: 200 },
    );
  });
});

describe('a clip read frame for frame', () => {
  const film = item('film.mov', { rate: rate(24), startFrame: 36_000 * 24, startTimecode: '10:00:00:00' });

  it('a 24 fps file at ten hours under a 25 fps list counts from its first frame', () => {
    expect(used([timeline('L', [bare('film.mov', 36_000 * 25 + 40, 10)])], [film], { conform: 'by-frame', mediaStart: null })).toEqual([
      { start: 40, end: 50 },
    ]);
  });

  it('its sound is found by time: two seconds are two seconds', () => {
    const bell = item('bell.wav', { kind: 'audio', rate: rate(48_000), durationFrames: 480_000, startFrame: 0, video: null });
    expect(used([timeline('S', [cut('bell.wav', 25, 50, 0)])], [bell], { conform: 'by-frame' })).toEqual([{ start: 48_000, end: 144_000 }]);
  });
});

it('an event that counts in the file’s own frames goes by its timecode, whatever a timeline at another rate said of the clip', () => {
  const film = rate(24_000, 1001);
  const facts = { kind: 'video' as const, rate: film, startFrame: 864_000, durationFrames: 10_000 };
  // Ten hours as a label of 25, which is 36 s before ten hours of 23.976.
  const clip = { conform: 'by-time', mediaStart: { value: 900_000, rate: PAL }, renditions: [] } as unknown as Clip;
  const span = { first: { value: 864_000 + 1464, rate: film }, last: { value: 864_000 + 1560, rate: film }, night: null };
  expect(countsFrom(null, clip, facts, span)).toEqual({ value: 864_000, rate: film });
});
