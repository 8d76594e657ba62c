/** A whole day: cards in, cut in, drives away, a colleague, home. After every step the clips are counted. */
import { readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { OtioObject } from '../../../src/core/interchange/otio/otio-types';
import { clipDocument, externalReference, timeRange } from '../../../src/core/interchange/otio/otio-writer';
import type { RelinkDetail } from '../../../src/core/planning/relink/relink';
import { readTimelineFile } from '../../../src/core/interchange/read-timeline-file';
import { rate } from '../../../src/core/time/rate';
import type { CompareView } from '../../../src/server/projects/views/compare';
import type { OverviewView } from '../../../src/server/projects/views/project';
import { bringIn } from '../../../src/server/projects/bring-in';
import { Study } from '../../../src/server/questions/study';
import { Colleague, eject } from '../../helpers/colleague';
import { clipsSeen, makeHouse, makeIntra, seen, type SmallHouse } from '../../helpers/small-house';
import { put, sortSettings } from '../../helpers/sort-house';
import { cutTimeline, go, makeFrames, PAL, pullSettings, wavBytes } from '../../helpers/trust-house';
import { mkdirSync } from 'node:fs';
import { randomUUID } from 'node:crypto';

let home: SmallHouse;
let colleague: Colleague | null = null;
beforeEach(() => {
  home = makeHouse();
});
afterEach(async () => {
  await home.remove();
  await colleague?.remove();
  colleague = null;
});

const TAKES = ['C0001', 'C0002', 'C0003', 'C0004', 'C0005'];

/** Five takes of 50 frames that begin minutes apart and show the same otherwise, a sound, and frames of an animation. */
async function shoot(): Promise<void> {
  mkdirSync(join(home.source.root, 'CARD/CLIP'), { recursive: true });
  for (const [index, take] of TAKES.entries()) await makeIntra(join(home.source.root, `CARD/CLIP/${take}.mov`), 50, `10:0${index}:00:00`);
  put(home.source.root, 'zoom/yard.wav', wavBytes(240_000, [], 3));
  mkdirSync(join(home.source.root, 'render/pour'), { recursive: true });
  await makeFrames(join(home.source.root, 'render/pour'), 'pour.', 1001, 12);
  await home.stocktake(home.source.id);
}

const event = (name: string, path: string, start: number, from: number, frames: number): OtioObject =>
  clipDocument(name, timeRange(start + from, frames, PAL), externalReference(`/Volumes/FOUNDRY-A/${path}`, name, timeRange(start, 50, PAL)));
const take = (index: number, from: number, frames: number): OtioObject =>
  event(TAKES[index]!, `CARD/CLIP/${TAKES[index]!}.mov`, (10 * 3600 + index * 60) * 25, from, frames);

const clips = async () => (await clipsSeen(home)).map(({ name, binPath, state, events }) => ({ name, binPath, state, events }));
const offline = async () => (await clipsSeen(home)).filter(({ state }) => state !== 'present').length;
const overview = () => seen<OverviewView>(home, 'overview');

async function compare(before: string, after: string): Promise<CompareView['counts']> {
  const study = new Study(home.house.catalogue, home.house.mounts);
  const view = await study.answer({ ask: 'compare', projectId: home.projectId, before, after });
  return view.counts;
}

async function copyCards(): Promise<void> {
  const settings = sortSettings(home.vault.id, {
    scope: { of: 'folder', place: { shelfId: home.source.id, path: '' } },
    action: 'copy',
    makeClips: true,
    equalAsOne: true,
  });
  const { run } = await go(home, await home.plan({ kind: 'sort', settings }));
  expect(run.state).toBe('done');
}

/** The cut as somebody else gives it back: in the same application, over its own files. */
async function recut(crate: string): Promise<string> {
  colleague = new Colleague();
  await colleague.openCrate(crate, 'Handed');
  const [row] = colleague.house.catalogue.timelines.entries(colleague.projectId);
  await colleague.run({
    kind: 'export',
    settings: { timelineIds: [row!.id], format: 'otio', destination: { shelfId: colleague.shelfId, path: '' }, folderName: 'back' },
  });
  const file = join(colleague.root, 'back', `${row!.name}.otio`);
  const document = JSON.parse(readFileSync(file, 'utf8')) as OtioObject;
  const track = (document.tracks as OtioObject).children as OtioObject[];
  const events = track[0]!.children as OtioObject[];
  // Two trimmed, one gone, one new; what follows is pushed.
  const trim = (node: OtioObject, by: number) => ({ ...node, source_range: shifted(node.source_range as OtioObject, by) });
  const now = [
    trim(events[0]!, 2),
    events[1]!,
    trim(events[2]!, 1),
    { ...events[3]!, name: 'new', source_range: shifted(events[1]!.source_range as OtioObject, 7, 6) },
  ];
  (now[3] as OtioObject).media_references = events[1]!.media_references!;
  track[0] = { ...track[0]!, children: now };
  const text = JSON.stringify({ ...document, name: `${row!.name} back` });
  writeFileSync(file, text);
  return text;
}

function shifted(range: OtioObject, by: number, frames: number | null = null): OtioObject {
  const [start, duration] = [range.start_time as OtioObject, range.duration as OtioObject];
  return {
    ...range,
    start_time: { ...start, value: (start.value as number) + by },
    duration: frames === null ? duration : { ...duration, value: frames },
  };
}

function bringHome(text: string): { id: string; newClips: number } {
  const { catalogue, mounts } = home.house;
  const brought = bringIn(catalogue, mounts, home.projectId, readTimelineFile(text, rate(25)), 'back.otio', null, randomUUID);
  return { id: brought.timelineIds[0]!, newClips: brought.newClips };
}

it('has one clip for a source from the first card to what a colleague gives back', async () => {
  await shoot();
  await copyCards();
  const first = await clips();
  expect(first.map(({ name }) => name)).toEqual([...TAKES, 'pour', 'yard']);
  expect(first.every(({ binPath }) => binPath !== '')).toBe(true);

  // The cut names the cards.
  const cut = home.bring(cutTimeline('Cut', [take(0, 5, 10), take(1, 10, 10), take(2, 0, 20), take(3, 20, 10)]));
  expect(await clips()).toEqual(first.map((clip) => ({ ...clip, events: TAKES.slice(0, 4).includes(clip.name) ? 1 : 0 })));
  const { advice, mediaBytes, events } = await overview();
  expect(advice.filter(({ stage }) => stage === 'sort')).toEqual([]);
  expect(events).toBe(4);

  // The copies are read, with the cards or without; so are they by what leaves the house.
  const back = eject(home.source.root);
  expect(await offline()).toBe(0);
  const relink = await home.plan({ kind: 'relink', settings: { scope: null, choices: {} } });
  expect([(relink.detail as RelinkDetail).offline, relink.blocked]).toEqual([0, 'Nothing is offline.']);
  const { folderName: _name, ...shared } = pullSettings(home, cut);
  await go(home, await home.plan({ kind: 'crate', settings: { ...shared, crateName: 'Handed', note: '' } }));
  expect((await overview()).mediaBytes).toBe(mediaBytes);

  const text = await recut(join(home.vault.root, 'Handed'));
  const { id, newClips } = bringHome(text);
  expect(newClips).toBe(0);
  expect(await compare(cut, id)).toMatchObject({ added: 1, removed: 1, trimmed: 2, exchanged: 0 });
  expect((await clips()).length).toBe(first.length);
  back();
  expect(await compare(cut, id)).toMatchObject({ added: 1, removed: 1, trimmed: 2, exchanged: 0 });
  expect(await offline()).toBe(0);
  expect((await overview()).mediaBytes).toBe(mediaBytes);
});

it('has one clip for a source when only the used parts went away and came back', async () => {
  await shoot();
  await copyCards();
  const cut = home.bring(cutTimeline('Cut', [take(0, 5, 10), take(1, 10, 10), take(2, 0, 20), take(3, 20, 10), take(0, 35, 5)]));
  const first = await clips();
  const { mediaBytes } = await overview();
  await go(home, await home.plan({ kind: 'pull', settings: pullSettings(home, cut, { media: 'parts', headFrames: 2, tailFrames: 2 }) }));
  expect((await clips()).map(({ name }) => name)).toEqual(first.map(({ name }) => name));
  expect((await overview()).mediaBytes).toBe(mediaBytes);
  const pulled = home.house.catalogue.timelines.entries(home.projectId).find(({ name }) => name !== 'Cut')!;
  expect(await compare(cut, pulled.id)).toMatchObject({ same: 5, added: 0, removed: 0, exchanged: 0, trimmed: 0 });

  // Without any whole copy both timelines read the parts, and what is exported names them.
  const [own, card] = [join(home.vault.root, 'Test'), eject(home.source.root)];
  renameSync(own, join(home.folder, 'away'));
  await home.stocktake(home.vault.id);
  expect(await offline()).toBe(first.length - 4);
  const settings = { timelineIds: [cut], format: 'otio' as const, destination: { shelfId: home.vault.id, path: '' }, folderName: 'out' };
  const exported = await home.plan({ kind: 'export', settings });
  expect(exported.findings).toEqual([]);
  await go(home, exported);
  const text = readFileSync(join(home.vault.root, 'out/Cut.otio'), 'utf8');
  expect([...text.matchAll(/"target_url": "([^"]*)"/g)].map(([, url]) => url)).toEqual(['C0001_part1', 'C0002', 'C0003', 'C0004', 'C0001_part2'].map((name) => `../pulled/media/picture/${name}.mov`)); // prettier-ignore
  const { id: same, newClips: none } = bringHome(text.replace('"name": "Cut"', '"name": "Cut of parts"'));
  expect([none, await compare(cut, same)]).toMatchObject([0, { same: 5 }]);
  renameSync(join(home.folder, 'away'), own);
  await home.stocktake(home.vault.id);
  card();

  const { folderName: _name, ...shared } = pullSettings(home, cut, { media: 'parts', headFrames: 2, tailFrames: 2 });
  await go(home, await home.plan({ kind: 'crate', settings: { ...shared, crateName: 'Handed', note: '' } }));
  const { id, newClips } = bringHome(await recut(join(home.vault.root, 'Handed')));
  expect(newClips).toBe(0);
  expect(await compare(cut, id)).toMatchObject({ added: 1, removed: 2, trimmed: 2, exchanged: 0 });
});

it('copies what no own folder holds, once, sequences too', async () => {
  await shoot();
  await copyCards();
  const gather = sortSettings(home.vault.id, { action: 'copy', makeClips: true, equalAsOne: true });
  const again = await home.plan({ kind: 'sort', settings: gather });
  expect([again.blocked, again.headline.value]).toEqual(['Everything is in its place.', 0]);
  const card = await home.plan({ kind: 'sort', settings: { ...gather, scope: { of: 'folder', place: { shelfId: home.source.id, path: '' } } } });
  expect([card.blocked, card.headline.value]).toEqual(['Everything is in its place.', 0]);
});
