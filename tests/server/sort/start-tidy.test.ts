/** A project that starts tidy: cards and files copied in, twice in one read, clips in bins by the same rules. */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { SortDetail } from '../../../src/core/planning/sort/sort';
import type { SortSettings } from '../../../src/core/planning/sort/settings';
import { partName } from '../../../src/server/stock/part-name';
import { registerShelf } from '../../../src/server/stock/register-shelf';
import { makeHouse, type SmallHouse } from '../../helpers/small-house';
import { diskState, put, sortSettings } from '../../helpers/sort-house';
import { cutOf, cutTimeline, endOf, go, makeFrames, undo, wavBytes } from '../../helpers/trust-house';

let house: SmallHouse;
let second: { readonly id: string; readonly root: string };
beforeEach(() => {
  house = makeHouse();
  const root = join(house.folder, 'SECOND');
  mkdirSync(root);
  second = { root, id: registerShelf(house.house.catalogue, house.house.mounts, root).id };
});
afterEach(() => house.remove());

const CARD = 'A001';

async function cardAndFiles(): Promise<void> {
  const { root } = house.source;
  put(root, `${CARD}/DCIM/100MILLA/M1.wav`, wavBytes(4_800, [], 4));
  put(root, `${CARD}/DCIM/100MILLA/M2.wav`, wavBytes(4_800, [], 5));
  put(root, `${CARD}/DCIM/100MILLA/.hidden`, 'index');
  put(root, 'zoom/bell.wav', wavBytes(4_800, [], 1));
  put(root, 'zoom/bell.xml', '<paper/>');
  mkdirSync(join(root, 'renders'));
  await makeFrames(join(root, 'renders'), 'pour.', 1001, 5);
  await house.stocktake(house.source.id);
}

const settings = (own: Partial<SortSettings> = {}) =>
  sortSettings(house.vault.id, {
    scope: { of: 'folder', place: { shelfId: house.source.id, path: '' } },
    action: 'copy',
    makeClips: true,
    second: { shelfId: second.id, path: '' },
    ...own,
  });
const sort = (own: Partial<SortSettings> = {}) => house.plan({ kind: 'sort', settings: settings(own) });

/** Contents and times of files below a folder, the shelf's own marker left out. */
function filesOf(root: string): Record<string, string> {
  return Object.fromEntries(Object.entries(diskState(root)).filter(([path, text]) => !text.startsWith('folder') && path.startsWith('Test/')));
}

const clips = () =>
  house.house.catalogue.clips
    .ofProject(house.projectId)
    .map(({ name, binPath, renditions }) =>
      `${binPath} > ${name}: ${renditions[0]!.links.map(({ place }) => place?.path).join()}`.replaceAll(/\d{4}-\d\d-\d\d/g, 'DAY'),
    )
    .sort();

/** Bytes that this process has read so far, as the system counts them (proc(5), rchar). */
function bytesRead(): number {
  return Number(/rchar: (\d+)/.exec(readFileSync('/proc/self/io', 'utf8'))![1]);
}

