/** The runner on real files and folders: crash, cancel, full disk, a shelf that goes away, nothing overwritten. */
import { execFileSync, spawn } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, renameSync, rmSync, statSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { fdir } from 'fdir';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { CopyStep, Step } from '../../src/core/planning/plan/step';
import { House } from '../../src/server/house';
import { DriveBay } from '../../src/server/devices/drive-bay';
import { registerShelf } from '../../src/server/stock/register-shelf';
import { makeHouse, openHouse, type SmallHouse } from '../helpers/small-house';
import { heldNow, planOf as planFor } from '../helpers/trust-house';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

function copyStep(name: string, toShelf: string, to: string): CopyStep {
  const mustHold = heldNow(join(small.source.root, name));
  const from = { shelfId: small.source.id, path: name };
  return {
    action: 'copy',
    phase: 0,
    from,
    to: { shelfId: toShelf, path: to },
    expectedBytes: mustHold.sizeBytes,
    bytesExact: true,
    reason: 'test',
    mustHold,
  };
}

const planOf = (steps: Step[]) => planFor(small, steps);

const sparse = (name: string, bytes: number) => {
  writeFileSync(join(small.source.root, name), name);
  truncateSync(join(small.source.root, name), bytes);
};
const partsBelow = (folder: string) => new fdir().withBasePath().crawl(folder).sync().filter((path) => path.endsWith('.mill-part')); // prettier-ignore
const run = async (steps: Step[]) => {
  const { runner, catalogue } = small.house;
  const done = await runner.finished(runner.submit(planOf(steps)));
  return { done, rows: catalogue.runs.steps(done.id) };
};

