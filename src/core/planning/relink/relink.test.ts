import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { RelinkSettings } from './settings';
import { cut, item, PAL, relinkIn, shelf, snapshot, SOUND, timeline } from '../../../../tests/helpers/snapshots';
import type { OtioObject } from '../../interchange/otio/otio-types';
import { clipDocument, externalReference, timeRange, trackDocument } from '../../interchange/otio/otio-writer';
import type { Item } from '../../media/item';
import type { Expected } from '../../project/clip';

const EVERYWHERE: RelinkSettings = { scope: null, choices: {} };
const REMEMBERED = {
  sizeBytes: 1_000_000,
  fingerprint: '2:print:14/14',
  rate: { num: 25, den: 1 },
  durationFrames: 1000,
  startFrame: 900_000,
  reel: 'A001',
  kind: 'video' as const,
};
const told = (hash: string) => `2:${hash}:14/14`;
const cutOf = (path: string) => timeline('t', [cut(path, 100, 50)]);

describe('planRelink', () => {
  it('an automatic match is never wrong: whatever stands there, only equal content is taken unasked', () => {
    const candidate = fc.record({
      name: fc.constantFrom('a.mov', 'A.MOV', 'b.mov'),
      fingerprint: fc.constantFrom('2:print:14/14', '2:other:14/14', '2:print:1/14', null),
      sizeBytes: fc.constantFrom(1_000_000, 999_999),
      durationFrames: fc.constantFrom(1000, 900, 120),
      startFrame: fc.constantFrom(900_000, 0, null),
      reel: fc.constantFrom('A001', 'B001', null),
      folder: fc.constantFrom('new', 'old/deep', 'x'),
    });
    fc.assert(
      fc.property(fc.array(candidate, { maxLength: 5 }), (candidates) => {
        const items = candidates.map((own, index) =>
          item(
            `${own.folder}${index}/${own.name}`,
            { durationFrames: own.durationFrames, startFrame: own.startFrame, reel: own.reel },
            { fingerprint: own.fingerprint, sizeBytes: own.sizeBytes },
          ),
        );
        const plan = relinkIn(snapshot({ timelines: [cutOf('old/a.mov')], items, expected: { 'old/a.mov': REMEMBERED } }), EVERYWHERE);
        const row = plan.detail.groups[0]!.rows[0]!;
        const taken = items.find((entry) => entry.id === row.chosen);
        expect(taken === undefined || taken.fingerprint === '2:print:14/14').toBe(true);
        if (items.some((entry) => entry.fingerprint === '2:print:14/14')) expect(taken).toBeDefined();
        const same = items.filter((entry) => entry.fingerprint === '2:print:14/14');
        // Several of one fingerprint are read whole first, and the link waits for it.
        const reads = plan.steps.filter((step) => step.action === 'check').map((step) => step.from!.path);
        expect(reads.sort()).toEqual(same.length > 1 ? same.map((entry) => entry.place.path).sort() : []);
        expect(plan.steps.filter((step) => step.action === 'link')).toHaveLength(taken ? 1 : 0);
        if (same.length > 1) expect(plan.steps.at(-1)).toMatchObject({ phase: 1, change: { equalTo: expect.any(Array) as unknown } });
      }),
    );
  });

  const matchFor = (event: OtioObject, candidate: Item, remembered: Partial<Expected>) => {
    const unknown = { sizeBytes: null, fingerprint: null, rate: null, durationFrames: null, startFrame: null, reel: null, kind: null };
    const base = snapshot({ timelines: [timeline('t', [event])], items: [candidate], expected: { 'old/a.mov': { ...unknown, ...remembered } } });
    return relinkIn(base, EVERYWHERE).detail.groups[0]!.rows[0]!.matches[0]!;
  };
  const bare = (inFrame: number) => clipDocument('a', timeRange(inFrame, 50, PAL), externalReference('old/a.mov', 'a', null));

  it('a timecode that fits only when it is counted from 0 instead is no agreement', () => {
    const list = { name: 'a.mov', reel: 'A001' };
    // The file runs from 10:00:00:00; 00:00:12:00 is no timecode of it, though its 300th frame exists.
    expect(matchFor(bare(300), item('new/a.mov'), list).strength).toBe('offered');
    expect(matchFor(bare(900_300), item('new/a.mov'), list).strength).toBe('matched');
  });

  it('a sequence that lacks used frames does not hold the used parts', () => {
    const of = (gap: readonly (readonly [number, number])[]) => {
      const sequence = { prefix: 'a.', suffix: '.dpx', padding: 4, firstNumber: 1, lastNumber: 1000, missingRuns: gap };
      const candidate = item('new/a.mov', { kind: 'sequence', rate: null, startFrame: null, sequence });
      return matchFor(cut('old/a.mov', 100, 50, 0), candidate, { name: 'a.mov' }).evidence.find((entry) => entry.fact === 'used parts')!;
    };
    expect(of([])).toMatchObject({ agrees: true });
    expect(of([[120, 121]])).toMatchObject({ agrees: false, found: '48 of 50 fr.' });
  });

  it('picture and sound of a clip are measured each against what reads them', () => {
    const document = timeline('t', [cut('old/a.mov', 0, 50)]);
    (document.tracks as { children: OtioObject[] }).children.push(trackDocument('A1', 'Audio', [cut('old/a.mov', 800, 50)]));
    const base = snapshot({ timelines: [document], items: [], expected: { 'old/a.mov': { name: 'a.mov', reel: 'A001' } } });
    const [clip] = base.clips;
    const link = clip!.renditions[0]!.links[0]!;
    const sound = { ...link, place: { shelfId: 'A', path: 'old/a.wav' }, expected: { ...link.expected, name: 'a.wav', kind: 'audio' as const } };
    // The picture ends before the sound is used, the sound begins after the picture is.
    const items = [item('new/a.mov', { durationFrames: 60 }), item('new/a.wav', { ...SOUND, reel: 'A001' })];
    const rows = relinkIn({ ...base, items, clips: [{ ...clip!, renditions: [{ id: 'r', kind: 'source', links: [{ ...link, expected: { ...link.expected, kind: 'video' } }, sound] }] }] }, EVERYWHERE).detail.groups.flatMap((group) => group.rows); // prettier-ignore
    expect(rows.map((row) => [row.fileName, row.events, row.matches[0]!.evidence.find((entry) => entry.fact === 'used parts')!.found])).toEqual([
      ['a.mov', 1, '50 of 50 fr.'],
      ['a.wav', 1, '96000 of 96000 samples'],
    ]);
  });

  it('of two proven copies takes the one whose path is most alike', () => {
    const items = [item('x/a.mov', {}, { fingerprint: '2:print:14/14' }), item('moved/day 1/a.mov', {}, { fingerprint: '2:print:14/14' })];
    const plan = relinkIn(snapshot({ timelines: [cutOf('day 1/a.mov')], items, expected: { 'day 1/a.mov': REMEMBERED } }), EVERYWHERE);
    expect(plan.detail.groups[0]!.rows[0]!.matches[0]!.place.path).toBe('moved/day 1/a.mov');
  });

  it('groups by reason: a renamed folder, a renamed file, an unplugged shelf, a changed file, nothing found', () => {
    const cuts = timeline('t', ['day/a.mov', 'day/b.mov', 'solo.mov', 'other.mov', 'lost.mov'].map((path) => cut(path, 0, 10))); // prettier-ignore
    const items = [
      item('DAY ONE/a.mov', {}, { fingerprint: told('a') }),
      item('DAY ONE/b.mov', {}, { fingerprint: told('b') }),
      item('renamed.mov', {}, { fingerprint: told('solo') }),
      item('other.mov', {}, { fingerprint: told('not it') }),
    ];
    const print = (hash: string) => ({ ...REMEMBERED, fingerprint: told(hash) });
    const expected = {
      'day/a.mov': print('a'),
      'day/b.mov': print('b'),
      'solo.mov': print('solo'),
      'other.mov': print('it'),
      'lost.mov': { ...print('lost'), reel: null },
    };
    const plan = relinkIn(snapshot({ timelines: [cuts], items, expected }), EVERYWHERE);
    expect(plan.detail.groups.map((group) => [group.state, group.title, group.rows.length])).toEqual([
      ['missing', 'A folder was renamed or moved on SHELF-A', 2],
      ['missing', 'Files were renamed', 1],
      ['missing', 'No match', 1],
      ['changed', 'Another file stands under the same name', 1],
    ]);
    expect(plan).toMatchObject({ headline: { value: 3, of: 5 }, detail: { offline: 5, found: 3 } });

    const away = relinkIn(snapshot({ timelines: [cuts], items: [], expected, shelves: [shelf('A', { attached: false })] }), EVERYWHERE);
    expect(away.detail.groups.map((group) => group.title)).toEqual(['SHELF-A is not plugged in']);
  });

  it('leaves a clip whose drive is away, unless the user takes a copy', () => {
    const copy = item('copy/a.mov', {}, { place: { shelfId: 'B', path: 'copy/a.mov' }, fingerprint: '2:print:14/14' });
    const state = snapshot({
      timelines: [cutOf('a.mov')],
      items: [copy],
      expected: { 'a.mov': REMEMBERED },
      shelves: [shelf('A', { attached: false }), shelf('B')],
    });
    expect(relinkIn(state, EVERYWHERE).steps).toEqual([]);
    expect(relinkIn(state, { scope: null, choices: { 'a.mov': copy.id } }).steps).toHaveLength(1);
  });

  it('looks only where it is told, and only takes what it offered', () => {
    const items = [item('near/a.mov', {}, { fingerprint: '2:print:14/14' })];
    const state = snapshot({ timelines: [cutOf('old/a.mov')], items, expected: { 'old/a.mov': REMEMBERED } });
    expect(relinkIn(state, { scope: { shelfId: 'A', path: 'near' }, choices: {} }).detail.found).toBe(1);
    expect(relinkIn(state, { scope: { shelfId: 'A', path: 'nea' }, choices: {} }).detail.found).toBe(0);
    expect(relinkIn(state, { scope: { shelfId: 'B', path: '' }, choices: {} }).detail.found).toBe(0);
    expect(relinkIn(state, { scope: null, choices: { 'old/a.mov': null } }).steps).toEqual([]);
    expect(relinkIn(state, { scope: null, choices: { 'old/a.mov': 'an item of somebody else' } }).steps).toHaveLength(1);
  });

  it('compares lengths told at different rates exactly', () => {
    const sound = item(
      'n/bell.wav',
      { kind: 'audio', rate: { num: 48_000, den: 1 }, durationFrames: 1_920_000, startFrame: 1_728_000_000, reel: null },
      { fingerprint: null },
    );
    const expected = { 'bell.wav': { ...REMEMBERED, fingerprint: null, sizeBytes: null, reel: null, kind: null } };
    const [match] = relinkIn(snapshot({ timelines: [cutOf('bell.wav')], items: [sound], expected }), EVERYWHERE).detail.groups[0]!.rows[0]!.matches;
    const agrees = Object.fromEntries(match!.evidence.map((entry) => [entry.fact, entry.agrees]));
    expect(agrees).toMatchObject({ duration: true, 'start timecode': true, 'used parts': true, size: null });
    expect(match!.strength).toBe('agrees');
  });

  it('warns when the chosen file lacks frames that are used', () => {
    const short = item('n/a.mov', { durationFrames: 120 }, { fingerprint: 'x' });
    const state = snapshot({ timelines: [cutOf('old/a.mov')], items: [short], expected: { 'old/a.mov': { ...REMEMBERED, reel: null } } });
    const plan = relinkIn(state, { scope: null, choices: { 'old/a.mov': short.id } });
    expect(plan.findings.map((finding) => finding.code)).toContain('frames-short');
    expect(plan.detail.groups[0]!.rows[0]!.matches[0]).toMatchObject({ strength: 'offered' });
  });
});
