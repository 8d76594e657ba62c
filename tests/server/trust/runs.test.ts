/** Runs say "done", "equal" and "safe" only of what is so: sources that change, files that go, undo beside resume. */
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  appendFileSync,
  chmodSync,
  copyFileSync,
  existsSync,
  mkdirSync,
  readFileSync,
  renameSync,
  statSync,
  unlinkSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { CrateSettings } from '../../../src/core/planning/crate/settings';
import { RunRefused } from '../../../src/server/errors/explain-error';
import { identifySync } from '../../../src/server/stock/identify';
import { openDatabase } from '../../../src/server/catalogue/database';
import { makeHouse, type SmallHouse } from '../../helpers/small-house';
import {
  alterInSecret,
  bringSounds,
  copyStep,
  cutOf,
  cutTimeline,
  endOf,
  filesBelow,
  go,
  isEqual,
  planOf,
  pullSettings,
  sparse,
  states,
  undo,
  untilMoved,
  wavBytes,
} from '../../helpers/trust-house';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

const at = (name: string) => join(small.source.root, name);
const out = (name: string) => join(small.vault.root, name);

const withSounds = (...names: string[]) => bringSounds(small, ...names);

const crateSettings = (timelineId: string, own: Partial<CrateSettings> = {}): CrateSettings => {
  const { folderName: _folder, ...shared } = pullSettings(small, timelineId);
  return { ...shared, crateName: 'Sealed', note: '', ...own };
};

describe('a crate whose file failed at first', () => {
  it('says nothing of itself until it is whole; resumed, its lists name every file and find a flipped bit', async () => {
    const id = await withSounds('one.wav', 'two.wav');
    renameSync(at('two.wav'), at('two.away'));
    const first = await go(small, await small.plan({ kind: 'crate', settings: crateSettings(id) }));
    expect(first.run.state).toBe('failed');
    // No tool takes it for a bag, nothing lists half of it, no screen calls it a safe copy.
    expect(filesBelow(out('Sealed'))).toEqual(['data/media/sound/one.wav']);
    expect(small.house.catalogue.crates.ofProject(small.projectId)).toEqual([]);

    renameSync(at('two.away'), at('two.wav'));
    expect(small.house.runner.resume(first.id)).toBe(true);
    expect((await endOf(small, first.id)).run.state).toBe('done');
    const check = () => execFileSync('sha256sum', ['-c', '--quiet', 'manifest-sha256.txt'], { cwd: out('Sealed'), stdio: 'pipe' });
    check();
    execFileSync('sha256sum', ['-c', '--quiet', 'tagmanifest-sha256.txt'], { cwd: out('Sealed'), stdio: 'pipe' });
    expect(readFileSync(out('Sealed/manifest-sha256.txt'), 'utf8')).toContain('data/media/sound/two.wav');
    expect(readFileSync(out('Sealed/data/report.html'), 'utf8')).toContain('two.wav');
    expect(small.house.catalogue.crates.ofProject(small.projectId)).toMatchObject([{ files: 4 }]);
    alterInSecret(out('Sealed/data/media/sound/two.wav'), 1000);
    expect(check).toThrow();
  });

  it('that lost a finished file between cancel and resume makes it again, and one that was altered it will not bless', async () => {
    const id = await withSounds('one.wav', 'two.wav', 'three.wav');
    renameSync(at('three.wav'), at('three.away'));
    const first = await go(small, await small.plan({ kind: 'crate', settings: crateSettings(id) }));
    unlinkSync(out('Sealed/data/media/sound/one.wav'));
    alterInSecret(out('Sealed/data/media/sound/two.wav'), 500);
    renameSync(at('three.away'), at('three.wav'));
    small.house.runner.resume(first.id);
    const second = await endOf(small, first.id);
    expect(second.run.state).toBe('failed');
    expect(isEqual(out('Sealed/data/media/sound/one.wav'), at('one.wav'))).toBe(true);
    expect(second.rows.find((row) => row.step.to?.path.endsWith('two.wav'))).toMatchObject({ state: 'failed', message: expect.stringContaining('was altered') as string }); // prettier-ignore
    expect(existsSync(out('Sealed/bagit.txt'))).toBe(false);
    expect(small.house.catalogue.crates.ofProject(small.projectId)).toEqual([]);

    // Moved away, as the message says, it is made again and the crate is whole.
    unlinkSync(out('Sealed/data/media/sound/two.wav'));
    small.house.runner.resume(first.id);
    expect((await endOf(small, first.id)).run.state).toBe('done');
    execFileSync('sha256sum', ['-c', '--quiet', 'manifest-sha256.txt'], { cwd: out('Sealed'), stdio: 'pipe' });
  });

  it('rights changed or a drive moved to another is no alteration: what is equal byte for byte stays', async () => {
    const id = await withSounds('one.wav', 'two.wav');
    renameSync(at('two.wav'), at('two.away'));
    const first = await go(small, await small.plan({ kind: 'crate', settings: crateSettings(id) }));
    chmodSync(out('Sealed/data/media/sound/one.wav'), 0o600);
    renameSync(at('two.away'), at('two.wav'));
    small.house.runner.resume(first.id);
    expect((await endOf(small, first.id)).run.state).toBe('done');
  });
});

