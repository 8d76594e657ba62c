/** Sorting real files of a real house: moved and copied, followed by every clip, and put back. */
import { existsSync, linkSync, mkdirSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { SortDetail } from '../../../src/core/planning/sort/sort';
import type { SortSettings } from '../../../src/core/planning/sort/settings';
import type { OverviewView } from '../../../src/server/projects/views/project';
import { makeHouse, seen, type SmallHouse } from '../../helpers/small-house';
import { allLinks, brokenLinks, diskState, put, sortSettings } from '../../helpers/sort-house';
import { cutOf, cutOfSequence, cutTimeline, go, makeFrames, states, undo, wavBytes } from '../../helpers/trust-house';
import { THIS_MACHINE } from '../../../src/server/runs/actor';
import { setAutomation } from '../../../src/server/usecases/automations';

let house: SmallHouse;
beforeEach(() => (house = makeHouse()));
afterEach(() => house.remove());

const sort = (own: Partial<SortSettings> = {}) => house.plan({ kind: 'sort', settings: sortSettings(house.source.id, own) });

/** Sounds with a sidecar, frames, a card with a hidden file, a paper: scattered over folders. */
async function scatter(): Promise<void> {
  const { root } = house.source;
  put(root, 'from zoom/bell one.wav', wavBytes(4_800, [], 1));
  put(root, 'from zoom/bell one.xml', '<paper/>');
  put(root, 'from zoom/CON.wav', wavBytes(4_800, [], 2));
  put(root, 'old/deep/bell one.wav', wavBytes(4_800, [], 3));
  put(root, 'old/notes.txt', 'notes');
  put(root, 'A001/DCIM/100MILLA/M1.wav', wavBytes(4_800, [], 4));
  put(root, 'A001/DCIM/100MILLA/.hidden', 'index');
  put(root, 'A001/MISC/x.txt', 'misc');
  mkdirSync(join(root, 'renders'));
  await makeFrames(join(root, 'renders'), 'pour.', 1001, 6);
  await house.stocktake(house.source.id);
  house.bring(
    cutTimeline('Cut', [
      ...['from zoom/bell one.wav', 'from zoom/CON.wav', 'old/deep/bell one.wav', 'A001/DCIM/100MILLA/M1.wav'].map((path) => cutOf(path, 0, 5)),
      cutOfSequence('renders', 'pour.', 1001, 6, 0, 6),
    ]),
  );
}

describe('a sort by moving', () => {
  it('puts everything in its place, every clip follows, and the undo puts back names, times, folders and links', async () => {
    await scatter();
    const before = { disk: diskState(house.source.root), links: allLinks(house), states: await states(house) };
    expect(Object.values(before.states).every((state) => state === 'present')).toBe(true);

    const plan = await sort();
    const { id, run, rows } = await go(house, plan);
    expect(rows.filter(({ state }) => state !== 'done').map(({ message }) => message)).toEqual([]);
    expect(run.state).toBe('done');
    const own = join(house.source.root, 'Test');
    expect(readdirSync(join(own, 'Sound')).filter((name) => name !== '2026')).toEqual(
      expect.arrayContaining(['_CON.wav', 'bell one.wav', 'bell one.xml', 'bell one_2.wav']),
    );
    expect(readdirSync(join(own, 'Pictures')).sort()).toEqual(expect.arrayContaining(['Stills']));
    expect(existsSync(join(own, 'Exports'))).toBe(true);
    // The card is whole, hidden files and all.
    const sound = join(own, 'Sound/A001');
    expect([
      existsSync(join(sound, 'DCIM/100MILLA/M1.wav')),
      existsSync(join(sound, 'DCIM/100MILLA/.hidden')),
      existsSync(join(sound, 'MISC/x.txt')),
    ]).toEqual([true, true, true]);
    // What was emptied is gone, what still holds something is not.
    expect([existsSync(join(house.source.root, 'from zoom')), existsSync(join(house.source.root, 'old/notes.txt'))]).toEqual([false, true]);
    expect(Object.values(await states(house)).every((state) => state === 'present')).toBe(true);
    expect(brokenLinks(house)).toEqual([]);
    // Nothing is left to do, and a stocktake finds nothing new.
    expect((await sort()).blocked).toBe('Everything is in its place.');
    const items = () => house.house.catalogue.items.onShelf(house.source.id).map(({ id: own, place }) => `${own} ${place.path}`);
    const known = items();
    await house.stocktake(house.source.id);
    expect(items()).toEqual(known);
    expect(
      house.house.catalogue.items.window(house.source.id, { filter: 'con.wav', sort: 'path', down: false, only: null, limit: 10, offset: 0 }).rows[0]
        ?.originalName,
    ).toBe('CON.wav');

    const back = await undo(house, id);
    expect(back.rows.filter(({ state }) => state !== 'done').map(({ message }) => message)).toEqual([]);
    expect(diskState(house.source.root)).toEqual(before.disk);
    expect(allLinks(house)).toEqual(before.links);
    expect(await states(house)).toEqual(before.states);
    expect(house.house.catalogue.runs.get(id)?.undoneBy).toBe(back.id);
  });

  it('to another shelf the files go too, with what they were', async () => {
    await scatter();
    const before = { disk: diskState(house.source.root), links: allLinks(house) };
    const { id, rows } = await go(house, await house.plan({ kind: 'sort', settings: sortSettings(house.vault.id, { rootName: 'Bronze' }) }));
    expect(rows.filter(({ state }) => state !== 'done').map(({ message }) => message)).toEqual([]);
    expect(brokenLinks(house)).toEqual([]);
    expect(readdirSync(join(house.vault.root, 'Bronze/Sound')).length).toBeGreaterThan(3);
    await undo(house, id);
    expect(diskState(house.source.root)).toEqual(before.disk);
    expect(readdirSync(house.vault.root)).toEqual(['.mill-shelf.json']);
    expect(allLinks(house)).toEqual(before.links);
  });

  it('never overwrites, and a file that was changed or went since the plan fails by itself', async () => {
    await scatter();
    const plan = await sort();
    put(house.source.root, 'from zoom/CON.wav', wavBytes(9_600), 1_700_000_500);
    put(house.source.root, 'Test/Sound/bell one.wav', 'somebody else');
    const { run, rows } = await go(house, plan);
    expect(run.state).toBe('failed');
    const failed = rows.filter(({ state }) => state === 'failed').map(({ message }) => message);
    expect(failed).toEqual(
      expect.arrayContaining([expect.stringContaining('CON.wav was changed'), expect.stringContaining('A file already stands')]),
    );
    expect(brokenLinks(house)).toEqual([]);
    expect(existsSync(join(house.source.root, 'from zoom/CON.wav'))).toBe(true);
  });

  it('files of two names by a hard link are two files that move', async () => {
    put(house.source.root, 'a/one.wav', wavBytes(4_800));
    mkdirSync(join(house.source.root, 'b'));
    linkSync(join(house.source.root, 'a/one.wav'), join(house.source.root, 'b/one.wav'));
    await house.stocktake(house.source.id);
    const before = diskState(house.source.root);
    const { id, rows } = await go(house, await sort({ scope: { of: 'folder', place: { shelfId: house.source.id, path: '' } } }));
    expect(rows.filter(({ state }) => state !== 'done')).toEqual([]);
    expect(readdirSync(join(house.source.root, 'Test/Sound')).sort()).toEqual(['Music', 'one.wav', 'one_2.wav']);
    await undo(house, id);
    expect(diskState(house.source.root)).toEqual(before);
  });

  it('an undo leaves what was changed since where it is, and says so', async () => {
    await scatter();
    const { id } = await go(house, await sort());
    writeFileSync(join(house.source.root, 'Test/Sound/_CON.wav'), 'changed');
    const { run, rows } = await undo(house, id);
    expect(run.state).toBe('done');
    expect(rows.filter(({ outcome }) => outcome?.left)).toHaveLength(1);
    expect(existsSync(join(house.source.root, 'Test/Sound/_CON.wav'))).toBe(true);
  });
});

describe('a sort by copying', () => {
  it('leaves the files, clips of this project read the copies, and the undo takes them away again', async () => {
    await scatter();
    const before = { disk: diskState(house.source.root), links: allLinks(house) };
    const settings = sortSettings(house.vault.id, { action: 'copy', rootName: 'Bronze' });
    const { id, rows } = await go(house, await house.plan({ kind: 'sort', settings }));
    expect(rows.filter(({ state }) => state !== 'done').map(({ message }) => message)).toEqual([]);
    expect(diskState(house.source.root)).toEqual(before.disk);
    expect(Object.keys(await states(house)).every((clip) => clip.includes('Bronze/'))).toBe(true);
    expect(Object.values(await states(house)).every((state) => state === 'present')).toBe(true);
    await undo(house, id);
    expect(allLinks(house)).toEqual(before.links);
    expect(readdirSync(house.vault.root)).toEqual(['.mill-shelf.json']);
  });

  it('says what room it takes beside what a move would', async () => {
    await scatter();
    const plan = await house.plan({ kind: 'sort', settings: sortSettings(house.vault.id, { action: 'copy' }) });
    const { extraBytes } = plan.detail as SortDetail;
    expect(extraBytes.move).toBe(0);
    expect(extraBytes.copy).toBe(plan.steps.reduce((sum, step) => sum + step.expectedBytes, 0));
    expect(statSync(house.source.root).isDirectory()).toBe(true);
  });
});

describe('staying tidy', () => {
  it('the overview counts what lies outside the own folder, and what is new where it watches', async () => {
    await scatter();
    const titles = async () => (await seen<OverviewView>(house, 'overview')).advice.filter(({ stage }) => stage === 'sort').map(({ title }) => title);
    const { id: shelfId, root } = house.source;
    const settings = { folders: [{ shelfId, path: 'incoming' }] };
    setAutomation(house.house, THIS_MACHINE, { projectId: house.projectId, name: 'watched-folders', isOn: true, settings });
    // Nothing of it lies in a folder of its own yet.
    expect(await titles()).toEqual([]);
    await go(house, await sort());
    expect(await titles()).toEqual([]);
    put(root, 'incoming/new.wav', wavBytes(4_800, [], 9));
    put(root, 'incoming/talk.wav', wavBytes(4_800, [], 8));
    put(root, 'incoming/notes.txt', 'notes');
    await house.stocktake(shelfId);
    expect(await titles()).toEqual(['Sort 2 new files in incoming']);
    house.bring(cutTimeline('More', [cutOf('incoming/talk.wav', 0, 1)], 'Audio'));
    expect(await titles()).toEqual(['Gather 1 file into Test', 'Sort 1 new file in incoming']);
    await go(house, await sort());
    expect(await titles()).toEqual(['Sort 1 new file in incoming']);
  });
});

it('nothing is put into the tree of a card, at whatever depth, and cards of other makes are whole too', async () => {
  const { root } = house.source;
  put(root, 'loose.wav', wavBytes(4_800, [], 9));
  for (const [index, path] of [
    'A/DCIM/100MILLA/M1.wav',
    'B/PRIVATE/M4ROOT/CLIP/C0001.wav',
    'C/XDROOT/Clip/C0002.wav',
    'D/CONTENTS/CLIPS001/C3.wav',
  ].entries())
    // prettier-ignore
    put(root, path, wavBytes(4_800, [], index));
  put(root, 'B/PRIVATE/M4ROOT/MEDIAPRO.XML', '<index/>');
  put(root, 'B/PRIVATE/M4ROOT/THMBNL/C0001T01.JPG', 'no picture');
  put(root, 'plain/DCIM/notes.txt', 'no card');
  await house.stocktake(house.source.id);
  const to = async (path: string) => (await sort({ scope: { of: 'folder', place: { shelfId: house.source.id, path: '' } }, destination: { shelfId: house.source.id, path } })).findings.map(({ code }) => code); // prettier-ignore
  for (const path of [
    'A/DCIM',
    'A/DCIM/new',
    'A/DCIM/100MILLA/deep/er',
    'B/PRIVATE',
    'B/PRIVATE/M4ROOT',
    'B/PRIVATE/M4ROOT/CLIP',
    'B/PRIVATE/M4ROOT/new',
    'C/XDROOT',
    'D/CONTENTS/x',
  ])
    // prettier-ignore
    expect([path, await to(path)]).toEqual([path, expect.arrayContaining(['destination-on-card'])]);
  for (const path of ['plain/DCIM', 'beside', 'PRIVATE']) expect([path, (await to(path)).includes('destination-on-card')]).toEqual([path, false]);
  const whole = await sort({ scope: { of: 'folder', place: { shelfId: house.source.id, path: '' } } });
  const cards = (whole.detail as SortDetail).rows.filter(({ kind }) => kind === 'card');
  expect(cards.map(({ oldName, files }) => [oldName, files])).toEqual([
    ['A', 1],
    ['B', 3],
    ['C', 1],
    ['D', 1],
  ]);
});
