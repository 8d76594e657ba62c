/** Sources that change while they are read, and frames of sequences: what is copied is what the plan saw, or nothing. */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Step, WriteStep } from '../../../src/core/planning/plan/step';
import { probeFacts } from '../../../src/server/media/probe';
import { makeHouse, makeIntra, type SmallHouse } from '../../helpers/small-house';
import {
  bringSounds,
  alterInSecret,
  copyStep,
  cutOfSequence,
  cutTimeline,
  endOf,
  filesBelow,
  go,
  makeFrames,
  heldNow,
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

describe('a source that changes while it is read', () => {
  it('is thrown away when it was altered during a pause, though size and time are as they were', async () => {
    sparse(at('big.bin'), 600_000_000);
    const id = small.house.runner.submit(planOf(small, [copyStep(small, 'big.bin')]));
    await untilMoved(small, id, 8_000_000);
    small.house.runner.pause(id);
    alterInSecret(at('big.bin'), 599_000_000);
    small.house.runner.resume(id);
    const { rows } = await endOf(small, id);
    expect(rows[0]).toMatchObject({ state: 'failed', message: expect.stringContaining('changed while it was read') as string });
    expect(filesBelow(small.vault.root)).toEqual([]);
  });

  it('a WAV that is cut and a bundle that is packed are guarded alike', async () => {
    const wav = wavBytes(48_000);
    writeFileSync(at('long.wav'), wav);
    const data = 300_000_000;
    const head = Buffer.from(wav.subarray(0, 44));
    head.writeUInt32LE(data, 40);
    head.writeUInt32LE(data + 36, 4);
    writeFileSync(at('long.wav'), head);
    execFileSync('truncate', ['-s', String(44 + data), at('long.wav')]);
    const facts = await probeFacts(at('long.wav'), null);
    const mustHold = heldNow(at('long.wav'));
    const base = { phase: 0, expectedBytes: 1000, bytesExact: false, reason: 'test' };
    const from = { shelfId: small.source.id, path: 'long.wav' };
    const trim: Step = { ...base, action: 'trim', from, to: { shelfId: small.vault.id, path: 'cut.wav' }, mustHold, range: { start: 0, end: 140_000_000 }, facts }; // prettier-ignore
    const zip: WriteStep = { ...base, action: 'write', from: null, to: { shelfId: small.vault.id, path: 'all.zip' }, mustHold: null, content: { type: 'zip', entries: [{ path: 'long.wav', from, sizeBytes: mustHold.sizeBytes, mustHold }] } }; // prettier-ignore
    for (const step of [trim, zip]) {
      execFileSync('truncate', ['-s', String(44 + data), at('long.wav')]);
      const fresh = heldNow(at('long.wav'));
      const again = step === trim ? { ...trim, mustHold: fresh } : { ...zip, content: { type: 'zip' as const, entries: [{ path: 'long.wav', from, sizeBytes: fresh.sizeBytes, mustHold: fresh }] } }; // prettier-ignore
      const id = small.house.runner.submit(planOf(small, [{ ...again, expectedBytes: 400_000_000 }]));
      await untilMoved(small, id, 2_000_000);
      small.house.runner.pause(id);
      alterInSecret(at('long.wav'), 250_000_000);
      small.house.runner.resume(id);
      const { rows } = await endOf(small, id);
      expect(rows[0]!.state, step.action).toBe('failed');
      expect(rows[0]!.message, step.action).toContain('changed while it was read');
    }
    expect(filesBelow(small.vault.root)).toEqual([]);
  });

  it('a picture that is altered while it is cut', async () => {
    await makeIntra(at('long.mov'), 1500, '10:00:00:00', '25', ['-c:v', 'mjpeg', '-q:v', '5', '-pix_fmt', 'yuvj420p']);
    const mustHold = heldNow(at('long.mov'));
    const facts = await probeFacts(at('long.mov'), null);
    const trim: Step = {
      action: 'trim',
      phase: 0,
      from: { shelfId: small.source.id, path: 'long.mov' },
      to: { shelfId: small.vault.id, path: 'cut.mov' },
      expectedBytes: 1000,
      bytesExact: false,
      reason: 'test',
      mustHold,
      range: { start: 10, end: 1400 },
      facts,
    };
    const id = small.house.runner.submit(planOf(small, [trim]));
    while (!filesBelow(small.vault.root).some((path) => path.endsWith('.mill-part'))) await wait(1);
    alterInSecret(at('long.mov'), mustHold.sizeBytes - 4000);
    const { rows } = await endOf(small, id);
    expect(rows[0]).toMatchObject({ state: 'failed', message: expect.stringContaining('changed while it was read') as string });
    expect(filesBelow(small.vault.root)).toEqual([]);
  });

  it('two files that swapped names between plan and run are told, though size and times are equal', async () => {
    const id = await withSounds('one.wav', 'two.wav');
    execFileSync('touch', ['-r', at('one.wav'), at('two.wav')]);
    await small.stocktake(small.source.id);
    const plan = await small.plan({ kind: 'pull', settings: pullSettings(small, id) });
    renameSync(at('one.wav'), at('x'));
    renameSync(at('two.wav'), at('one.wav'));
    renameSync(at('x'), at('two.wav'));
    const { run, rows } = await go(small, plan);
    expect(run.state).toBe('failed');
    expect(rows[0]!.message).toContain('changed after the plan was made');
    expect(filesBelow(small.vault.root)).toEqual([]);
  });
});

describe('frames of a sequence', () => {
  async function withFrames(): Promise<string> {
    mkdirSync(at('pour'));
    await makeFrames(at('pour'), 'pour.', 1001, 20);
    await small.stocktake(small.source.id);
    return small.bring(cutTimeline('Pour', [cutOfSequence('pour', 'pour.', 1001, 20, 0, 20)]));
  }

  it('one that was replaced between plan and run fails the copy, equal in size and time or not', async () => {
    const id = await withFrames();
    const plan = await small.plan({ kind: 'pull', settings: pullSettings(small, id) });
    alterInSecret(at('pour/pour.1010.dpx'), 3000);
    const { run, rows } = await go(small, plan);
    expect(run.state).toBe('failed');
    expect(rows[0]!.message).toContain('pour.1010.dpx was changed after the plan was made');
    expect(await states(small)).toEqual({ 'pour. pour/pour.[1001-1020].dpx': 'present' });
  });

  it('restored from a backup they look the same, and are taken when their content is', async () => {
    const id = await withFrames();
    const plan = await small.plan({ kind: 'pull', settings: pullSettings(small, id) });
    execFileSync('cp', ['-a', at('pour'), at('copy')]);
    rmSync(at('pour'), { recursive: true });
    renameSync(at('copy'), at('pour'));
    expect((await go(small, plan)).run.state).toBe('done');
    expect(await small.stocktake(small.source.id)).toMatchObject({ readFiles: 0, goneFiles: 0 });
  });

  it('those that were there before are not the run’s own: the undo of a second run leaves those of the first', async () => {
    const id = await withFrames();
    const plan = await small.plan({ kind: 'pull', settings: pullSettings(small, id) });
    const first = await go(small, plan);
    expect(first.run.state).toBe('done');
    // A double click: the same plan once more. Its timeline stands there already, so it fails.
    const second = await go(small, plan);
    expect(second.run.state).toBe('failed');
    expect(second.rows[0]!.outcome!.checked).toContain('20 were there already');
    const plan2 = await small.plan({ kind: 'undo', settings: { runId: second.id } });
    expect(plan2.detail).toMatchObject({ files: [] });
    expect(filesBelow(out('pulled/media'))).toHaveLength(20);
    expect(Object.values(await states(small))).toEqual(['present']);
  });

  it('a stocktake in the middle of the copy leaves no half sequence behind', async () => {
    const id = await withFrames();
    const plan = await small.plan({ kind: 'pull', settings: pullSettings(small, id) });
    const { runner } = small.house;
    const runId = runner.submit(plan);
    while (!existsSync(out('pulled/media/picture/pour/pour.1006.dpx'))) await wait(1);
    runner.pause(runId);
    await small.stocktake(small.vault.id);
    runner.resume(runId);
    expect((await endOf(small, runId)).run.state).toBe('done');
    const paths = small.house.catalogue.items.onShelf(small.vault.id).map((item) => item.place.path);
    expect(paths.filter((path) => path.endsWith('.dpx'))).toEqual(['pulled/media/picture/pour/pour.[1001-1020].dpx']);
  });

  it('those that were finished before a cancel are known to the undo, and no part is left', async () => {
    const id = await withFrames();
    const plan = await small.plan({ kind: 'pull', settings: pullSettings(small, id) });
    const { runner } = small.house;
    const runId = runner.submit(plan);
    while (!existsSync(out('pulled/media/picture/pour/pour.1003.dpx'))) await wait(1);
    runner.cancel(runId);
    const { run, rows } = await endOf(small, runId);
    if (run.state !== 'cancelled') throw new Error('the run was over before it could be cancelled');
    expect(rows[0]!.state).toBe('cancelled');
    const left = filesBelow(out('pulled'));
    expect(left.length).toBeGreaterThan(2);
    expect(left.filter((path) => path.endsWith('.mill-part'))).toEqual([]);
    expect((await undo(small, runId)).run.state).toBe('done');
    expect(existsSync(out('pulled'))).toBe(false);
  });
});
