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
import { compareTimelines, timelineFamily } from './compare';

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
    expect(compare([[ramp(2)]], [[ramp(0.5)]])).toEqual([['retimed', 'a']]);
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
    expect(compare([[cut('a', 0, 10)]], [[cut('a', 0, 10, 2)]])).toEqual([['retimed', 'a']]);
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
    expect(compare([[nested(30)]], [[nested(20)]])).toEqual([['trimmed', 'in']]);
  });

  it('knows versions of one cut by their names', () => {
    expect(['Fine cut v7', 'Fine cut v08', 'fine_cut_v3 copy', 'Fine cut 2026-03-14', 'Fine cut'].map(timelineFamily)).toEqual([
      'fine cut',
      'fine cut',
      'fine_cut',
      'fine cut',
      'fine cut',
    ]);
    expect(timelineFamily('v7')).toBe('v7');
  });
});