describe('a run journalled by an earlier version', () => {
  it('that entered its lists as done without a file makes them anew when it is resumed', async () => {
    const id = await withSounds('one.wav', 'two.wav');
    renameSync(at('two.wav'), at('two.away'));
    const { runs } = small.house.catalogue;
    const failed = await go(small, await small.plan({ kind: 'crate', settings: crateSettings(id) }));
    // As it was: lists written in spite of the failure, and no identity of anything.
    for (const row of failed.rows) {
      if (row.outcome) runs.update(failed.id, row.ordinal, { ...row.outcome, identity: undefined });
      if (row.state !== 'skipped' || row.step.action !== 'write') continue;
      const text = `an old list, ${row.step.to!.path}`;
      mkdirSync(join(small.vault.root, row.step.to!.path, '..'), { recursive: true });
      writeFileSync(join(small.vault.root, row.step.to!.path), text);
      const sha256 = createHash('sha256').update(text).digest('hex');
      runs.finish(failed.id, row.ordinal, { bytes: text.length, sha256, checked: 'read back' }, 'then');
    }
    renameSync(at('two.away'), at('two.wav'));
    small.house.runner.resume(failed.id);
    expect((await endOf(small, failed.id)).run.state).toBe('done');
    execFileSync('sha256sum', ['-c', '--quiet', '--strict', 'manifest-sha256.txt'], { cwd: out('Sealed'), stdio: 'pipe' });
    expect(readFileSync(out('Sealed/manifest-sha256.txt'), 'utf8')).toContain('data/media/sound/two.wav');
    expect(readFileSync(out('Sealed/bagit.txt'), 'utf8')).toContain('BagIt-Version');
  });
});

