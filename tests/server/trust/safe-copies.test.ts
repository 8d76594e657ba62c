/** What is called a safe copy is one, now: crates that are moved, damaged, deleted, locked, undone, and files of which there is no other. */
import { createHash } from 'node:crypto';
import { copyFileSync, cpSync, existsSync, mkdirSync, readFileSync, renameSync, rmSync, unlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { CrateSettings } from '../../../src/core/planning/crate/settings';
import { movedSince } from '../../../src/server/catalogue/started-as';
import { enterRun } from '../../../src/server/runs/enter-run';
import { claimFolder, claimOf } from '../../../src/server/runs/claim-folder';
import { fewFolders, otherHouses, readsIn, writeHouseNote } from '../../../src/server/stock/house-notes';
import { spaceOf } from '../../../src/server/stock/mounts';
import type { CrateView } from '../../../src/server/projects/views/crate';
import type { OverviewView } from '../../../src/server/projects/views/project';
import { makeHouse, openHouse, seen, type SmallHouse } from '../../helpers/small-house';
import { sortSettings } from '../../helpers/sort-house';
import { alterInSecret, bringSounds, copyStep, cutOf, cutTimeline, go, planOf, pullSettings, undo, wavBytes } from '../../helpers/trust-house';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

const out = (path: string) => join(small.vault.root, path);
const lookAgain = async () => {
  await small.stocktake(small.source.id);
  await small.stocktake(small.vault.id);
};
const overview = () => seen<OverviewView>(small, 'overview');
const crates = () => seen<CrateView[]>(small, 'crates');

async function planCrate(timelineId: string, own: Partial<CrateSettings> = {}) {
  const { folderName: _folder, ...shared } = pullSettings(small, timelineId);
  return small.plan({ kind: 'crate', settings: { ...shared, crateName: 'Sealed', note: '', ...own } });
}

async function makeCrate(timelineId: string, own: Partial<CrateSettings> = {}): Promise<number> {
  const made = await go(small, await planCrate(timelineId, own));
  expect(made.run.state).toBe('done');
  return made.id;
}

/** A sound of which the stock reads samples alone, and a short one. */
async function bringLong(): Promise<string> {
  writeFileSync(join(small.source.root, 'long.wav'), wavBytes(3_000_000));
  writeFileSync(join(small.source.root, 'one.wav'), wavBytes(48_000));
  await small.stocktake(small.source.id);
  return small.bring(cutTimeline('Long', [cutOf('long.wav', 0, 10), cutOf('one.wav', 0, 10)], 'Audio'));
}

const check = async () => {
  const [crate] = await crates();
  return small.plan({ kind: 'check-crate', settings: { crateId: crate!.id } });
};

describe('a crate as it stands', () => {
  it('is safe while it is whole; altered, missing and deleted files end that, and a check finds what no stocktake can', async () => {
    await makeCrate(await bringLong());
    const state = async () => {
      const { lastCrate } = await overview();
      return [lastCrate!.isSafe, lastCrate!.standing.state, lastCrate!.trouble];
    };
    expect(await state()).toEqual([true, 'whole', null]);
    await lookAgain();
    expect(await state()).toEqual([true, 'whole', null]);

    // Between the samples of the stock, with its times put back: only reading it tells.
    const long = out('Sealed/data/media/sound/long.wav');
    alterInSecret(long, 1_000_001);
    await lookAgain();
    const after = await state();
    expect(after[0]).toBe(after[1] === 'whole');
    const checked = await go(small, await check());
    expect([checked.run.state, await state()]).toEqual(['failed', [false, 'changed', '1 file was changed']]);
    expect((await overview()).advice.find(({ stage }) => stage === 'crates')!.why).toContain('Sealed is no safe copy any more: 1 file was changed.');

    copyFileSync(join(small.source.root, 'long.wav'), long);
    await lookAgain();
    expect((await state()).slice(0, 2)).toEqual([false, 'unread']);
    expect((await overview()).advice.find(({ stage }) => stage === 'crates')!.title).toBe('Check the crate Sealed');
    const before = (await crates())[0]!.checkedAt;
    expect((await go(small, await check())).run.state).toBe('done');
    expect(await state()).toEqual([true, 'whole', null]);
    expect((await crates())[0]!.checkedAt! > before!).toBe(true);

    // Somebody exchanges a file together with all that vouches for it.
    const lists = ['manifest-sha256.txt', 'tagmanifest-sha256.txt'].map((name) => [name, readFileSync(out(`Sealed/${name}`), 'utf8')] as const);
    const sum = (name: string) => createHash('sha256').update(readFileSync(out(`Sealed/${name}`))).digest('hex'); // prettier-ignore
    const one = readFileSync(out('Sealed/data/media/sound/one.wav'));
    const [was, listed] = [sum('data/media/sound/one.wav'), sum('manifest-sha256.txt')];
    writeFileSync(out('Sealed/data/media/sound/one.wav'), wavBytes(48_000, [], 9));
    writeFileSync(out('Sealed/manifest-sha256.txt'), lists[0]![1].replace(was, sum('data/media/sound/one.wav')));
    writeFileSync(out('Sealed/tagmanifest-sha256.txt'), lists[1]![1].replace(listed, sum('manifest-sha256.txt')));
    const exchanged = await check();
    expect(exchanged.findings.map(({ code }) => code)).toContain('crate-relisted');
    expect((await go(small, exchanged)).run.state).toBe('done');
    await lookAgain();
    expect((await state()).slice(0, 2)).toEqual([false, 'changed']);
    writeFileSync(out('Sealed/data/media/sound/one.wav'), one);
    for (const [name, text] of lists) writeFileSync(out(`Sealed/${name}`), text);
    await lookAgain();
    expect(await state()).toEqual([true, 'whole', null]);

    unlinkSync(out('Sealed/data/media/sound/one.wav'));
    await lookAgain();
    expect(await state()).toEqual([false, 'changed', '1 of 8 files is missing']);
    rmSync(out('Sealed'), { recursive: true });
    await lookAgain();
    expect(await state()).toEqual([false, 'gone', 'it is not there any more']);
  });

  it('that was moved is found again by its lists, is to be checked, and no undo takes it', async () => {
    const id = await makeCrate(await bringLong());
    mkdirSync(out('Archive'));
    renameSync(out('Sealed'), out('Archive/Sealed 2026'));
    await lookAgain();
    const [crate] = await crates();
    expect([crate!.standing.place.path, crate!.standing.isMoved, crate!.isSafe, crate!.standing.copies]).toEqual([
      'Archive/Sealed 2026',
      true,
      false,
      [],
    ]);
    expect(crate!.trouble).toBe('1 file was moved since and not compared');
    expect((await small.plan({ kind: 'undo', settings: { runId: id } })).blocked).toContain('was moved: it stands on VAULT in Archive/Sealed 2026');
    expect((await go(small, await check())).run.state).toBe('done');
    expect((await crates())[0]!.isSafe).toBe(true);
    cpSync(out('Archive/Sealed 2026'), out('Second'), { recursive: true });
    await lookAgain();
    expect((await crates())[0]!.standing.copies).toEqual([{ shelfId: small.vault.id, path: 'Second' }]);
  });

  it('with a line taken out of its manifest, or another bag-info, is not opened as if nothing were', async () => {
    await makeCrate(await bringSounds(small, 'one.wav', 'two.wav'), { about: { version: 'lock 2', receiver: 'Grading' } });
    const info = readFileSync(out('Sealed/bag-info.txt'), 'utf8');
    expect(info).toMatch(/^Project-Version: lock 2$/m);
    expect((await crates())[0]!.about).toEqual({ version: 'lock 2', receiver: 'Grading' });
    const open = () => small.plan({ kind: 'restore', settings: { crate: { shelfId: small.vault.id, path: 'Sealed' }, projectName: 'Opened' } });
    expect((await open()).findings).toEqual([]);
    const manifest = readFileSync(out('Sealed/manifest-sha256.txt'), 'utf8');
    const lines = manifest.split('\n').filter((line) => !line.includes('two.wav'));
    writeFileSync(out('Sealed/manifest-sha256.txt'), lines.join('\n'));
    unlinkSync(out('Sealed/data/media/sound/two.wav'));
    expect((await open()).blocked).toContain('manifest-sha256.txt is not what tagmanifest-sha256.txt says');
    writeFileSync(out('Sealed/manifest-sha256.txt'), manifest);
    writeFileSync(out('Sealed/bag-info.txt'), info.replace('Grading', 'Sound'));
    writeFileSync(out('Sealed/readme.txt'), 'added later');
    const plan = await open();
    expect(plan.findings.map(({ code }) => code)).toEqual(['crate-tag-altered', 'crate-tag-unlisted', 'crate-missing', 'crate-oxum']);
    expect((await go(small, plan)).run.state).toBe('done');
    const opened = small.house.catalogue.projects.list().find(({ name }) => name === 'Opened')!;
    const view = await seen<OverviewView>({ ...small, projectId: opened.id }, 'overview');
    expect(view.advice[0]).toMatchObject({ stage: 'runs', title: 'Look at the crate Sealed' });
    expect(view.advice[0]!.why).toContain('1 file is listed but not there: data/media/sound/two.wav');
  });
});

describe('an undo', () => {
  it('does not take the last whole copy without a word, nor what became the last one since the plan was read', async () => {
    const timelineId = await bringSounds(small, 'one.wav', 'two.wav');
    const id = await makeCrate(timelineId);
    // Nobody reads them any more.
    small.house.catalogue.projects.remove(small.projectId);
    const plan = (confirmed = false) => small.plan({ kind: 'undo', settings: { runId: id, confirmed } });
    expect([(await plan()).blocked, (await plan()).findings.some(({ code }) => code === 'undo-last')]).toEqual([null, false]);
    unlinkSync(join(small.source.root, 'two.wav'));
    await small.stocktake(small.source.id);
    const asking = await plan();
    expect(asking.blocked).toBe('Read which files have no other copy, then tick the box.');
    expect(asking.findings.find(({ code }) => code === 'undo-last')!.message).toContain('two.wav has no other whole copy');
    // Read and confirmed for one; the other became the last meanwhile.
    const confirmed = await plan(true);
    unlinkSync(join(small.source.root, 'one.wav'));
    await small.stocktake(small.source.id);
    const { rows } = await go(small, confirmed);
    expect([existsSync(out('Sealed/data/media/sound/one.wav')), existsSync(out('Sealed/data/media/sound/two.wav'))]).toEqual([true, false]);
    expect(rows.find(({ step }) => step.from?.path.endsWith('one.wav'))!.outcome!.checked).toContain('it is the last whole copy that is plugged in');
  });

  it('takes no crate that is locked or was handed over, asks for what another house reads, and counts one file on two shelves once', async () => {
    const id = await makeCrate(await bringSounds(small, 'one.wav'));
    const plan = () => small.plan({ kind: 'undo', settings: { runId: id, confirmed: false } });
    const { crates: own } = small.house.catalogue;
    const crateId = own.ofRun(id)!.id;
    own.lock(crateId, '2999-12-31', 'somebody');
    expect((await plan()).blocked).toBe('The crate Sealed is locked until 2999-12-31.');
    own.lock(crateId, '2020-01-01', 'somebody');
    // Read while it was free, locked while its run waited.
    const waiting = await plan();
    own.lock(crateId, '2999-12-31', 'somebody');
    const late = await go(small, waiting);
    expect([late.run.state, existsSync(out('Sealed/data/media/sound/one.wav'))]).toEqual(['failed', true]);
    own.lock(crateId, '2020-01-01', 'somebody');
    expect((await plan()).blocked).toBeNull();
    own.accept(crateId, '2026-11-30T10:00:00.000Z', 'somebody');
    expect((await plan()).blocked).toBe('The crate Sealed was handed over on 2026-11-30.');
    own.accept(crateId, null, 'somebody');
    writeHouseNote(small.vault.root, { house: 'feedbeef', name: 'EDIT-2', at: '2026-12-01T00:00:00.000Z', reads: ['Sealed/data/media/sound'] });
    const asking = await plan();
    expect([asking.blocked, asking.findings.some(({ code, message }) => code === 'undo-elsewhere' && message.includes('EDIT-2'))]).toEqual([
      'Read who uses these files, then tick the box.',
      true,
    ]);
    await small.stocktake(small.vault.id);
    expect((await undo(small, id)).run.state).toBe('done');
    expect(existsSync(out('Sealed'))).toBe(false);
  });

  it('of a cut whose source is gone asks; what is on an unplugged drive is no copy that could be read', async () => {
    const timelineId = await bringSounds(small, 'one.wav');
    const pulled = await go(small, await small.plan({ kind: 'pull', settings: pullSettings(small, timelineId, { media: 'parts' }) }));
    const plan = () => small.plan({ kind: 'undo', settings: { runId: pulled.id } });
    expect((await plan()).findings.some(({ code }) => code === 'undo-last')).toBe(false);
    renameSync(join(small.source.root, '.mill-shelf.json'), join(small.source.root, 'away.json'));
    expect((await plan()).findings.find(({ code }) => code === 'undo-last')!.message).toContain('what it was made from is not there either');
  });
});

it('of two that make a crate under one name at once, one gets the folder; the other is told and writes nothing', async () => {
  const timelineId = await bringSounds(small, 'one.wav');
  const [a, b] = [await planCrate(timelineId), await planCrate(timelineId, { note: 'another' })];
  const { catalogue, mounts } = small.house;
  const enter = (plan: typeof a) =>
    enterRun(catalogue, plan, { digest: null, actor: 'somebody' }, (id) => claimFolder(claimOf(plan)!, id, { catalogue, mounts }));
  const first = enter(a);
  const runs = catalogue.runs.unfinished().length;
  expect(() => enter(b)).toThrow('A folder "Sealed" was made there meanwhile');
  expect(catalogue.runs.unfinished().length).toBe(runs);
  small.house.runner.begin(first);
  expect((await small.house.runner.finished(first)).state).toBe('done');
  expect((await undo(small, first)).run.state).toBe('done');
  expect(existsSync(out('Sealed'))).toBe(false);
});

describe('a catalogue', () => {
  it('that is a copy holds the runs that were going on, and bears a name of its own; one that only starts again does not', async () => {
    writeFileSync(join(small.source.root, 'one.wav'), wavBytes(48_000));
    const id = small.house.catalogue.runs.add(planOf(small, [copyStep(small, 'one.wav')]), new Date().toISOString(), null, new Map());
    const before = small.house.catalogue.id;
    await small.house.close();
    cpSync(join(small.folder, 'data'), join(small.folder, 'elsewhere/data'), { recursive: true });
    const copy = openHouse(join(small.folder, 'elsewhere'));
    try {
      expect(copy.copiedFrom).toBe('in another folder');
      copy.runner.recover(copy.copiedFrom);
      expect([copy.catalogue.runs.get(id)!.state, copy.runner.progress(id)!.trouble, copy.catalogue.id === before]).toEqual([
        'paused',
        expect.stringContaining('it is a copy or was restored'),
        false,
      ]);
      expect(existsSync(out('one.wav'))).toBe(false);
    } finally {
      await copy.close();
    }
    const again = openHouse(small.folder);
    expect([again.copiedFrom, again.catalogue.id]).toEqual([null, before]);
    await again.close();
    const base = { machine: 'a', folder: '/d', file: '1:2', at: '' };
    expect([
      movedSince(base, { ...base, file: '9:2' }),
      movedSince(base, { ...base, file: '1:3' }) !== null,
      movedSince(base, { ...base, machine: 'b' }),
    ]).toEqual([null, true, 'on another machine']);
  });
});

it('how many drives hold a verified copy of every file is told, also without a crate', async () => {
  const timelineId = await bringSounds(small, 'one.wav', 'two.wav');
  expect((await overview()).copies).toEqual({ files: 2, twice: 0, once: 2, leastDrives: 1 });
  await makeCrate(timelineId);
  const { copies, lastCrate } = await overview();
  // Both shelves of the test are folders of one disk.
  expect([copies.files, copies.twice, lastCrate!.sharesDrive]).toEqual([2, 0, 'VAULT']);
});

it('a file system that tells no size is unknown, and is written to', () => {
  expect(spaceOf({ blocks: 0, bavail: 0, bsize: 4096 })).toEqual({ capacityBytes: null, freeBytes: null });
  expect(spaceOf({ blocks: 100, bavail: 0, bsize: 4096 })).toEqual({ capacityBytes: 409_600, freeBytes: 0 });
});

it('a sort that moves what another house reads says so; a copy does not', async () => {
  await bringSounds(small, 'one.wav');
  writeHouseNote(small.source.root, { house: 'feedbeef', name: 'EDIT-2', at: '2026-12-01T00:00:00.000Z', reads: [''] });
  const scope = { of: 'project' as const };
  const codes = async (action: 'move' | 'copy') =>
    (await small.plan({ kind: 'sort', settings: sortSettings(small.vault.id, { scope, action }) })).findings.map(({ code }) => code);
  expect([(await codes('move')).includes('read-elsewhere'), (await codes('copy')).includes('read-elsewhere')]).toEqual([true, false]);
});

it('notes of houses: each its own, what cannot be read is none, many folders become few that still hold them all', () => {
  const root = small.vault.root;
  writeFileSync(join(root, '.mill-shelf-house-bad.json'), '{"house": 1');
  writeHouseNote(root, { house: 'aaaa', name: 'A', at: '2026-12-01T00:00:00Z', reads: ['x/y'] });
  writeHouseNote(root, { house: 'bbbb', name: 'B', at: '2026-12-01T00:00:00Z', reads: ['z'] });
  expect(otherHouses(root, 'bbbb').map(({ name }) => name)).toEqual(['A']);
  writeHouseNote(root, { house: 'aaaa', name: 'A', at: '2026-12-02T00:00:00Z', reads: [] });
  expect(otherHouses(root, 'bbbb')).toEqual([]);
  fc.assert(
    fc.property(
      fc.array(
        fc.array(fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f', 'g', 'h', 'i'), { maxLength: 5 }).map((names) => names.join('/')),
        { maxLength: 1500 },
      ),
      (folders) => {
        const few = fewFolders(folders);
        expect(few.length).toBeLessThanOrEqual(500);
        for (const folder of folders) expect(readsIn({ house: '', name: '', at: '', reads: few }, folder)).toBe(true);
      },
    ),
    { numRuns: 30 },
  );
});
