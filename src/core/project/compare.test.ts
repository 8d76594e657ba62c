import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readOtioDocument } from '../interchange/otio/otio-reader';
import type { OtioObject } from '../interchange/otio/otio-types';
import {
  clipDocument,
  externalReference,
  gapDocument,
  rationalTime,
  timelineDocument,
  timeRange,
  timeWarp,
  trackDocument,
} from '../interchange/otio/otio-writer';
import { rate } from '../time/rate';
import { compareTimelines, placedEvents, timelineFamily } from './compare';

const PAL = rate(25);
const cut = (name: string, from: number, length: number, speed = 1) =>
  clipDocument(name, timeRange(from, length, PAL), externalReference(name, name, null), speed === 1 ? [] : [timeWarp(speed)]);
const read = (tracks: OtioObject[][]) =>
  readOtioDocument(
    timelineDocument(
      't',
      rationalTime(0, PAL),
      tracks.map((children, index) => trackDocument(`V${index + 1}`, 'Video', children)),
    ),
    PAL,
  ).timelines[0]!.timeline;
const compare = (before: OtioObject[][], after: OtioObject[][]) =>
  compareTimelines(read(before), read(after), (_, event) => event.name).map(({ kind, before: a, after: b, inShift, outShift }) => [
    kind,
    (b ?? a)!.event.name,
    ...(inShift || outShift ? [inShift, outShift] : []),
  ]);

describe('a timeline and itself', () => {
  const track = (name: string, children: OtioObject[]) => trackDocument(name, 'Video', children);
  const nested = (children: OtioObject[]): OtioObject => ({
    OTIO_SCHEMA: 'Stack.1',
    name: 'ring',
    source_range: null,
    children: [track('V1', children)],
  });
  const same = (tracks: OtioObject[]) => {
    const { timeline } = readOtioDocument(timelineDocument('t', rationalTime(0, PAL), tracks), PAL).timelines[0]!;
    return compareTimelines(timeline, timeline, (_, event) => event.name).map((change) => change.kind);
  };
  const strikes = [cut('a', 0, 10), cut('b', 0, 10), cut('a', 0, 10), cut('b', 0, 10)];

  it.each([
    ['two tracks of one name', [track('V1', strikes), track('V1', strikes)]],
    ['a nesting that repeats one', [track('V1', [nested(strikes), nested(strikes)]), track('V2', [nested(strikes)])]],
    ['a nested track called as the one around it', [track('V1', [nested(strikes), ...strikes])]],
  ])('are the same, event for event: %s', (_, tracks) => expect(new Set(same(tracks))).toEqual(new Set(['same'])));

  it('a speed that varies otherwise is told', () => {
    const ramp = (to: number) => ({
      ...cut('a', 0, 50),
      effects: [{ OTIO_SCHEMA: 'TimeEffect.1', name: '', metadata: { mill_shelf: { speed_keys: [[0, 1], [50, to]] } } }],
    }); // prettier-ignore
    expect(compare([[ramp(2)]], [[ramp(2)]])).toEqual([['same', 'a']]);
    expect(compare([[ramp(2)]], [[ramp(0.5)]])).toEqual([['retimed', 'a', 0, -37]]);
  });
});