describe('undo', () => {
  it('of a second pull of the same leaves the timeline and the files of the first', async () => {
    const id = await withSounds('one.wav');
    const first = await go(small, await small.plan({ kind: 'pull', settings: pullSettings(small, id) }));
    const second = await go(small, await small.plan({ kind: 'pull', settings: pullSettings(small, id, { folderName: 'again' }) }));
    expect([first.run.state, second.run.state]).toEqual(['done', 'done']);
    // The same cut of the same sources: what it is read from makes no other timeline of it.
    const names = () => small.house.catalogue.timelines.entries(small.projectId).map((row) => row.name);
    expect(names()).toHaveLength(2);
    expect((await undo(small, second.id)).run.state).toBe('done');
    expect(names()).toHaveLength(2);
    expect(await states(small)).toEqual({ 'one.wav one.wav': 'present' });
    expect(filesBelow(small.vault.root)).toEqual(['pulled/media/sound/one.wav', 'pulled/timelines/Cut of one.wav · pulled.otio']);
  });

  it('takes the run from resume from the moment it is submitted, and gives it back when it took nothing', async () => {
    const id = await withSounds('one.wav', 'two.wav');
    renameSync(at('two.wav'), at('two.away'));
    const { runner, catalogue } = small.house;
    const failed = await go(small, await small.plan({ kind: 'pull', settings: pullSettings(small, id) }));
    const plan = await small.plan({ kind: 'undo', settings: { runId: failed.id, confirmed: true } });
    const undoing = runner.submit(plan);
    expect(() => runner.resume(failed.id)).toThrow(RunRefused);
    expect(() => runner.submit(plan)).toThrow(RunRefused);
    expect((await endOf(small, undoing)).run.state).toBe('done');
    expect(runner.resume(failed.id)).toBe(false);

    renameSync(at('two.away'), at('two.wav'));
    const whole = await go(small, await small.plan({ kind: 'pull', settings: pullSettings(small, id) }));
    const held = { ...(await small.plan({ kind: 'undo', settings: { runId: whole.id, confirmed: true } })) };
    const cancelled = runner.submit(held);
    runner.cancel(cancelled);
    if ((await endOf(small, cancelled)).rows.every((row) => row.state !== 'done')) expect(catalogue.runs.get(whole.id)!.undoingBy).toBeNull();
    sparse(at('big.bin'), 500_000_000);
    const live = runner.submit(planOf(small, [copyStep(small, 'big.bin')]));
    await expect(small.plan({ kind: 'undo', settings: { runId: live } })).rejects.toThrow('still going on');
    runner.cancel(live);
    await endOf(small, live);
  });

  it('leaves a file that was put in the place of its own, equal byte for byte; and one that a later run made there', async () => {
    sparse(at('a.bin'), 1_000_000);
    const first = await go(small, planOf(small, [copyStep(small, 'a.bin')]));
    unlinkSync(out('a.bin'));
    const second = await go(small, planOf(small, [copyStep(small, 'a.bin')]));
    expect(second.run.state).toBe('done');
    const { run, rows } = await undo(small, first.id);
    // It left all there was: that is no undo.
    expect([run.state, small.house.catalogue.runs.get(first.id)!.undoneBy]).toEqual(['failed', null]);
    expect(rows[0]!.outcome).toMatchObject({ left: true, checked: expect.stringContaining('another file was put in its place') as string });
    expect(existsSync(out('a.bin'))).toBe(true);
    expect((await undo(small, second.id)).run.state).toBe('done');
    expect(existsSync(out('a.bin'))).toBe(false);
  });

  it('asks whoever uses the files, marks them gone in the same step, and leaves folders that others made', async () => {
    mkdirSync(out('pulled/media'), { recursive: true });
    mkdirSync(out('mine'));
    const id = await withSounds('one.wav');
    const made = await go(small, await small.plan({ kind: 'crate', settings: crateSettings(id) }));
    const crate = { shelfId: small.vault.id, path: 'Sealed' };
    const opened = await go(small, await small.plan({ kind: 'restore', settings: { crate, projectName: 'Elsewhere' } }));
    expect(opened.run.state).toBe('done');
    const project = small.house.catalogue.projects.list().find((entry) => entry.name === 'Elsewhere')!;
    unlinkSync(at('one.wav'));
    await small.stocktake(small.source.id);

    const unread = await small.plan({ kind: 'undo', settings: { runId: made.id } });
    expect(unread.blocked).toContain('then tick the box');
    expect(unread.findings[0]).toMatchObject({ code: 'undo-last', message: expect.stringContaining('one.wav has no other whole copy') as string });
    expect(unread.findings[1]).toMatchObject({ code: 'undo-used', message: expect.stringContaining('1 clip of "Elsewhere"') as string });
    expect(unread.findings[1]!.message).toContain('one.wav has no other file on a drive that is plugged in');
    expect(unread.steps).toEqual([]);
    expect((await undo(small, made.id)).run.state).toBe('done');
    expect(Object.values(await states(small, project.id))).toEqual(['missing']);

    writeFileSync(at('one.wav'), wavBytes(48_000));
    await small.stocktake(small.source.id);
    const pulled = await go(small, await small.plan({ kind: 'pull', settings: pullSettings(small, id) }));
    await undo(small, pulled.id);
    // media stood there before; sound and timelines were the run's own.
    expect(existsSync(out('pulled/media'))).toBe(true);
    expect(existsSync(out('pulled/media/sound')) || existsSync(out('pulled/timelines'))).toBe(false);
    expect(existsSync(out('mine'))).toBe(true);
  });

  it('of a relink leaves a clip that was linked again since', async () => {
    // Larger than what is sampled of it: copies are not known by every byte.
    writeFileSync(at('one.wav'), wavBytes(120_000));
    await small.stocktake(small.source.id);
    const id = small.bring(cutTimeline('Cut', [cutOf('one.wav', 0, 10)], 'Audio'));
    for (const name of ['b.wav', 'c.wav']) copyFileSync(at('one.wav'), at(name));
    unlinkSync(at('one.wav'));
    await small.stocktake(small.source.id);
    const clip = small.house.catalogue.clips.ofProject(small.projectId)[0]!;
    const itemOf = (name: string) => small.house.catalogue.items.at({ shelfId: small.source.id, path: name })!;
    const relinkTo = async (name: string) => go(small, await small.plan({ kind: 'relink', settings: { scope: null, choices: { [clip.id]: itemOf(name).id } } })); // prettier-ignore
    const first = await relinkTo('b.wav');
    unlinkSync(at('b.wav'));
    await small.stocktake(small.source.id);
    await relinkTo('c.wav');
    const { rows } = await undo(small, first.id);
    expect(rows[0]!.outcome!.checked).toContain('relinked again since');
    expect(await states(small)).toEqual({ 'one.wav c.wav': 'present' });
    expect(id).toBeTruthy();
  });
});

