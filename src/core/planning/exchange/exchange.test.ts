import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readTimeline } from '../../interchange/otio/otio-reader';
import { timeWarp, clipDocument, externalReference, timeRange, markerDocument } from '../../interchange/otio/otio-writer';
import type { Item, MediaFacts } from '../../media/item';
import type { Clip } from '../../project/clip';
import { expectedFrom } from '../../project/clip';
import { rate } from '../../time/rate';
import type { Snapshot } from '../plan/snapshot';
import type { LinkStep } from '../plan/step';
import { framesRead } from '../taking/event-use';
import { forEachEventUse } from '../taking/used-media';
import { cut, item, PAL, snapshot, SOUND, timeline, VIDEO } from '../../../../tests/helpers/snapshots';
import { exchangedDocument } from './exchanged-document';
import { planExchange, type ExchangeChange } from './exchange';
import type { ExchangeSettings } from './settings';

const settings = (own: Partial<ExchangeSettings> = {}): ExchangeSettings => ({
  timelineId: 't',
  scope: { of: 'project' },
  among: 'folder',
  place: { shelfId: 'B', path: '' },
  endings: '_graded, _v2',
  inFolders: '',
  what: 'picture',
  parts: false,
  newest: false,
  inPlace: false,
  name: '',
  choices: {},
  ...own,
});
const graded = (path: string, facts: Partial<MediaFacts> = {}, own: Partial<Item> = {}) =>
  item(path, facts, { place: { shelfId: 'B', path }, fingerprint: `2:graded ${path}:14/14`, ...own });
const house = (events = [cut('a.mov', 100, 50)], items: readonly Item[] = [item('a.mov')]) => snapshot({ timelines: [timeline('t', events)], items });
const fates = (from: Snapshot, others: readonly Item[], own: Partial<ExchangeSettings> = {}) =>
  planExchange(from, settings(own), others).detail.rows.map(({ fate, why }) => `${fate}: ${why}`);
const changeIn = (from: Snapshot, others: readonly Item[], own: Partial<ExchangeSettings> = {}) =>
  (planExchange(from, settings(own), others).steps[0] as LinkStep).change as ExchangeChange;