describe('two versions of a timeline', () => {
  it('tells added from removed, and what a change only pushes along', () => {
    expect(compare([[cut('a', 0, 10), cut('b', 0, 10), cut('c', 0, 10)]], [[cut('a', 0, 10), cut('x', 0, 5), cut('c', 0, 10)]])).toEqual([
      ['same', 'a'],
      ['removed', 'b'],
      ['added', 'x'],
      ['pushed', 'c'],
    ]);
  });

  it('other media in the very place of a shot is an exchange, elsewhere it is one gone and one new', () => {
    const shots = [cut('a', 0, 10), cut('b', 0, 10), cut('c', 0, 10)];
    expect(compare([shots], [[shots[0]!, cut('b graded', 900, 10), shots[2]!]])).toEqual([
      ['same', 'a'],
      ['exchanged', 'b graded'],
      ['same', 'c'],
    ]);
    expect(compare([shots], [[shots[0]!, cut('x', 0, 9), shots[2]!]]).map(([kind]) => kind).sort()).toEqual(['added', 'pushed', 'removed', 'same']); // prettier-ignore
    expect(compare([shots], [[shots[0]!, gapDocument(10, PAL), shots[2]!], [gapDocument(10, PAL), cut('x', 0, 10)]]).map(([kind]) => kind)).not.toContain('exchanged'); // prettier-ignore
  });

  it('tells trims by how much, retimes, and moves to another place or track', () => {
    expect(
      compare(
        [[cut('a', 0, 10), cut('b', 50, 20), cut('c', 0, 10), cut('d', 0, 10)]],
        [[cut('d', 0, 10), cut('a', 0, 10), cut('b', 45, 30)], [cut('c', 0, 10)]],
      ),
    ).toEqual([
      ['moved', 'c'],
      ['moved', 'd'],
      ['pushed', 'a'],
      ['trimmed', 'b', -5, 5],
    ]);
    // Twice as fast it reads ten frames more of its source.
    expect(compare([[cut('a', 0, 10)]], [[cut('a', 0, 10, 2)]])).toEqual([['retimed', 'a', 0, 10]]);
    expect(compare([[cut('a', 0, 51, 0.5)]], [[cut('a', 0, 50, 0.5)]])).toEqual([['trimmed', 'a']]);
  });

  it('matches each use of a take once, the nearest first', () => {
    const before = [[cut('a', 0, 10), cut('a', 100, 10), cut('a', 0, 10)]];
    expect(compare(before, [[cut('a', 0, 10), gapDocument(10, PAL), cut('a', 0, 10)]])).toEqual([
      ['same', 'a'],
      ['removed', 'a'],
      ['same', 'a'],
    ]);
  });

  it('tells every event of both versions once, whatever was done between them', () => {
    const shot = fc.record({ name: fc.constantFrom('a', 'b', 'c'), from: fc.nat(30), length: fc.integer({ min: 1, max: 20 }) });
    const shots = fc.array(shot, { maxLength: 12 });
    fc.assert(
      fc.property(shots, shots, fc.nat(12), (common, added, at) => {
        const documents = (list: typeof common) => list.map(({ name, from, length }) => cut(name, from, length));
        const before = read([documents([...common, ...added.slice(0, 2)])]);
        const after = read([documents([...common.slice(0, at), ...added, ...common.slice(at)])]);
        const changes = compareTimelines(before, after, (_, event) => event.name);
        const seen = (which: 'before' | 'after') =>
          changes.flatMap((change) => (change[which] ? [change[which].event.index] : [])).sort((a, b) => a - b);
        expect(seen('before')).toEqual(Array.from({ length: before.eventCount }, (_, index) => index));
        expect(seen('after')).toEqual(Array.from({ length: after.eventCount }, (_, index) => index));
        for (const { kind, before: a, after: b } of changes) {
          expect(kind === 'added').toBe(a === null);
          expect(kind === 'removed').toBe(b === null);
          if (a && b) expect(a.event.name).toBe(b.event.name);
          if (kind === 'same') expect([a!.start, a!.track]).toEqual([b!.start, b!.track]);
        }
        expect(compareTimelines(after, after, (_, event) => event.name).every((change) => change.kind === 'same')).toBe(true);
      }),
    );
  });

  it('looks into nested timelines', () => {
    const nested = (length: number): OtioObject => ({ OTIO_SCHEMA: 'Stack.1', name: 'n', source_range: timeRange(0, length, PAL), children: [trackDocument('V1', 'Video', [cut('in', 0, 40)])] }); // prettier-ignore
    expect(compare([[nested(30)]], [[nested(30)]])).toEqual([['same', 'in']]);
    expect(compare([[nested(30)]], [[nested(20)]])).toEqual([['trimmed', 'in', 0, -10]]);
  });

  it('counts the speed of what is around an event: place, length, source and change', () => {
    const nested = (speed: number): OtioObject => ({ OTIO_SCHEMA: 'Stack.1', name: 'n', source_range: timeRange(0, 20, PAL), effects: [timeWarp(speed)], children: [trackDocument('V1', 'Video', [cut('one', 0, 10), cut('two', 100, 40)])] }); // prettier-ignore
    const [, two] = placedEvents(read([[gapDocument(100, PAL), nested(2)]]));
    expect(two).toMatchObject({ start: 105, durationFrames: 15, source: { start: 100, end: 130 }, speed: { num: 2, den: 1 } });
    expect(compare([[nested(2)]], [[nested(2)]])).toEqual([['same', 'one'], ['same', 'two']]); // prettier-ignore
    expect(compare([[nested(2)]], [[nested(1)]])).toEqual([['retimed', 'one'], ['retimed', 'two', 0, -20]]); // prettier-ignore
  });

  it('tells what is switched off, by itself, with its track or with what is around it', () => {
    const off = { ...cut('a', 0, 10), enabled: false };
    const changes = (before: OtioObject[], after: OtioObject[]) => {
      const [a, b] = [before, after].map(
        (tracks) => readOtioDocument(timelineDocument('t', rationalTime(0, PAL), tracks), PAL).timelines[0]!.timeline,
      );
      return compareTimelines(a!, b!, (_, event) => event.name).map(({ kind, switched }) => [kind, switched]);
    };
    const track = (children: OtioObject[], own: OtioObject = {}) => ({ ...trackDocument('V1', 'Video', children), ...own });
    const nested = (own: OtioObject): OtioObject => ({ OTIO_SCHEMA: 'Stack.1', name: 'n', children: [track([cut('a', 0, 10)])], ...own });
    expect(changes([track([cut('a', 0, 10)])], [track([off])])).toEqual([['switched', 'off']]);
    expect(changes([track([off])], [track([cut('a', 0, 10)])])).toEqual([['switched', 'on']]);
    expect(changes([track([cut('a', 0, 10)])], [track([cut('a', 0, 10)], { enabled: false })])).toEqual([['switched', 'off']]);
    expect(changes([track([nested({})])], [track([nested({ enabled: false })])])).toEqual([['switched', 'off']]);
    expect(changes([track([off])], [track([{ ...cut('a', 0, 12), enabled: true }])])).toEqual([['trimmed', 'on']]);
    expect(changes([track([off])], [track([off], { enabled: false })])).toEqual([['same', null]]);
  });

  it('knows versions of one cut by their names', () => {
    expect(['Fine cut v7', 'Fine cut v08', 'fine_cut_v3 copy', 'Fine cut 2026-03-14', 'Fine cut v7 · exchanged'].map(timelineFamily)).toEqual([
      'fine cut',
      'fine cut',
      'fine_cut',
      'fine cut',
      'fine cut',
    ]);
    expect(timelineFamily('v7')).toBe('v7');
  });
});
