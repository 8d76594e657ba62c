/** Shelves and stocktakes: clones, drives that go away in the middle, closed folders, lists that are old, doors that are narrowed. */
import { execFileSync, spawnSync } from 'node:child_process';
import {
  chmodSync,
  chownSync,
  copyFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  symlinkSync,
  truncateSync,
  unlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { readMarker } from '../../../src/server/stock/marker';
import { Mounts } from '../../../src/server/stock/mounts';
import { ConflictingShelf, registerShelf } from '../../../src/server/stock/register-shelf';
import { newStocktaking, takeStock } from '../../../src/server/stock/stocktake';
import { removeShelf, takeStockOf } from '../../../src/server/usecases/shelves';
import { THIS_MACHINE } from '../../../src/server/runs/actor';
import { walkShelf } from '../../../src/server/stock/walk';
import type { RelinkDetail } from '../../../src/core/planning/relink/relink';
import { makePlan } from '../../../src/server/kinds/make-plan';
import { makeHouse, openHouse, type SmallHouse } from '../../helpers/small-house';
import { alterInSecret, copyStep, cutOf, cutOfSequence, cutTimeline, endOf, filesBelow, makeFrames, planOf, sparse, states, untilMoved, wavBytes } from '../../helpers/trust-house'; // prettier-ignore

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

const at = (name: string) => join(small.source.root, name);
const itemPaths = () => small.house.catalogue.items.onShelf(small.source.id).map((item) => item.place.path);
const away = () => join(small.folder, '..', `away-${process.pid}-${Math.random().toString(36).slice(2)}`);

describe('a clone of a shelf', () => {
  const clone = () => {
    const path = join(small.folder, 'CLONE');
    execFileSync('cp', ['-a', small.vault.root, path]);
    return path;
  };

  it('does not take over while the original stands, whatever else is unplugged', () => {
    const { mounts } = small.house;
    const copy = clone();
    rmSync(small.source.root, { recursive: true });
    mounts.lookAgain();
    expect(mounts.rootOf(small.source.id)).toBeNull();
    expect(mounts.rootOf(small.vault.id)).toBe(small.vault.root);
    expect(mounts.copiesOf(small.vault.id)).toEqual([copy]);
  });

  it('half of a run does not go to it when the original is pulled out in the middle', async () => {
    const { runner, mounts } = small.house;
    for (const name of ['a.bin', 'b.bin', 'c.bin']) sparse(at(name), name === 'a.bin' ? 300_000_000 : 1000);
    const copy = clone();
    const id = runner.submit(planOf(small, ['a.bin', 'b.bin', 'c.bin'].map((name, phase) => copyStep(small, name, name, phase)))); // prettier-ignore
    await untilMoved(small, id, 4_000_000);
    rmSync(small.vault.root, { recursive: true });
    mounts.lookAgain();
    const { run, rows } = await endOf(small, id);
    expect(run.state).toBe('failed');
    expect(rows.map((row) => row.state)).toEqual(['failed', 'failed', 'failed']);
    expect(filesBelow(copy)).toEqual([]);
    expect(rows[1]!.message).toContain('not where it was when this run began');
  });

  it('of a shelf that is away is not chosen between two: neither is used until the user says which is the copy', () => {
    const { catalogue, mounts } = small.house;
    const copy = clone();
    const second = join(small.folder, 'CLONE-2');
    renameSync(small.vault.root, second);
    mounts.lookAgain();
    expect(mounts.rootOf(small.vault.id)).toBeNull();
    expect(mounts.copiesOf(small.vault.id).sort()).toEqual([copy, second]);
    expect(() => registerShelf(catalogue, mounts, copy)).toThrow('which is the copy cannot be told');
    const own = registerShelf(catalogue, mounts, copy, undefined, true);
    expect(own.id).not.toBe(small.vault.id);
    mounts.lookAgain();
    expect(mounts.rootOf(small.vault.id)).toBe(second);
    expect(mounts.copiesOf(small.vault.id)).toEqual([]);
  });

  it('is refused as the shelf it was copied from, and becomes one of its own when asked to', async () => {
    const { catalogue, mounts } = small.house;
    writeFileSync(join(small.vault.root, 'a.txt'), 'x');
    await small.stocktake(small.vault.id);
    const copy = clone();
    unlinkSync(join(copy, 'a.txt'));
    expect(() => registerShelf(catalogue, mounts, copy)).toThrow(ConflictingShelf);
    expect(mounts.rootOf(small.vault.id)).toBe(small.vault.root);
    const own = registerShelf(catalogue, mounts, copy, undefined, true);
    expect(own).toMatchObject({ name: 'VAULT copy' });
    expect(readMarker(copy)!.id).toBe(own.id);
    await small.stocktake(small.vault.id);
    expect(catalogue.items.onShelf(small.vault.id)).toHaveLength(1);
  });
});

const standing = () => {
  const { id: shelfId, root } = small.source;
  return { shelfId, root, stands: () => readMarker(root)?.id === shelfId };
};

describe('a stocktake', () => {
  it('whose drive goes away ends as interrupted and spoils nothing', async () => {
    for (let index = 0; index < 40; index++) writeFileSync(at(`s${index}.wav`), wavBytes(4800, [], index));
    const progress = newStocktaking();
    const place = away();
    let done = 0;
    await takeStock(small.house.catalogue, standing(), progress, () => {
      if (++done === 6) renameSync(small.source.root, place);
    }, new AbortController().signal); // prettier-ignore
    renameSync(place, small.source.root);
    expect(progress).toMatchObject({ state: 'interrupted', goneFiles: 0 });
    const read = small.house.catalogue.items.onShelf(small.source.id);
    expect(read.filter((item) => item.problem !== null || item.fingerprint === null)).toEqual([]);
    expect(await small.stocktake(small.source.id)).toMatchObject({ state: 'done', files: 40, problems: 0 });
    expect(itemPaths()).toHaveLength(40);
  });

  it('reads again what had a problem, and what was altered in secret', async () => {
    writeFileSync(at('a.wav'), wavBytes(4800));
    writeFileSync(at('b.wav'), Buffer.alloc(9644, 7));
    await small.stocktake(small.source.id);
    const before = small.house.catalogue.items.at({ shelfId: small.source.id, path: 'b.wav' })!;
    expect(before.problem).not.toBeNull();
    alterInSecret(at('b.wav'), 0, wavBytes(4800).toString('latin1'));
    writeFileSync(at('b.wav'), wavBytes(4800, [], 3));
    execFileSync('touch', ['-d', `@${before.modifiedMs / 1000}`, at('b.wav')]);
    await small.stocktake(small.source.id);
    expect(small.house.catalogue.items.at({ shelfId: small.source.id, path: 'b.wav' })!.problem).toBeNull();
    const old = small.house.catalogue.items.at({ shelfId: small.source.id, path: 'a.wav' })!;
    alterInSecret(at('a.wav'), 5000);
    await small.stocktake(small.source.id);
    expect(small.house.catalogue.items.at({ shelfId: small.source.id, path: 'a.wav' })!.fingerprint).not.toBe(old.fingerprint);
  });

  it('that began before a run made files does not take them for gone', async () => {
    for (let index = 0; index < 20; index++) writeFileSync(at(`s${index}.wav`), wavBytes(4800, [], index));
    const progress = newStocktaking();
    let told = 0;
    await takeStock(small.house.catalogue, standing(), progress, () => {
      if (++told !== 4) return;
      copyFileSync(at('s0.wav'), at('late.wav'));
      const known = small.house.catalogue.items.at({ shelfId: small.source.id, path: 's0.wav' }) ?? small.house.catalogue.items.onShelf(small.source.id)[0]!;
      small.house.catalogue.items.put({ ...known, id: 'late', place: { shelfId: small.source.id, path: 'late.wav' } });
    }, new AbortController().signal); // prettier-ignore
    expect(progress).toMatchObject({ state: 'done', goneFiles: 0 });
    expect(itemPaths()).toContain('late.wav');
  });

  it('takes nothing below a closed folder for gone, and names the folder', async () => {
    mkdirSync(at('open/closed/deep'), { recursive: true });
    for (const path of ['open/a.wav', 'open/closed/b.wav', 'open/closed/deep/c.wav']) writeFileSync(at(path), wavBytes(480));
    await small.stocktake(small.source.id);
    unlinkSync(at('open/a.wav'));
    chmodSync(at('open/closed'), 0);
    const progress = newStocktaking();
    const asRoot = process.geteuid?.() === 0;
    // Rights hold for everyone but root: the walk is made as nobody.
    if (asRoot) {
      execFileSync('chmod', ['-R', 'a+rX', small.folder]);
      chmodSync(at('open/closed'), 0);
      execFileSync('chown', ['-R', '65534', small.source.root]);
      chownSync(at('open/closed'), 0, 0);
      process.seteuid!(65534);
    }
    try {
      await takeStock(small.house.catalogue, standing(), progress, () => undefined, new AbortController().signal);
    } finally {
      if (asRoot) process.seteuid!(0);
      chmodSync(at('open/closed'), 0o755);
    }
    expect(progress).toMatchObject({ state: 'done', goneFiles: 1 });
    expect(progress.message).toContain('open/closed');
    expect(itemPaths()).toEqual(['open/closed/b.wav', 'open/closed/deep/c.wav']);
  });

  it('a shelf taken off the list in its middle ends it; added again, all links are back', async () => {
    for (let index = 0; index < 30; index++) writeFileSync(at(`s${index}.wav`), wavBytes(4800, [], index));
    await small.stocktake(small.source.id);
    small.bring(cutTimeline('Cut', [cutOf('s1.wav', 0, 10)], 'Audio'));
    expect(Object.values(await states(small))).toEqual(['present']);
    const { house } = small;
    execFileSync('touch', [...Array.from({ length: 30 }, (_, index) => at(`s${index}.wav`))]);
    const run = await takeStockOf(house, THIS_MACHINE, { id: small.source.id, name: 'FOUNDRY-A' });
    await removeShelf(house, THIS_MACHINE, { shelfId: small.source.id });
    expect(house.catalogue.runs.get(run)!.state).toBe('cancelled');
    expect(house.catalogue.shelves.get(small.source.id)).toBeNull();
    expect(house.catalogue.items.linkedBy(small.projectId)).toEqual([]);
    expect(Object.values(await states(small))).toEqual(['unplugged']);
    registerShelf(house.catalogue, house.mounts, small.source.root);
    await small.stocktake(small.source.id);
    expect(await states(small)).toEqual({ 's1.wav s1.wav': 'present' });
  });
});

describe('two versions of a sequence with one slate', () => {
  it('do not prove each other, whichever frame differs; the very same one does', async () => {
    mkdirSync(at('v1'));
    await makeFrames(at('v1'), 'pour.', 1001, 12);
    await small.stocktake(small.source.id);
    small.bring(cutTimeline('Pour', [cutOfSequence('v1', 'pour.', 1001, 12, 0, 12)]));
    const original = join(small.folder, 'original');
    renameSync(at('v1'), original);
    const match = async () => {
      await small.stocktake(small.source.id);
      const { catalogue, mounts } = small.house;
      const plan = await makePlan(catalogue, mounts, small.projectId, { kind: 'relink', settings: { scope: null, choices: {} } });
      return (plan.detail as RelinkDetail).groups[0]?.rows[0];
    };
    for (const frame of [1001, 1006, 1012]) {
      execFileSync('cp', ['-a', original, at('v2')]);
      alterInSecret(at(`v2/pour.${frame}.dpx`), 5000);
      const row = await match();
      expect([row?.chosen, row?.matches.map((entry) => entry.strength)], String(frame)).toEqual([null, ['offered']]);
      rmSync(at('v2'), { recursive: true });
    }
    execFileSync('cp', ['-a', original, at('moved')]);
    // Every byte of frames as small as these is known: they are read where they stand now, and told as moved.
    const moved = await match();
    expect([moved?.state, moved?.chosen, Object.values(await states(small))]).toEqual(['present', null, ['present']]);
  });

  it('one too long to sample every frame of agrees, no more', async () => {
    mkdirSync(at('long'));
    for (let number = 1; number <= 1001; number++) writeFileSync(at(`long/f.${String(number).padStart(4, '0')}.dpx`), `frame ${number}`);
    const { files } = await walkShelf(small.source.root);
    const { fingerprintSequence } = await import('../../../src/server/stock/fingerprint-file');
    expect(await fingerprintSequence(files[0]!.file, files[0]!.sequence!, files[0]!.frames!)).toMatch(/^some-frames2:/);
  });
});

describe('what a shelf may reach', () => {
  it('ends where the roots end: for a shelf known from wider days, and for one that became a link', () => {
    const { config } = small.house;
    const narrowed = new Mounts(join(config.dataFolder, 'mounts.json'), [small.vault.root], null);
    expect(narrowed.rootOf(small.vault.id)).toBe(small.vault.root);
    expect(narrowed.rootOf(small.source.id)).toBeNull();
    expect(() => narrowed.resolve({ shelfId: small.source.id, path: 'a' })).toThrow('not plugged in');
    const outside = mkdtempSync(join(tmpdir(), 'mill-outside-'));
    execFileSync('cp', ['-a', `${small.source.root}/.`, outside]);
    rmSync(small.source.root, { recursive: true });
    symlinkSync(outside, small.source.root);
    small.house.mounts.lookAgain();
    expect(small.house.mounts.rootOf(small.source.id)).toBeNull();
    rmSync(outside, { recursive: true });
  });

  it('a folder whose name begins with two dots is inside', () => {
    mkdirSync(at('..notes'));
    expect(small.house.mounts.resolve({ shelfId: small.source.id, path: '..notes' })).toBe(at('..notes'));
  });
});

describe('the data folder', () => {
  const server = (folder: string, ...more: string[]) =>
    spawnSync(
      process.execPath,
      [resolve('dist/main.mjs'), '--data', join(folder, 'data'), '--roots', folder, '--port', '0', '--watch', 'off', ...more],
      {
        encoding: 'utf8',
        timeout: 20_000,
      },
    );

  it('has one instance: a second start says who holds it; after a crash the next start simply begins', () => {
    const second = server(small.folder);
    expect(second.status).toBe(5);
    expect(second.stderr).toContain(`is running on ${join(small.folder, 'data')} already (process ${process.pid}`);
    expect(() => openHouse(small.folder)).toThrow('already');
  });

  it.each(['', '{"a":', '[]', 'null'])('with a mounts.json that holds %j starts, sets it aside and finds the shelves again', async (text) => {
    await small.house.close();
    writeFileSync(join(small.folder, 'data/mounts.json'), text);
    const again = openHouse(small.folder);
    try {
      expect(again.mounts.rootOf(small.source.id)).toBe(small.source.root);
      expect(readdirSync(join(small.folder, 'data')).some((name) => name.startsWith('mounts.json.broken-'))).toBe(true);
      expect(JSON.parse(readFileSync(join(small.folder, 'data/mounts.json'), 'utf8'))).toHaveProperty(small.source.id);
    } finally {
      await again.close();
      Object.assign(small, { house: { close: () => Promise.resolve() } });
    }
  });

  it('that is full pauses a run with a word, and the run goes on when there is room', async () => {
    const disk = join(tmpdir(), `mill-data-${process.pid}`);
    mkdirSync(disk);
    const mounted = process.geteuid?.() === 0 && spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=5m', 'tmpfs', disk]).status === 0;
    if (!mounted) return void rmSync(disk, { recursive: true });
    mkdirSync(join(disk, 'data'));
    const house = new (await import('../../../src/server/house')).House({ ...small.house.config, dataFolder: join(disk, 'data') });
    try {
      for (const root of [small.source.root, small.vault.root]) registerShelf(house.catalogue, house.mounts, root);
      house.catalogue.projects.add({ id: small.projectId, name: 'Test', rate: { num: 25, den: 1 }, dropFrame: false, createdAt: '' });
      const names = Array.from({ length: 60 }, (_, index) => `f${index}.bin`);
      for (const name of names) sparse(at(name), 1000);
      sparse(at('big.bin'), 200_000_000);
      const id = house.runner.submit(
        planOf(
          small,
          ['big.bin', ...names].map((name, index) => copyStep(small, name, name, index)),
        ),
      );
      while ((house.runner.progress(id)?.bytes ?? 0) < 1_000_000) await wait(5);
      const filler = join(disk, 'filler');
      spawnSync('dd', ['if=/dev/zero', `of=${filler}`, 'bs=64k', 'count=100'], { stdio: 'ignore' });
      for (let tries = 0; house.runner.progress(id)?.trouble === null; tries++) {
        if (tries > 2000) throw new Error('the run never met the full disk');
        await wait(10);
      }
      expect(house.runner.progress(id)!.trouble).toContain('Make room there');
      // Everything else still answers.
      expect(house.catalogue.runs.get(id)!.state).toBe('running');
      truncateSync(filler, 0);
      unlinkSync(filler);
      expect((await house.runner.finished(id)).state).toBe('done');
      expect(filesBelow(small.vault.root)).toHaveLength(61);
    } finally {
      await house.close();
      execFileSync('umount', [disk]);
      rmSync(disk, { recursive: true, force: true });
    }
  });

  it('half-made files of two catalogues on one shelf have names of their own', async () => {
    const other = openHouse(mkdtempSync(join(tmpdir(), 'mill-other-')));
    expect(other.catalogue.id).not.toBe(small.house.catalogue.id);
    await other.close();
    expect(existsSync(join(small.folder, 'data/running.lock'))).toBe(true);
  });
});