describe('a project that starts tidy', () => {
  it('copies cards and files to two shelves, makes clips in bins named as the folders, and all of it goes again', async () => {
    await cardAndFiles();
    const before = { source: diskState(house.source.root), vault: diskState(house.vault.root), second: diskState(second.root) };
    const { id, run, rows } = await go(house, await sort());
    expect([run.state, ...rows.flatMap(({ message }) => message ?? [])]).toEqual(['done']);
    expect(diskState(house.source.root)).toEqual(before.source);
    const [first, other] = [filesOf(house.vault.root), filesOf(second.root)];
    expect(Object.keys(first)).toHaveLength(10);
    expect(other).toEqual(first);
    // An independent judge of equality.
    const sums = execFileSync('sha256sum', ['--', ...Object.keys(first)], { cwd: house.vault.root });
    execFileSync('sha256sum', ['--check', '--quiet'], { cwd: second.root, input: sums });
    expect(clips()).toEqual([
      'Pictures/DAY > pour: Test/Pictures/DAY/pour/pour.[1001-1005].dpx',
      'Sound > bell: Test/Sound/bell.wav',
      `Sound/${CARD} > M1: Test/Sound/${CARD}/DCIM/100MILLA/M1.wav`,
      `Sound/${CARD} > M2: Test/Sound/${CARD}/DCIM/100MILLA/M2.wav`,
    ]);
    expect(house.house.catalogue.bins.ofProject(house.projectId).map(({ path }) => path)).toEqual(expect.arrayContaining(['Sound', `Sound/${CARD}`]));
    const twins = rows.filter(({ step }) => step.to?.shelfId === second.id && step.action !== 'link');
    expect(twins.length).toBeGreaterThan(0);
    // The stock knows both copies: nothing is found new or changed.
    await house.stocktake(second.id);
    expect(house.house.catalogue.items.at({ shelfId: second.id, path: 'Test/Sound/bell.wav' })?.sha256).toBe(
      house.house.catalogue.items.at({ shelfId: house.source.id, path: 'zoom/bell.wav' })?.sha256,
    );

    const plan = await house.plan({ kind: 'undo', settings: { runId: id, confirmed: true } });
    expect(plan.findings.map(({ code }) => code)).not.toContain('clips-offline');
    const back = await go(house, plan);
    expect(back.run.state).toBe('done');
    expect(clips()).toEqual([]);
    expect(house.house.catalogue.bins.ofProject(house.projectId)).toEqual([]);
    expect(diskState(second.root)).toEqual(before.second);
    expect(diskState(house.vault.root)).toEqual(before.vault);
  });

  it('reads every byte of a source once for both copies', async () => {
    const size = 48_000_000;
    writeFileSync(join(house.source.root, 'long.wav'), wavBytes(size / 2, [], 3));
    await house.stocktake(house.source.id);
    const plan = await sort({ emptyFolders: false, makeClips: false });
    const before = bytesRead();
    const { run } = await go(house, plan);
    const read = bytesRead() - before;
    expect(run.state).toBe('done');
    // Once the source, and each copy read back: three times its size, not four.
    expect(read).toBeGreaterThan(2.9 * size);
    expect(read).toBeLessThan(3.5 * size);
  });

  it('what was copied before is not copied again, what is new on the card is', async () => {
    await cardAndFiles();
    await go(house, await sort());
    const again = await sort();
    const { rows } = again.detail as SortDetail;
    expect(rows.filter(({ stays }) => stays === null).map(({ oldName }) => oldName)).toEqual([]);
    expect(again.findings.map(({ code }) => code)).toContain('copied-before');
    put(house.source.root, 'zoom/bell two.wav', wavBytes(4_800, [], 9));
    // Equal to nothing that was copied though its name is.
    put(house.source.root, 'other/bell.wav', wavBytes(4_800, [], 10));
    await house.stocktake(house.source.id);
    const third = await go(house, await sort());
    expect(third.run.state).toBe('done');
    expect(readdirSync(join(house.vault.root, 'Test/Sound')).filter((name) => name.startsWith('bell')).sort()).toEqual(['bell two.wav', 'bell.wav', 'bell.xml', 'bell_2.wav']); // prettier-ignore
    expect(new Set(clips()).size).toBe(clips().length);
    expect(clips().filter((clip) => clip.includes('bell'))).toHaveLength(3);
  });

  it('a second shelf that fills up or goes away fails by itself: the first copies stand, and resuming makes the rest', async () => {
    await cardAndFiles();
    const plan = await sort();
    const away = `${house.folder}-away`;
    renameSync(second.root, away);
    const { id, run, rows } = await go(house, plan);
    expect(run.state).toBe('failed');
    const failed = rows.filter(({ state }) => state === 'failed');
    expect(failed.length).toBeGreaterThan(0);
    expect(failed.every(({ step }) => step.to?.shelfId === second.id)).toBe(true);
    expect(failed[0]!.message).toMatch(/plug|shelf/i);
    expect(Object.keys(filesOf(house.vault.root))).toHaveLength(10);
    expect(existsSync(second.root)).toBe(false);
    renameSync(away, second.root);
    house.house.runner.resume(id);
    expect((await endOf(house, id)).run.state).toBe('done');
    expect(filesOf(second.root)).toEqual(filesOf(house.vault.root));
    expect(readdirSync(second.root, { recursive: true }).filter((name) => String(name).includes('mill-part'))).toEqual([]);
  });

  it('a name that is taken on either shelf is used on neither', async () => {
    await cardAndFiles();
    put(second.root, 'Test/Sound/bell.wav', 'of somebody else');
    const { run } = await go(house, await sort());
    expect(run.state).toBe('done');
    expect(readFileSync(join(second.root, 'Test/Sound/bell.wav'), 'utf8')).toBe('of somebody else');
    for (const root of [house.vault.root, second.root]) expect(existsSync(join(root, 'Test/Sound/bell_2.wav'))).toBe(true);
  });

  it('an undo leaves clips that are in use or were changed, and says how many', async () => {
    await cardAndFiles();
    const { id } = await go(house, await sort({ scope: { of: 'folder', place: { shelfId: house.source.id, path: 'zoom' } } }));
    const [clip] = house.house.catalogue.clips.ofProject(house.projectId);
    house.house.catalogue.clips.put(house.projectId, { ...clip!, note: 'the one with the bird' });
    const { rows } = await undo(house, id);
    expect(rows.map(({ outcome }) => outcome?.checked)).toContainEqual(expect.stringContaining('0 clips taken out, 1 in use or changed since'));
    expect(clips()).toHaveLength(1);
  });

  it.each([
    ['second-meets-first', () => ({ second: { shelfId: house.vault.id, path: '' } })],
    ['second-same-disk', () => ({})],
    ['second-destination-unplugged', () => (rmSync(second.root, { recursive: true }), {})],
    ['hidden-folder', () => ({ second: { shelfId: second.id, path: '.away' } })],
  ] as const)('says of a second destination: %s', async (code, own) => {
    await cardAndFiles();
    const plan = await sort(own());
    expect(plan.findings.map((finding) => finding.code)).toContain(code);
    expect(plan.blocked === null).toBe(code === 'second-same-disk');
  });

  it('says that another instance writes there', async () => {
    await cardAndFiles();
    mkdirSync(join(house.vault.root, 'Test/Sound'), { recursive: true });
    writeFileSync(join(house.vault.root, 'Test/Sound', partName('another-catalogue', 4, 2)), 'half');
    writeFileSync(join(house.vault.root, 'Test', partName(house.house.catalogue.id, 4, 2)), 'half, of this one');
    const { findings } = await sort();
    expect(findings.filter(({ code }) => code === 'other-writer').map(({ message }) => message)).toEqual([
      'Another Mill Shelf writes into Test/Sound on VAULT just now.',
    ]);
  });

  it('makes the folders of a scheme where there is nothing to sort yet', async () => {
    const plan = await sort({ scope: { of: 'project' } });
    expect(plan.blocked).toBe(null);
    const { run } = await go(house, plan);
    expect(run.state).toBe('done');
    expect(statSync(join(house.vault.root, 'Test/Exports')).isDirectory()).toBe(true);
  });
});

