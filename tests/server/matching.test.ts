/** Lists brought in where nothing but names, reels and timecode tell their media: in a house with a stock of its own. */
import { randomUUID } from 'node:crypto';
import { execFileSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { USUAL } from '../../src/core/matching/additions';
import { namesAsked, tellsOf, widerAsked } from '../../src/core/matching/tells';
import type { Item } from '../../src/core/media/item';
import { fileName } from '../../src/core/media/item';
import {
  clipDocument,
  externalReference,
  formatOtio,
  rationalTime,
  timelineDocument,
  timeRange,
  trackDocument,
} from '../../src/core/interchange/otio/otio-writer';
import { unmatchClips } from '../../src/server/projects/unmatch';
import { clipOfItems, linkTo } from '../../src/server/projects/make-clip';
import type { Plan } from '../../src/core/planning/plan/plan';
import type { RelinkDetail } from '../../src/core/planning/relink/relink';
import { rate } from '../../src/core/time/rate';
import type { MatchSummary } from '../../src/server/projects/match-view';
import { Study } from '../../src/server/questions/study';
import { edlEvent, plainFile, timedFile } from '../helpers/matching';
import { PAL, plain } from '../helpers/snapshots';
import { clipsSeen, ffmpeg, makeHouse, type SmallHouse } from '../helpers/small-house';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

/** In the stock of the first shelf, or of the other. */
function put(made: Item, shelf: 'source' | 'vault' = 'source', fingerprint = `2:${randomUUID()}:14/14`): Item {
  const item = { ...made, id: randomUUID(), place: { shelfId: small[shelf].id, path: made.place.path }, fingerprint };
  small.house.catalogue.items.put(item);
  return item;
}
const study = () => new Study(small.house.catalogue, small.house.mounts);
const MATCH = { scope: null };
const source = (text: string) => ({ source: { text }, folder: null, rate: PAL, findings: [] });
const look = async (text: string, own = {}) =>
  ((await study().answer({ ask: 'preview', ...source(text), match: MATCH, ...own })) as { matches: MatchSummary }).matches;
const bring = async (text: string, match: typeof MATCH | null = MATCH, name = 'cut.edl') =>
  await study().answer({ ask: 'bring-in', projectId: small.projectId, name, ...source(text), match });
const ONE = ['00:00:01:00', '00:00:02:10'] as const;
const named = (name: string, reel = 'AX') => edlEvent(reel, ...ONE, [`* FROM CLIP NAME: ${name}`]);
/** One event a name, all of one reel. */
const list = (names: readonly string[], reel = 'AX') =>
  `TITLE: LONG\n${names.map((name, index) => `${String(index + 1).padStart(4, '0')}  ${reel} V C 00:00:01:00 00:00:02:00 ${label(index)} ${label(index + 1)}\n* FROM CLIP NAME: ${name}`).join('\n')}\n`;
function label(second: number): string {
  const two = (value: number) => String(value).padStart(2, '0');
  return `${two(1 + Math.floor(second / 3600))}:${two(Math.floor(second / 60) % 60)}:${two(second % 60)}:00`;
}

describe('the index', () => {
  it('finds every file that answers to what is asked, and no other, whatever the names', () => {
    const part = fc.constantFrom('A001', 'a001', 'C001', 'C0012', 'bell', 'Türe', 'x', '1', 'copy', 'sync', 'new', '01', '_', '');
    const joint = fc.constantFrom('_', ' ', '-', '.', '');
    const stem = fc.tuple(part, joint, part, joint, part).map((parts) => parts.join('') || 'z');
    const file = fc.record({ stem, ending: fc.constantFrom('.mov', '.MP4', ''), folder: fc.constantFrom('A001', 'CARD_B/DCIM/100MEDIA', 'd'), reel: fc.constantFrom(null, 'A001', 'A001C001_260314') }); // prettier-ignore
    fc.assert(
      fc.property(fc.array(file, { maxLength: 12 }), fc.array(stem, { maxLength: 3 }), fc.array(stem, { maxLength: 2 }), (files, names, reels) => {
        const { catalogue } = small.house;
        const items = new Map(files.map((own) => [`${own.folder}/${own.stem}${own.ending}`, own]));
        const stood = [...items].map(([path, own]) => put(plainFile(path, { reel: own.reel })));
        const told = { names, reels };
        const asked = widerAsked(told, USUAL);
        const finder = catalogue.tellFinder([small.source.id], null);
        const wish = { key: 'k', names: namesAsked(told), aroundSeconds: 0 };
        const found = [finder.named([wish]), finder.wider([{ ...wish, ...widerAsked(told, USUAL), byReelAlone: true }])].flatMap((one) => one.get('k')!.items); // prettier-ignore
        const allNames = [...namesAsked(told), ...asked.names];
        const answers = (key: string) => allNames.includes(key) || asked.reels.includes(key) || asked.added.some(({ from, to, length }) => key >= from && key < to && key.length === length); // prettier-ignore
        const expected = stood.filter((item) => tellsOf(item).some(answers)).map(({ place }) => place.path);
        expect([...new Set(found.map(({ place }) => place.path))].sort()).toEqual([...new Set(expected)].sort());
        for (const { place } of stood) catalogue.items.markRemoved(place, '2026-01-01T00:00:00Z');
      }),
      { numRuns: 60 },
    );
  });

  it('follows files that are moved, renamed by a sort, read anew and gone', () => {
    const { catalogue } = small.house;
    const find = (name: string) =>
      catalogue.tellFinder([small.source.id, small.vault.id], null).named([{ key: 'k', names: namesAsked({ names: [name], reels: [] }), aroundSeconds: 0 }]).get('k')!.items.map(({ place }) => place.path); // prettier-ignore
    const item = put(plainFile('DCIM/100MEDIA/CLIP0001.MP4'));
    const sorted = { shelfId: small.vault.id, path: 'Sorted/2026-03-14_001.MP4' };
    catalogue.moves.move(item.place, sorted, null, 'CLIP0001.MP4');
    expect([find('CLIP0001'), find('2026-03-14_001')]).toEqual([[sorted.path], [sorted.path]]);
    catalogue.items.put({ ...item, place: sorted, facts: { ...item.facts, reel: 'B7' } });
    expect(find('CLIP0001')).toEqual([sorted.path]);
    catalogue.items.markRemoved(sorted, '2026-01-01T00:00:00Z');
    expect(find('CLIP0001')).toEqual([]);
  });
});

describe('a list that comes in', () => {
  it('is looked at without a trace, links what is matched, and gives it back', async () => {
    const file = put(plainFile('DCIM/100MEDIA/CLIP0001.MP4'));
    put(plainFile('a/C0002.MP4'));
    put(plainFile('b/C0002.MP4'));
    const text = list(['CLIP0001.MP4', 'C0002.MP4', 'C0009.MP4']);
    const seen = await look(text);
    expect(seen).toMatchObject({ sources: 3, matched: 1, ambiguous: 1, notFound: 1, groups: [{ shelf: 'FOUNDRY-A', by: 'file name', count: 1 }] });
    expect(seen.rows.find(({ verdict }) => verdict === 'no match')!.why).toBe('Looked for C0009.MP4 with any ending, on 2 shelves.');
    expect(await clipsSeen(small)).toEqual([]);
    // What it holds is told without its media too.
    expect(await look(text, { match: null })).toBeNull();

    const { timelineIds, matchedClips } = await bring(text);
    expect(matchedClips).toBe(1);
    const states = async () => (await clipsSeen(small)).map(({ name, state }) => [name, state]).sort();
    expect(await states()).toEqual([['C0002.MP4', 'missing'], ['C0009.MP4', 'missing'], ['CLIP0001.MP4', 'present']]); // prettier-ignore
    const [clip] = small.house.catalogue.clips.ofProject(small.projectId).filter(({ name }) => name === 'CLIP0001.MP4');
    expect(clip!.renditions[0]!.links[0]).toMatchObject({ place: file.place, expected: { matchedBy: 'file name', fingerprint: file.fingerprint } });

    // Brought in again it is the same timeline.
    expect((await bring(text)).findings.map(({ code }) => code)).toContain('already-here');
    const back = await study().answer({ ask: 'unmatch', projectId: small.projectId, timelineId: timelineIds[0]! });
    expect((await states()).map(([, state]) => state)).toEqual(['missing', 'missing', 'missing']);
    expect(small.house.catalogue.timelines.entries(small.projectId)).toMatchObject([{ id: back.timelineId, name: 'LONG', findings: [] }]);
    await expect(study().answer({ ask: 'unmatch', projectId: small.projectId, timelineId: back.timelineId })).rejects.toMatchObject({ status: 404 });
    // What was taken back is found again in Relink, ticked and not called proven.
    const plan = (await small.plan({ kind: 'relink', settings: { scope: null, choices: {} } })) as Plan<RelinkDetail>;
    expect(plan.detail.groups.map(({ title, count, chosen, proven }) => [title, count, chosen, proven]).sort()).toEqual([
      ['Matched by file name', 1, 1, 0],
      ['No match', 1, 0, 0],
      ['Several files match', 1, 0, 0],
    ]);
  });

  it('without matching links nothing; a clip of the project that reads the file is the clip', async () => {
    put(plainFile('DCIM/100MEDIA/CLIP0001.MP4'));
    expect(await bring(named('CLIP0001'), null)).toMatchObject({ matchedClips: 0, newClips: 1 });
    expect((await clipsSeen(small)).map(({ state }) => state)).toEqual(['missing']);
    // The very list again, found now: it is here already, and what it links is said.
    expect(await bring(named('CLIP0001'))).toMatchObject({ newClips: 0, matchedClips: 1, findings: [{ code: 'already-here' }] });
    expect((await clipsSeen(small)).map(({ state }) => state)).toEqual(['present']);
    // The same words: the clip that is there reads it.
    expect(await bring(named('CLIP0001'), MATCH, 'again.edl')).toMatchObject({ newClips: 0 });
    // Other words for the same file: no second clip.
    expect(await bring(named('clip0001.mp4'))).toMatchObject({ newClips: 0, matchedClips: 1 });
    expect((await clipsSeen(small)).map(({ state }) => state)).toEqual(['present']);
  });

  it('a file that stood at the address is known by its content: no other of its name is taken for it', async () => {
    const { catalogue } = small.house;
    const old = put(plainFile('day/a.mov'), 'source', '2:every byte:all');
    catalogue.items.markRemoved(old.place, '2026-01-01T00:00:00Z');
    put(plainFile('elsewhere/a.mov'));
    const text = formatOtio(timelineDocument('cut', rationalTime(0, PAL), [trackDocument('V1', 'Video', [clipDocument('a', timeRange(10, 20, PAL), externalReference('file:///Volumes/FOUNDRY-A/day/a.mov', 'a', null))])])); // prettier-ignore
    expect(await look(text)).toMatchObject({ linked: 1, matched: 0 });
    await bring(text);
    const plan = (await small.plan({ kind: 'relink', settings: { scope: null, choices: {} } })) as Plan<RelinkDetail>;
    expect(plan.headline.value).toBe(0);
    // The very file at another place is read, without being asked for.
    put(plainFile('moved/a.mov'), 'source', old.fingerprint!);
    const again = (await small.plan({ kind: 'relink', settings: { scope: null, choices: {} } })) as Plan<RelinkDetail>;
    expect([again.detail.offline, again.detail.moved, again.headline.value]).toEqual([0, 1, 0]);
    expect((await clipsSeen(small)).map(({ state, place }) => [state, place?.path])).toEqual([['present', 'moved/a.mov']]);
  });

  it('a proxy of some clip is no source, whatever it is named', async () => {
    const { catalogue } = small.house;
    const card = put(plainFile('DCIM/100MEDIA/CLIP0001.MP4'));
    const proxy = put(plainFile('Proxies/CLIP0001.mov'));
    expect(await look(named('CLIP0001'))).toMatchObject({ ambiguous: 1 });
    const clip = clipOfItems([card], '', randomUUID);
    catalogue.clips.put(small.projectId, {
      ...clip,
      renditions: [...clip.renditions, { id: randomUUID(), kind: 'proxy', links: [linkTo(proxy, '')] }],
    });
    expect(await look(named('CLIP0001'))).toMatchObject({ matched: 1 });
  });

  it('clips of a list are linked too, and one alone can be taken back', async () => {
    put(plainFile('DCIM/100MEDIA/CLIP0001.MP4'));
    await bring('Name,Reel,Bin\nclip0001,CLIP0001,Day 1\nC0009,,Day 1\n', MATCH, 'selects.csv');
    const seen = async () => (await clipsSeen(small)).map(({ name, state, matchedBy }) => [name, state, matchedBy]);
    expect(await seen()).toEqual([['C0009', 'missing', null], ['clip0001', 'present', 'file name']]); // prettier-ignore
    const ids = (await clipsSeen(small)).map(({ id }) => id);
    expect(unmatchClips(small.house.catalogue, small.projectId, ids)).toBe(1);
    expect(await seen()).toEqual([['C0009', 'missing', null], ['clip0001', 'missing', null]]); // prettier-ignore
    const [link] = small.house.catalogue.clips.ofProject(small.projectId)[1]!.renditions[0]!.links;
    expect(link).toMatchObject({ place: null, expected: { name: 'clip0001', reel: 'CLIP0001', fingerprint: null } });
    expect((await small.plan({ kind: 'relink', settings: { scope: null, choices: {} } })).headline.value).toBe(1);
  });

  it('rows of a clip list keep their marks, notes and bins beside a clip that reads the file already; twice is once', async () => {
    const card = put(plainFile('DCIM/100MEDIA/CLIP0001.MP4'));
    const { catalogue } = small.house;
    catalogue.clips.put(small.projectId, clipOfItems([card], 'Cards', randomUUID));
    const rows = 'Name,In,Out,Bin,Notes\nCLIP0001.MP4,00:00:01:00,00:00:02:00,Selects,the ringer smiles\n';
    expect(await bring(rows, MATCH, 'selects.csv')).toMatchObject({ newClips: 1, matchedClips: 1 });
    expect(await bring(rows, MATCH, 'selects.csv')).toMatchObject({ newClips: 0 });
    const clips = catalogue.clips.ofProject(small.projectId);
    expect(clips.map(({ binPath, note, marks }) => [binPath, note, marks?.inFrame ?? null]).sort()).toEqual([['Cards', '', null], ['Selects', 'the ringer smiles', 25]]); // prettier-ignore
    expect(new Set(clips.map(({ renditions }) => renditions[0]!.links[0]!.place!.path)).size).toBe(1);
  });

  it('is exported with the reel, the file and the count that it came with', async () => {
    put(plainFile('CARD_T1/DCIM/100MEDIA/C0001.MP4'));
    put(plainFile('CARD_T2/DCIM/100MEDIA/C0001.MP4'));
    put(timedFile('d/A001_C001_0314.mov', 10, 0, { reel: 'A001_C001_260314' }));
    const text = `${edlEvent('CARD_T1', ...ONE, ['* FROM CLIP NAME: C0001', '* SOURCE FILE: C0001'])}002  A001     V     C        10:00:01:00 10:00:02:00 01:00:10:00 01:00:11:00\n* FROM CLIP NAME: pour wide\n`; // prettier-ignore
    const { timelineIds } = await bring(text);
    const settings = { timelineIds, format: 'edl' as const, destination: { shelfId: small.vault.id, path: '' }, folderName: 'out' };
    const plan = await small.plan({ kind: 'export', settings });
    const written = plan.steps
      .flatMap((step) => (step.action === 'write' && step.content.type === 'text' ? [plain(step.content.text)] : []))
      .join('\n');
    expect(written).toMatch(/CARDT1|CARD_T1/);
    expect(written).toContain('00:00:01:00 00:00:02:10');
    expect(written).toContain('* FROM CLIP NAME: C0001');
    expect(written).toMatch(/\* SOURCE FILE: C0001\s/);
    expect(written).toMatch(/^002 +A001 .* 10:00:01:00 10:00:02:00/m);
    expect(written).not.toContain('260314');
  });

  it('two lists that name two cards alike have two clips', async () => {
    put(plainFile('CARD_A/DCIM/100MEDIA/C0001.MP4'));
    put(plainFile('CARD_B/DCIM/100MEDIA/C0001.MP4'));
    await bring(named('C0001.MP4', 'CARD_A'));
    await bring(named('C0001.MP4', 'CARD_B'));
    const clips = small.house.catalogue.clips.ofProject(small.projectId);
    expect(clips.map(({ renditions }) => renditions[0]!.links[0]!.place!.path).sort()).toEqual(['CARD_A/DCIM/100MEDIA/C0001.MP4', 'CARD_B/DCIM/100MEDIA/C0001.MP4']); // prettier-ignore
  });

  it('events of one reel are the files that hold them', async () => {
    put(timedFile('d/A001_C001.mov', 10, 0));
    put(timedFile('d/A001_C002.mov', 10, 5));
    const event = (number: string, at: string, to: string, record: string, end: string) => `${number}  A001     V     C        ${at} ${to} ${record} ${end}`; // prettier-ignore
    const text = `TITLE: REEL\n${[event('001', '10:00:01:00', '10:00:02:00', '01:00:00:00', '01:00:01:00'), event('002', '10:05:01:00', '10:05:02:00', '01:00:01:00', '01:00:02:00'), event('003', '10:00:30:00', '10:00:31:00', '01:00:02:00', '01:00:03:00'), event('004', '10:30:00:00', '10:30:01:00', '01:00:03:00', '01:00:04:00')].join('\n')}\n`; // prettier-ignore
    expect(await bring(text)).toMatchObject({ newClips: 3, matchedClips: 2 });
    expect((await clipsSeen(small)).map(({ name, state }) => [name, state])).toEqual([['A001 10:30:00:00', 'missing'], ['A001_C001', 'present'], ['A001_C002', 'present']]); // prettier-ignore
  });

  it('proposes the rate that its files run at', async () => {
    for (const name of ['C1.MP4', 'C2.MP4', 'C3.MP4']) put(plainFile(`d/${name}`, { rate: rate(24_000, 1001) }));
    expect((await look(list(['C1.MP4', 'C2.MP4', 'C3.MP4']))).rate).toEqual({ rate: rate(24_000, 1001), files: 3, of: 3 });
    const asIs = await look(list(['C1.MP4', 'C2.MP4', 'C3.MP4']), { rate: rate(24_000, 1001) });
    expect(asIs).toMatchObject({ matched: 3, rate: null });
  });

  it('a twin on a drive that is unplugged keeps a file from being taken; one that is gone does not', async () => {
    const { catalogue, mounts } = small.house;
    put(plainFile('C0001.MP4'));
    const twin = put(plainFile('C0001.MP4'), 'vault');
    const unplugged = new Study(
      catalogue,
      Object.assign(Object.create(mounts) as typeof mounts, { rootOf: (id: string) => (id === small.vault.id ? null : mounts.rootOf(id)) }),
    );
    const seen = async () =>
      ((await unplugged.answer({ ask: 'preview', ...source(named('C0001.MP4')), match: MATCH })) as { matches: MatchSummary }).matches;
    expect(await seen()).toMatchObject({ matched: 0, ambiguous: 1 });
    catalogue.items.markRemoved(twin.place, '2026-01-01T00:00:00Z');
    expect(await seen()).toMatchObject({ matched: 1 });
  });
});

describe('lists that tell too little or too much', () => {
  it('ten thousand files of one name: nothing is taken, and it says what would tell', async () => {
    small.house.catalogue.transaction(() => {
      for (let index = 0; index < 10_000; index++) put(plainFile(`${index}/C0001.MP4`));
    });
    const began = performance.now();
    const seen = await look(list(Array.from({ length: 300 }, () => 'C0001.MP4')));
    expect(seen).toMatchObject({ sources: 1, matched: 0, ambiguous: 1 });
    expect(seen.rows[0]!.why).toContain('A reel in the list would tell them apart.');
    // Three hundred that differ.
    const many = await look(list(Array.from({ length: 300 }, (_, index) => `C0001 ${index}`)));
    expect(many.matched).toBe(0);
    expect(performance.now() - began).toBeLessThan(20_000);
  });

  it('one file that holds it among ten thousand of the name is not taken: not all were looked at', async () => {
    small.house.catalogue.transaction(() => {
      for (let index = 0; index < 500; index++) put(plainFile(`${index}/C0001.MP4`, { durationFrames: 10 }));
      put(plainFile('zz/C0001.MP4'));
    });
    expect(await look(named('C0001.MP4'))).toMatchObject({ matched: 0 });
  });

  it.each([
    ['names that are patterns', ['.*', '(a+)+$', '[', '\\', 'C000?.MP4', '%', '_', '*']],
    ['names without a letter', ['...', '---', '???', '   .  ']],
    ['names of a thousand letters', ['A'.repeat(1000), `${'_1'.repeat(500)}.mov`, `${' copy'.repeat(200)}`]],
    ['all the same word', Array.from({ length: 200 }, () => 'A001')],
  ])('%s: no freeze, nothing taken', async (_, names) => {
    for (const path of ['a.mov', 'C0001.MP4', 'x_1.mov', 'A.mov']) put(plainFile(path));
    const began = performance.now();
    expect(await look(list(names))).toMatchObject({ matched: 0 });
    expect(performance.now() - began).toBeLessThan(5_000);
  });

  it('a reel that all files answer to', async () => {
    small.house.catalogue.transaction(() => {
      for (let index = 0; index < 3_000; index++) put(timedFile(`A001/C${index}.mov`, 10, 0));
    });
    const seen = await look(edlEvent('A001', '10:00:01:00', '10:00:02:00'));
    expect(seen).toMatchObject({ matched: 0, ambiguous: 1 });
  });

  it('timecode alone offers the files of the folder that the rest of the list comes from first', async () => {
    put(timedFile('day 1/C1.mov', 10, 0));
    put(timedFile('day 1/C2.mov', 10, 5));
    put(timedFile('attic/old.mov', 10, 0));
    const events = `${edlEvent('AX', '10:00:01:00', '10:00:02:00')}002  AX       V     C        10:05:01:00 10:05:02:00 01:00:10:00 01:00:11:00\n`;
    const seen = await look(events);
    expect(seen.matched).toBe(0);
    expect(seen.rows.map(({ files }) => files.map(({ place }) => fileName(place.path)))).toEqual(
      expect.arrayContaining([['C1.mov', 'old.mov'], ['C2.mov']]),
    );
  });
});

it('media as cameras write it: real files without reel or timecode, a take of two files, a phone', async () => {
  const at = (path: string) => {
    mkdirSync(join(small.source.root, path, '..'), { recursive: true });
    return `file:${join(small.source.root, path)}`;
  };
  const picture = (path: string, ...more: string[]) => ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=160x90:r=25:d=4', ...more, '-c:v', 'libx264', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p', '-y', at(path)); // prettier-ignore
  await picture('CARD_T1/DCIM/100TOWER/C0001.MP4');
  await picture('CARD_T2/DCIM/100TOWER/C0001.MP4', '-vf', 'hue=h=90');
  await picture('REC/TAKE0003/TAKE0003.MOV', '-vf', 'hue=h=180');
  await ffmpeg('-f', 'lavfi', '-i', 'sine=d=4:r=48000', '-c:a', 'pcm_s24le', '-y', at('REC/TAKE0003/TAKE0003.WAV'));
  execFileSync('touch', [join(small.source.root, 'REC/TAKE0003/TAKE0003.IDX')]);
  await small.stocktake(small.source.id);
  const text = `TITLE: TOWER
001  CARD_T2  V     C        00:00:01:00 00:00:02:10 01:00:00:00 01:00:01:10
* FROM CLIP NAME: C0001.MP4
002  TAKE0003 B     C        00:00:00:10 00:00:03:10 01:00:01:10 01:00:04:10
* FROM CLIP NAME: TAKE0003
`;
  expect(await bring(text)).toMatchObject({ newClips: 2, matchedClips: 2 });
  const files = small.house.catalogue.clips.ofProject(small.projectId).map(({ renditions }) => renditions[0]!.links.map(({ place }) => place!.path));
  expect(files).toEqual([['CARD_T2/DCIM/100TOWER/C0001.MP4'], ['REC/TAKE0003/TAKE0003.MOV', 'REC/TAKE0003/TAKE0003.WAV']]);
  expect((await clipsSeen(small)).map(({ state }) => state)).toEqual(['present', 'present']);
});