describe('a run', () => {
  it('copies, journals checksums that sha256sum confirms, and keeps times', async () => {
    sparse('a.bin', 9_000_001);
    const { done, rows } = await run([copyStep('a.bin', small.vault.id, 'deep/er/a.bin')]);
    expect(done.state).toBe('done');
    const copy = join(small.vault.root, 'deep/er/a.bin');
    expect(rows[0]!.outcome!.sha256).toBe(execFileSync('sha256sum', [copy], { encoding: 'utf8' }).slice(0, 64));
    expect(Math.floor(statSync(copy).mtimeMs)).toBe(Math.floor(statSync(join(small.source.root, 'a.bin')).mtimeMs));
    expect(partsBelow(small.vault.root)).toEqual([]);
  });

  it('never overwrites, and goes on with the rest', async () => {
    sparse('a.bin', 1000);
    sparse('b.bin', 1000);
    writeFileSync(join(small.vault.root, 'a.bin'), 'mine');
    const { done, rows } = await run([copyStep('a.bin', small.vault.id, 'a.bin'), copyStep('b.bin', small.vault.id, 'b.bin')]);
    expect([done.state, rows[0]!.state, rows[1]!.state]).toEqual(['failed', 'failed', 'done']);
    expect(rows[0]!.message).toContain('Nothing is overwritten');
    expect(readFileSync(join(small.vault.root, 'a.bin'), 'utf8')).toBe('mine');
  });

  it('refuses a source that was changed after the plan was made', async () => {
    sparse('a.bin', 1000);
    const step = copyStep('a.bin', small.vault.id, 'a.bin');
    sparse('a.bin', 1001);
    const { rows } = await run([step]);
    expect(rows[0]).toMatchObject({ state: 'failed' });
    expect(rows[0]!.message).toContain('changed after the plan was made');
    expect(existsSync(join(small.vault.root, 'a.bin'))).toBe(false);
  });

  it('will not follow a path or a link out of the shelf', async () => {
    sparse('a.bin', 1000);
    execFileSync('ln', ['-s', small.folder, join(small.vault.root, 'out')]);
    const { rows } = await run([copyStep('a.bin', small.vault.id, '../escaped.bin'), copyStep('a.bin', small.vault.id, 'out/escaped.bin')]);
    expect(rows.map((row) => row.state)).toEqual(['failed', 'failed']);
    expect(existsSync(join(small.folder, 'escaped.bin'))).toBe(false);
  });

  it('can be cancelled in the middle of a file, and resumed', async () => {
    sparse('big.bin', 1_500_000_000);
    const { runner, catalogue } = small.house;
    const id = runner.submit(planOf([copyStep('big.bin', small.vault.id, 'big.bin')]));
    while ((runner.progress(id)?.bytes ?? 0) < 20_000_000) await wait(10);
    expect(runner.cancel(id)).toBe(true);
    expect((await runner.finished(id)).state).toBe('cancelled');
    expect(readdirSync(small.vault.root)).toEqual(['.mill-shelf.json']);
    truncateSync(join(small.source.root, 'big.bin'), 1_500_000_000);
    expect(catalogue.runs.steps(id)[0]!.state).toBe('cancelled');
    expect(runner.resume(id)).toBe(true);
    await runner.finished(id);
    // Touching the source made it another file: the precondition holds the copy back.
    expect(catalogue.runs.steps(id)[0]!.message).toContain('changed after the plan was made');
  });

  it('pauses and goes on', async () => {
    sparse('big.bin', 250_000_000);
    const { runner } = small.house;
    const id = runner.submit(planOf([copyStep('big.bin', small.vault.id, 'big.bin')]));
    while ((runner.progress(id)?.bytes ?? 0) < 8_000_000) await wait(5);
    expect(runner.pause(id)).toBe(true);
    await wait(150);
    const [before] = [runner.progress(id)!.bytes];
    await wait(300);
    expect(runner.progress(id)!.bytes).toBe(before);
    expect(runner.resume(id)).toBe(true);
    expect((await runner.finished(id)).state).toBe('done');
  });

  it('says so when the shelf goes away in its middle, leaves the rest alone, and resumes when it is back', async () => {
    sparse('a.bin', 200_000_000);
    sparse('b.bin', 1000);
    const { runner, catalogue } = small.house;
    const id = runner.submit(planOf([copyStep('a.bin', small.vault.id, 'a.bin'), copyStep('b.bin', small.vault.id, 'b.bin')]));
    while ((runner.progress(id)?.bytes ?? 0) < 4_000_000) await wait(5);
    const away = join(small.folder, '..', `away-${id}-${process.pid}`);
    renameSync(small.vault.root, away);
    expect((await runner.finished(id)).state).toBe('failed');
    const messages = catalogue.runs.steps(id).map((row) => row.message);
    expect(messages[1]).toContain('not plugged in');
    expect(messages[0]).toMatch(/Plug it in/);
    renameSync(away, small.vault.root);
    small.house.mounts.lookAgain();
    expect(runner.resume(id)).toBe(true);
    expect((await runner.finished(id)).state).toBe('done');
    expect(partsBelow(small.vault.root)).toEqual([]);
  });
});

describe('a full destination', () => {
  const mount = join(tmpdir(), `mill-full-${process.pid}`);
  const isRoot = process.getuid?.() === 0;

  it('fails the file that does not fit with a next step, and leaves nothing half-made', async () => {
    mkdirSync(mount, { recursive: true });
    const mounted = isRoot && tryRun('mount', ['-t', 'tmpfs', '-o', 'size=8m', 'tmpfs', mount]);
    const bay = new DriveBay(join(small.folder, 'bay'));
    // Without the right to mount, the simulated drive stands in: it has a capacity of its own.
    const root = mounted ? mount : bay.add({ name: 'TINY', capacityBytes: 8_000_000 });
    const house = new House({
      dataFolder: join(small.folder, 'data2'),
      roots: [small.folder, mount],
      host: '127.0.0.1',
      names: [],
      checkOnly: false,
      logLevel: 'silent',
      port: 0,
      bayFolder: join(small.folder, 'bay'),
      watch: false,
    });
    try {
      const tiny = registerShelf(house.catalogue, house.mounts, root, 'TINY');
      const source = registerShelf(house.catalogue, house.mounts, small.source.root);
      house.catalogue.projects.add({ id: small.projectId, name: 'Test', rate: { num: 25, den: 1 }, dropFrame: false, createdAt: '' });
      sparse('large.bin', 20_000_000);
      sparse('small.bin', 1_000_000);
      const steps = ['large.bin', 'small.bin'].map((name) => ({ ...copyStep(name, tiny.id, name), from: { shelfId: source.id, path: name } }));
      // The estimate was too low: the disk itself says no, in the middle of the file.
      const id = house.runner.submit(planOf([{ ...steps[0]!, expectedBytes: 10 }, steps[1]!]));
      const done = await house.runner.finished(id);
      const rows = house.catalogue.runs.steps(id);
      if (mounted) {
        expect(done.state).toBe('failed');
        expect(rows[0]!.message).toContain('is full');
        expect(readdirSync(root).sort()).toEqual(['.mill-shelf.json', 'small.bin']);
      }
      expect(rows[1]!.state).toBe('done');
      // A step that is known not to fit is not begun.
      const again = await house.runner.finished(house.runner.submit(planOf([{ ...steps[0]!, to: { shelfId: tiny.id, path: 'again.bin' } }])));
      expect(house.catalogue.runs.steps(again.id)[0]!.message).toContain('is full');
    } finally {
      await house.close();
      if (mounted) execFileSync('umount', [mount]);
      rmSync(mount, { recursive: true, force: true });
    }
  });
});