describe('a change of the catalogue', () => {
  it('is made together with its entry in the journal, or not at all: what a crash leaves can be taken back', async () => {
    const id = await withSounds('one.wav');
    const { timelines } = small.house.catalogue;
    const plan = await small.plan({ kind: 'pull', settings: pullSettings(small, id) });
    const link = plan.steps.findIndex((step) => step.action === 'link');
    // The journal breaks just when the timelines come in, as a crash would have it.
    const file = openDatabase(join(small.folder, 'data/catalogue.sqlite'), true);
    file.exec(`CREATE TRIGGER cut_off BEFORE UPDATE ON run_steps WHEN NEW.ordinal = ${link} AND NEW.state = 'done'
      BEGIN SELECT RAISE(ABORT, 'cut off'); END`);
    const cutOff = await go(small, plan);
    file.exec('DROP TRIGGER cut_off');
    file.close();
    expect(cutOff.rows[link]!.message).toContain('cut off');
    expect([cutOff.run.state, timelines.entries(small.projectId)]).toMatchObject(['failed', { length: 1 }]);
    small.house.runner.resume(cutOff.id);
    expect((await endOf(small, cutOff.id)).run.state).toBe('done');
    expect(timelines.entries(small.projectId)).toHaveLength(2);
    await undo(small, cutOff.id);
    expect(timelines.entries(small.projectId)).toHaveLength(1);
  });
});