describe('what stands for what', () => {
  it('by reel and timecode, whatever it is called; by name, where no other reel is said', () => {
    const others = (facts: Partial<MediaFacts>, path = 'BH_010.mov') => fates(house(), [graded(path, facts)]);
    expect(others({ startFrame: 900_090, durationFrames: 70 })).toEqual(['exchanged: reel and timecode']);
    expect(others({ reel: null, startFrame: 900_090, durationFrames: 70 })).toEqual(['none: nothing found']);
    expect(others({ reel: null, startFrame: 900_090, durationFrames: 70 }, 'A_graded.mov')).toEqual(['exchanged: name and timecode']);
    expect(others({ startFrame: 900_090, durationFrames: 70 }, 'a_graded.mov')).toEqual(['exchanged: reel, timecode and name']);
    expect(others({ reel: 'A002' }, 'a_graded.mov')).toEqual(['unfit: another reel']);
    // Another hour of the same reel is no candidate at all.
    expect(others({ startFrame: 990_000 })).toEqual(['none: nothing found']);
  });

  it('every used frame, or how many lack', () => {
    const others = (start: number, length: number) =>
      fates(house(), [graded('a_graded.mov', { startFrame: 900_000 + start, durationFrames: length })]);
    expect(others(100, 50)).toEqual(['exchanged: reel, timecode and name']);
    expect(others(101, 49)).toEqual(['lacks: 1 frame lacks']);
    expect(others(90, 20)).toEqual(['lacks: 40 frames lack']);
    expect(others(500, 20)).toEqual(['lacks: none of its frames']);
    const holes = { prefix: 'a.', suffix: '.dpx', padding: 7, firstNumber: 900_000, lastNumber: 900_999, missingRuns: [[900_120, 900_121]] as const };
    expect(fates(house(), [graded('a.dpx', { kind: 'sequence', startFrame: null, reel: null, sequence: holes })])).toEqual(['lacks: 2 frames lack']);
    const whole = { ...holes, missingRuns: [] };
    expect(fates(house(), [graded('a.dpx', { kind: 'sequence', startFrame: null, reel: null, sequence: whole })])).toEqual(['exchanged: name and frame numbers']); // prettier-ignore
  });

  it('another rate is another rate', () => {
    expect(fates(house(), [graded('a.mov', { rate: rate(24) })])).toEqual(['unfit: 24 instead of 25']);
    expect(fates(house(), [graded('b.mov', { rate: rate(24) })])).toEqual(['none: nothing found']);
  });

  it('without timecode its name and its very length', () => {
    const bare = { startFrame: null, startTimecode: null, reel: null };
    const from = house([cut('a.mov', 100, 50, 0)], [item('a.mov', bare)]);
    expect(fates(from, [graded('a.mov', bare)])).toEqual(['exchanged: name and length']);
    expect(fates(from, [graded('a.mov', { ...bare, durationFrames: 999 })])).toEqual(['unfit: no timecode, and 999 frames instead of 1000']);
  });

  it('of several the user chooses, or the newest is asked for; a copy of the source is none of them', () => {
    const two = [graded('v1/a.mov', {}, { modifiedMs: 5 }), graded('v2/a.mov', {}, { modifiedMs: 9 }), graded('copy/a.mov', {}, { fingerprint: item('a.mov').fingerprint })]; // prettier-ignore
    expect(fates(house(), two)).toEqual(['offered: 2 files fit, in several folders']);
    expect(fates(house(), two, { newest: true })).toEqual(['offered: 2 files fit, in several folders']);
    const beside = [graded('v1/a.mov', {}, { modifiedMs: 5 }), graded('v1/a_v2.mov', {}, { modifiedMs: 9 })];
    expect(planExchange(house(), settings({ newest: true }), beside).detail.rows[0]!.after!.place!.path).toBe('v1/a_v2.mov');
    expect(planExchange(house(), settings({ choices: { 0: two[0]!.id } }), two).detail.rows[0]).toMatchObject({ fate: 'exchanged', after: { itemId: two[0]!.id } }); // prettier-ignore
    expect(fates(house(), two, { choices: { 0: null } })).toEqual(['kept: left as it is']);
    // What the name says beside reel and timecode counts more.
    expect(planExchange(house(), settings(), [graded('x.mov'), graded('a_v2.mov')]).detail.rows[0]!.after!.name).toBe('a_v2.mov');
  });

  it('of two sources of one name nothing is taken for either, unless its folder says which; the newest never crosses folders', () => {
    const bare = { startFrame: null, startTimecode: null, reel: null };
    const source = (path: string, facts: Partial<MediaFacts> = {}) => item(path, facts);
    const from = house([cut('c1/C0001.mov', 100, 50, 0)], [source('c1/C0001.mov', bare), source('c2/C0001.mov', { ...bare })]);
    const twin = source('c2/C0001.mov', bare);
    const ask = (others: readonly Item[], own: Partial<ExchangeSettings> = {}, twins: readonly Item[] = [twin]) =>
      planExchange(from, settings(own), others, () => twins).detail.rows.map(({ fate, why }) => `${fate}: ${why}`);
    const d = (path: string, more: Partial<Item> = {}) => graded(path, bare, more);
    expect(ask([d('C0001_graded.mov')])).toEqual(['offered: it fits another source too: c2/C0001.mov']);
    expect(ask([d('C0001_graded.mov')], { newest: true })).toEqual(['offered: it fits another source too: c2/C0001.mov']);
    expect(ask([d('c1/C0001.mov')])).toEqual(['exchanged: name and length']);
    expect(ask([d('c2/C0001.mov')])).toEqual(['offered: it fits another source too: c2/C0001.mov']);
    expect(ask([d('c1/C0001.mov', { modifiedMs: 1 }), d('c2/C0001.mov', { modifiedMs: 9 })], { newest: true })).toEqual(['exchanged: name and length']); // prettier-ignore
    // Whoever chooses it gets it; a light copy of the source is no other source; one that differs in length is none.
    expect(ask([d('C0001_graded.mov')], { choices: { 0: d('C0001_graded.mov').id } })).toEqual(['exchanged: as you chose']);
    const small = source('c2/C0001.mov', { ...bare, video: { ...VIDEO.video!, height: 540 } });
    expect(ask([d('C0001_graded.mov')], {}, [small])).toEqual(['exchanged: name and length']);
    expect(ask([d('C0001_graded.mov')], {}, [source('c2/C0001.mov', { ...bare, durationFrames: 900 })])).toEqual(['exchanged: name and length']);
    // One reel and timecode twice.
    const timed = planExchange(house(), settings(), [graded('BH_010.mov')], () => [item('other/x.mov')]).detail.rows;
    expect(timed.map(({ fate }) => fate)).toEqual(['offered']);
    expect(planExchange(house(), settings(), [graded('BH_010.mov')], () => [item('other/x.mov', { startFrame: 990_000 })]).detail.rows[0]!.fate).toBe('exchanged'); // prettier-ignore
  });

  it('numbers of frames are timecode only where nothing else can be meant', () => {
    const delivered = (first: number, length: number, missing: readonly (readonly [number, number])[] = []) =>
      graded('a.dpx', { kind: 'sequence', startFrame: null, startTimecode: null, reel: null, durationFrames: length, sequence: { prefix: 'a.', suffix: '.dpx', padding: 7, firstNumber: first, lastNumber: first + length - 1, missingRuns: missing } }); // prettier-ignore
    const read = (start: number, others: readonly Item[], own: Partial<ExchangeSettings> = {}) => {
      const from = house([cut('a.mov', 49, 10, start)], [item('a.mov', { startFrame: start, reel: null, durationFrames: 1100 })]);
      const [row] = planExchange(from, settings(own), others).detail.rows;
      return [row!.fate, row!.after?.range.start ?? null, row!.candidates.map(({ by }) => by)];
    };
    const whole = [['name and length']];
    // As many as the source has, from a number beyond its end.
    expect(read(0, [delivered(1001, 1100)])).toEqual(['exchanged', 49, ...whole]);
    // All of them within its timecode, from a number that says nothing else.
    expect(read(900_000, [delivered(900_040, 60)])).toEqual(['exchanged', 9, ['name and frame numbers']]);
    // Within its timecode, but where any rendered frames begin: two readings, and the user chooses one of them.
    const doubtful = delivered(1001, 99);
    expect(read(0, [doubtful])).toEqual(['offered', null, ['name and length', 'name and frame numbers']]);
    expect(read(0, [doubtful], { choices: { 0: doubtful.id } })[1]).toBe(49);
    const late = delivered(0, 1100);
    expect(read(0, [late])[1]).toBe(49);
    expect(read(0, [delivered(1, 1099)])[0]).toBe('offered');
    expect(read(25 * 3600 * 10 - 500, [delivered(25 * 3600 * 10, 600)])[0]).toBe('offered');
    // A hole in the frames that are read is missed in either reading.
    expect(read(900_000, [delivered(900_040, 60, [[900_050, 900_050]])])[0]).toBe('lacks');
  });

  it('only among the chosen clips and folders; the source itself may be away', () => {
    const from = house([cut('a.mov', 0, 10), cut('b.mov', 0, 10)], [item('a.mov'), item('b.mov', { reel: 'B001' })]);
    const both = [graded('new/a.mov'), graded('old/b.mov', { reel: 'B001' })];
    expect(fates(from, both).length).toBe(2);
    expect(fates(from, both, { scope: { of: 'clips', clipIds: ['b.mov'] } })).toEqual(['exchanged: reel, timecode and name']);
    expect(fates(from, both, { inFolders: 'NEW' })).toEqual(['exchanged: reel, timecode and name', 'none: nothing found']);
    const gone = snapshot({ timelines: [timeline('t', [cut('a.mov', 100, 50)])], items: [], expected: { 'a.mov': expectedFrom(item('a.mov'), 'a.mov') } }); // prettier-ignore
    expect(fates(gone, [graded('a_graded.mov')])).toEqual(['exchanged: reel, timecode and name']);
    // Nothing is known but what the list says: its reel tells, its name is offered.
    const listed = (reel: string | null) => snapshot({ timelines: [timeline('t', [clipDocument('a.mov', timeRange(900_100, 50, PAL), externalReference('a.mov', 'a.mov', null))])], items: [], expected: { 'a.mov': { reel } } }); // prettier-ignore
    expect(fates(listed('A001'), [graded('BH_010.mov')])).toEqual(['exchanged: reel and timecode']);
    expect(fates(listed(null), [graded('a.mov')])).toEqual(['offered: its own timecode is only what the timeline counts']);
  });

  it('a shot over midnight finds its frames after it', () => {
    const day = 25 * 86_400;
    const from = house([cut('a.mov', 900, 50, day - 500)], [item('a.mov', { startFrame: day - 500 })]);
    const [row] = planExchange(from, settings(), [graded('a.mov', { startFrame: 390, durationFrames: 100 })]).detail.rows;
    expect([row!.fate, row!.after!.range]).toEqual(['exchanged', { start: 10, end: 60 }]);
  });

  it('pictures of 8 bits and of fewer lines are said', () => {
    const low = graded('a.mov', { video: { ...VIDEO.video!, bitDepth: 8, height: 540 } });
    expect(planExchange(house(), settings(), [low]).findings.map(({ code }) => code)).toEqual(['eight-bit', 'smaller', 'sound-stays']);
  });

  it('a light copy that lies among them under the name of its source is not taken for a better one', () => {
    const proxy = graded('Proxies/a.mov', { video: { ...VIDEO.video!, height: 540, bitDepth: 8 } });
    const from = house();
    const clips = from.clips.map((clip): Clip => ({ ...clip, renditions: [...clip.renditions, { id: 'p', kind: 'proxy', links: [{ place: proxy.place, url: '', expected: expectedFrom(proxy, 'a.mov') }] }] })); // prettier-ignore
    expect(fates({ ...from, clips, items: [...from.items, proxy] }, [proxy, graded('BH_010.mov')])).toEqual(['exchanged: reel and timecode']);
  });

  it('sound is held against sound, and pictures that come without it leave it', () => {
    const from = house([cut('bell.wav', 48_000, 96_000, 1_728_000_000, rate(48_000), 48_000 * 40)], [item('bell.wav', SOUND)]);
    const sound: Snapshot = { ...from, timelines: from.timelines.map((own) => ({ ...own, model: { ...own.model, tracks: own.model.tracks.map((track) => ({ ...track, kind: 'audio' as const })) } })) }; // prettier-ignore
    expect(fates(sound, [graded('bell.wav', SOUND)], { what: 'picture' })).toEqual([]);
    expect(fates(sound, [graded('bell.wav', SOUND)], { what: 'sound' })).toEqual(['exchanged: name and timecode']);
    expect(fates(sound, [graded('bell.mov')], { what: 'both' })).toEqual(['none: nothing found']);
  });
});