function tryRun(command: string, args: string[]): boolean {
  try {
    execFileSync(command, args, { stdio: 'ignore' });
    return true;
  } catch {
    return false;
  }
}

describe('kill -9', () => {
  it('is survived: finished steps are not done again, half-made files go, the run carries on', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'mill-crash-'));
    const house = openHouse(folder);
    const shelves = ['SRC', 'DST'].map((name) => {
      mkdirSync(join(folder, name));
      return registerShelf(house.catalogue, house.mounts, join(folder, name));
    });
    house.catalogue.projects.add({ id: small.projectId, name: 'Test', rate: { num: 25, den: 1 }, dropFrame: false, createdAt: '' });
    const steps = ['first.bin', 'second.bin', 'third.bin'].map((name, index): CopyStep => {
      const path = join(folder, 'SRC', name);
      writeFileSync(path, name);
      truncateSync(path, index === 1 ? 600_000_000 : 1000);
      const mustHold = heldNow(path);
      const base = {
        expectedBytes: mustHold.sizeBytes,
        bytesExact: true,
        reason: 'test',
        mustHold,
      };
      return { action: 'copy', phase: index, from: { shelfId: shelves[0]!.id, path: name }, to: { shelfId: shelves[1]!.id, path: name }, ...base };
    });
    const id = house.catalogue.runs.add(planOf(steps), new Date().toISOString());
    const catalogueId = house.catalogue.id;
    await house.close();

    const server = () =>
      spawn(process.execPath, [resolve('dist/main.mjs'), '--data', join(folder, 'data'), '--roots', folder, '--port', '0', '--watch', 'off'], {
        stdio: ['ignore', 'pipe', 'inherit'],
      });
    const doomed = server();
    const part = join(folder, 'DST', `.${catalogueId}-run${id}-1.mill-part`);
    for (let tries = 0; !existsSync(part) || statSync(part).size < 50_000_000; tries++) {
      if (tries > 2000) throw new Error('the copy never began');
      await wait(10);
    }
    doomed.kill('SIGKILL');
    await new Promise((done) => doomed.once('exit', done));
    const firstTime = statSync(join(folder, 'DST/first.bin')).ctimeMs;
    expect(existsSync(join(folder, 'DST/second.bin'))).toBe(false);
    expect(existsSync(part)).toBe(true);

    const again = openHouse(folder);
    try {
      expect(again.catalogue.runs.steps(id).map((row) => row.state)).toEqual(['done', 'doing', 'waiting']);
      again.runner.recover();
      expect((await again.runner.finished(id)).state).toBe('done');
      expect(statSync(join(folder, 'DST/first.bin')).ctimeMs).toBe(firstTime);
      expect(readdirSync(join(folder, 'DST')).sort()).toEqual(['.mill-shelf.json', 'first.bin', 'second.bin', 'third.bin']);
    } finally {
      await again.close();
      rmSync(folder, { recursive: true, force: true });
    }
  });
});