describe('a paused run', () => {
  it('keeps its half-made file, not its shelf: another run goes on meanwhile', async () => {
    sparse(at('big.bin'), 200_000_000);
    sparse(at('small.bin'), 1000);
    const { runner } = small.house;
    const held = [runner.submit(planOf(small, [copyStep(small, 'big.bin'), copyStep(small, 'big.bin', 'big2.bin')]))];
    await untilMoved(small, held[0]!, 8_000_000);
    runner.pause(held[0]!);
    const done = await go(small, planOf(small, [copyStep(small, 'small.bin')]));
    expect(done.run.state).toBe('done');
    runner.resume(held[0]!);
    expect((await endOf(small, held[0]!)).run.state).toBe('done');
    expect(statSync(out('big2.bin')).size).toBe(200_000_000);
  });

  it('several of them starve nobody', async () => {
    const { runner } = small.house;
    sparse(at('big.bin'), 300_000_000);
    const ids = [];
    for (let index = 0; index < 6; index++) {
      const id = runner.submit(planOf(small, [copyStep(small, 'big.bin', `copy${index}.bin`)]));
      await untilMoved(small, id, 4_000_000);
      runner.pause(id);
      ids.push(id);
    }
    sparse(at('small.bin'), 1000);
    expect((await go(small, planOf(small, [copyStep(small, 'small.bin')]))).run.state).toBe('done');
    for (const id of ids) runner.cancel(id);
    for (const id of ids) expect((await endOf(small, id)).run.state).toBe('cancelled');
    expect(filesBelow(small.vault.root)).toEqual(['small.bin']);
  });
});

describe('what an earlier try left', () => {
  const journalled = (pending: object) => {
    const { runs } = small.house.catalogue;
    const id = runs.add(planOf(small, [copyStep(small, 'a.bin')]), new Date().toISOString());
    runs.setState(id, 'running', new Date().toISOString());
    runs.begin(id, 0, new Date().toISOString());
    runs.setPending(id, 0, pending as never);
    return id;
  };
  const outcomeOf = (path: string) => ({
    bytes: statSync(path).size,
    sha256: execFileSync('sha256sum', [path], { encoding: 'utf8' }).slice(0, 64),
    checked: 'read back, SHA-256 equal',
    identity: identifySync(path),
  });

  it('a file published just before a crash, with its drive away at the restart, is known when the drive is back', async () => {
    sparse(at('a.bin'), 1_000_000);
    copyFileSync(at('a.bin'), out('a.bin'));
    const id = journalled(outcomeOf(out('a.bin')));
    const away = join(small.folder, '..', `away-${process.pid}`);
    renameSync(small.vault.root, away);
    small.house.runner.recover();
    expect((await endOf(small, id)).run.state).toBe('failed');
    renameSync(away, small.vault.root);
    small.house.mounts.lookAgain();
    small.house.runner.resume(id);
    const { run, rows } = await endOf(small, id);
    expect(run.state).toBe('done');
    expect(rows[0]!.outcome!.identity!.inode).toBe(String(statSync(out('a.bin'), { bigint: true }).ino));
    expect((await undo(small, id)).run.state).toBe('done');
    expect(filesBelow(small.vault.root)).toEqual([]);
  });

  it('an empty claim of its own is taken back; a file of somebody else’s under that name never', async () => {
    sparse(at('a.bin'), 1_000_000);
    writeFileSync(out('a.bin'), '');
    const id = journalled({ ...outcomeOf(at('a.bin')), claimed: true });
    small.house.runner.recover();
    expect((await endOf(small, id)).run.state).toBe('done');
    expect(isEqual(at('a.bin'), out('a.bin'))).toBe(true);

    unlinkSync(out('a.bin'));
    writeFileSync(out('a.bin'), 'mine');
    const other = journalled({ ...outcomeOf(at('a.bin')), claimed: true });
    small.house.runner.recover();
    expect((await endOf(small, other)).rows[0]!.message).toContain('Nothing is overwritten');
    expect(readFileSync(out('a.bin'), 'utf8')).toBe('mine');
  });

  it('folders are the run’s own only where it made them', async () => {
    sparse(at('a.bin'), 1000);
    mkdirSync(out('stood'));
    const { id } = await go(small, planOf(small, [copyStep(small, 'a.bin', 'stood/new/deep/a.bin')]));
    expect(small.house.catalogue.runs.folders(id).map((folder) => folder.path)).toEqual(['stood/new/deep', 'stood/new']);
    appendFileSync(out('stood/new/mine.txt'), 'x');
    await undo(small, id);
    expect(filesBelow(small.vault.root)).toEqual(['stood/new/mine.txt']);
    expect(existsSync(out('stood/new/deep'))).toBe(false);
  });
});