/** The frames that the new document reads of the other item, found by reading it anew. */
function readBack(from: Snapshot, other: Item): { start: number; end: number }[] {
  const change = changeIn(from, [other]);
  const document = exchangedDocument(from.timelines[0]!.document, change, change.media.map(() => ({ item: other, address: '/new.mov', name: 'new', conform: 'by-time' }))); // prettier-ignore
  const clip: Clip = { ...from.clips[0]!, id: 'new', mediaStart: null, renditions: [{ id: 'r', kind: 'source', links: [{ place: other.place, url: '', expected: expectedFrom(other, 'new') }] }] }; // prettier-ignore
  const model = readTimeline(document, PAL)!;
  const out: { start: number; end: number }[] = [];
  const read = { id: 't', model, document, clipIds: from.timelines[0]!.clipIds.map(() => 'new') };
  forEachEventUse({ clips: [clip], timelines: [read] }, ['t'], true, (use) => out.push(framesRead(use, other.facts)));
  return out;
}

describe('what the new timeline reads', () => {
  it('the same pictures by timecode, whatever part of the source the other holds and however the event is retimed', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 600 }),
        fc.integer({ min: 1, max: 100 }),
        fc.integer({ min: 0, max: 60 }),
        fc.integer({ min: 0, max: 60 }),
        fc.constantFrom(0, 900_000, 12_345),
        fc.constantFrom(1, 2, -1, 0.5),
        (from, length, before, after, counts, speed) => {
          const effects = speed === 1 ? [] : [timeWarp(speed)];
          const event = { ...cut('a.mov', from, length, counts), effects };
          const snap = house([event]);
          const [row] = planExchange(snap, settings(), []).detail.rows;
          const { start, end } = row!.before!.range;
          const other = graded('a.mov', { startFrame: 900_000 + start - before, durationFrames: end - start + before + after });
          expect(readBack(snap, other)).toEqual([{ start: before, end: before + end - start }]);
        },
      ),
      { numRuns: 150 },
    );
  });

  it('effects, markers, names, source ranges and switched off events stay; other references of the old media go', () => {
    const marked = { ...cut('a.mov', 100, 50), effects: [timeWarp(0.5)], markers: [markerDocument('pour', timeRange(900_110, 1, PAL), 'RED')] };
    const off = { ...cut('a.mov', 300, 10), enabled: false };
    const references = { DEFAULT_MEDIA: externalReference('a.mov', 'a.mov', timeRange(900_000, 1000, PAL)), proxy: externalReference('p.mov', 'p', null) }; // prettier-ignore
    const from = house([{ ...marked, media_references: references }, off]);
    const other = graded('a.mov', { startFrame: 900_050, durationFrames: 200 });
    const change = changeIn(from, [other]);
    // What is switched off and not covered is neither missed nor changed.
    expect(change.events.map(([index]) => index)).toEqual([0]);
    const { document } = from.timelines[0]!;
    const made = exchangedDocument(document, change, [{ item: other, address: 'file:///b/a.mov', name: 'a', conform: 'by-time' }]);
    const clips = (node: typeof document) => (node.tracks as { children: { children: Record<string, unknown>[] }[] }).children[0]!.children;
    expect({ ...clips(made)[0], media_references: null }).toEqual({ ...clips(document)[0], media_references: null });
    expect(Object.keys(clips(made)[0]!.media_references as object)).toEqual(['DEFAULT_MEDIA']);
    expect(clips(made)[1]).toEqual(clips(document)[1]);
    expect(made.name).toBe('t · exchanged');
  });
});