describe('clips that came with a timeline', () => {
  it('get the bin of their folder as they are gathered, where they lie in none; others keep theirs, and the undo puts all back', async () => {
    put(house.source.root, 'zoom/bell.wav', wavBytes(4_800, [], 1));
    put(house.source.root, 'zoom/yard.wav', wavBytes(4_800, [], 2));
    await house.stocktake(house.source.id);
    house.bring(cutTimeline('Cut', [cutOf('zoom/bell.wav', 0, 2), cutOf('zoom/yard.wav', 0, 2)], 'Audio'));
    const { catalogue } = house.house;
    const [, yard] = catalogue.clips.ofProject(house.projectId);
    catalogue.bins.make(house.projectId, 'Selects');
    catalogue.clips.put(house.projectId, { ...yard!, binPath: 'Selects' });
    const bins = () => catalogue.clips.ofProject(house.projectId).map(({ name, binPath }) => `${name}: ${binPath}`);
    const before = bins();
    const { id } = await go(house, await sort({ second: null, scope: { of: 'project' } }));
    expect([before, bins()]).toEqual([['zoom/bell.wav: ', 'zoom/yard.wav: Selects'], ['zoom/bell.wav: Sound', 'zoom/yard.wav: Selects']]); // prettier-ignore
    await undo(house, id);
    expect([bins(), catalogue.bins.ofProject(house.projectId).map(({ path }) => path)]).toEqual([before, ['Selects']]);
  });
});

describe('a file that takes the old place of one that was sorted', () => {
  it('is another clip for timelines and for bins, and the first one is found again where nothing stands there', async () => {
    put(house.source.root, 'inbox/C0001.wav', wavBytes(4_800, [], 1));
    await house.stocktake(house.source.id);
    house.bring(cutTimeline('Monday', [cutOf('inbox/C0001.wav', 0, 5)], 'Audio'));
    await go(house, await house.plan({ kind: 'sort', settings: sortSettings(house.source.id) }));
    const [monday] = house.house.catalogue.clips.ofProject(house.projectId);
    // Nothing stands there: who names the old place means what was moved.
    house.bring(cutTimeline('Monday again', [cutOf('inbox/C0001.wav', 1, 5)], 'Audio'));
    expect(house.house.catalogue.clips.ofProject(house.projectId)).toHaveLength(1);
    put(house.source.root, 'inbox/C0001.wav', wavBytes(9_600, [], 2));
    await house.stocktake(house.source.id);
    const id = house.bring(cutTimeline('Tuesday', [cutOf('inbox/C0001.wav', 0, 5)], 'Audio'));
    const [used] = house.house.catalogue.timelines.eventClips(id).clipIds;
    expect(used).not.toBe(monday!.id);
    // Sorted too, and a third comes.
    await go(house, await house.plan({ kind: 'sort', settings: sortSettings(house.source.id) }));
    put(house.source.root, 'inbox/C0001.wav', wavBytes(4_800, [], 3));
    await house.stocktake(house.source.id);
    const third = house.bring(cutTimeline('Wednesday', [cutOf('inbox/C0001.wav', 0, 5)], 'Audio'));
    expect(new Set([...house.house.catalogue.timelines.eventClips(third).clipIds, used, monday!.id]).size).toBe(3);
  });
});
