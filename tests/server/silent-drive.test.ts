/** A drive that never answers: opening its marker waits for ever, as every look at a dead network drive does. */
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import type { RunView } from '../../src/server/runs/views/run';
import type { ShelfView } from '../../src/server/stock/views/shelf';
import { LiveServer } from '../helpers/live-server';
import { looker } from '../../src/server/stock/looker';
import { silentDrives } from '../../src/server/threads/silent-drives';
import { makeHouse } from '../helpers/small-house';
import { copyStep, planOf, sparse, untilMoved, wavBytes } from '../helpers/trust-house';

const folder = mkdtempSync(join(tmpdir(), 'mill-silent-'));
const server = new LiveServer(folder);
const marker = join(folder, 'DEAD', '.mill-shelf.json');
let dead = '';
let live = '';
let kept = Buffer.alloc(0);

beforeAll(async () => {
  for (const name of ['DEAD', 'LIVE']) mkdirSync(join(folder, name));
  writeFileSync(join(folder, 'DEAD', 'a.wav'), wavBytes(4800));
  writeFileSync(join(folder, 'LIVE', 'b.wav'), wavBytes(4800, [], 1));
  await server.start();
  const [one, other] = await Promise.all(
    ['DEAD', 'LIVE'].map(async (name) => {
      const { id } = await server.post<{ id: string }>('shelves', { path: join(folder, name) });
      await server.post(`shelves/${id}/stocktake`);
      await server.get(`shelves/${id}/stocktake?wait=end`);
      return id;
    }),
  );
  [dead, live] = [one!, other!];
  kept = readFileSync(marker);
  await server.get('shelves');
}, 60_000);

afterAll(async () => {
  await server.kill();
  rmSync(folder, { recursive: true, force: true });
});

function fallSilent(): void {
  rmSync(marker);
  execFileSync('mkfifo', [marker]);
}

/** Whoever waits is let go, and finds the marker as it was. */
function answerAgain(): void {
  rmSync(`${marker}.fifo`, { force: true });
  execFileSync('mv', [marker, `${marker}.fifo`]);
  writeFileSync(marker, kept);
  // A writer that comes and goes, for as many as wait.
  for (let index = 0; index < 20; index++) {
    const opened = spawnSync('timeout', ['0.2', 'sh', '-c', `: > '${marker}.fifo'`]);
    if (opened.status !== 0) break;
  }
  rmSync(`${marker}.fifo`, { force: true });
}

const shelves = () => server.get<ShelfView[]>('shelves');
const stateOf = async (id: string) => (await shelves()).find((shelf) => shelf.id === id)!;

it('is told as silent within seconds; all else goes on, and it comes back by itself', { timeout: 60_000 }, async () => {
  fallSilent();
  await vi.waitFor(async () => expect(await stateOf(dead)).toMatchObject({ attached: false, isSilent: true }), { timeout: 30_000 });
  expect(await stateOf(live)).toMatchObject({ attached: true, isSilent: false });
  expect(await server.ask('POST', `shelves/${dead}/stocktake`)).toMatchObject({ status: 409, body: { code: 'unplugged' } });
  writeFileSync(join(folder, 'LIVE', 'c.wav'), wavBytes(4800, [], 2));
  await server.post(`shelves/${live}/stocktake`);
  expect(await server.get(`shelves/${live}/stocktake?wait=end`)).toMatchObject({ state: 'done', files: 2 });
  expect(await server.get(`folders?path=${encodeURIComponent(folder)}`)).toMatchObject({ path: folder });
  const { eventLoop } = await server.get<{ eventLoop: { mostMs: number } }>('health');
  expect(eventLoop.mostMs).toBeLessThan(6_000);
  answerAgain();
  await vi.waitFor(async () => expect(await stateOf(dead)).toMatchObject({ attached: true, isSilent: false }), { timeout: 20_000 });
});

it('ends what reads it with words, and nothing else; the process ends when it is told to', { timeout: 90_000 }, async () => {
  const { id: projectId } = await server.post<{ id: string }>('projects', { name: 'Test', rate: { num: 25, den: 1 } });
  expect(projectId).not.toBe('');
  fallSilent();
  // Nobody has noticed yet: the stocktake itself is what waits.
  const answer = server.ask<{ runId: number }>('POST', `shelves/${dead}/stocktake`).catch(() => null);
  const begun = await answer;
  if (begun?.status === 200) expect((await server.get<RunView>(`runs/${begun.body.runId}?wait=end`)).state).toBe('failed');
  else expect(begun).toMatchObject({ status: 409, body: { code: 'unplugged' } });
  expect((await server.get<ShelfView[]>('shelves')).length).toBe(2);
  const since = Date.now();
  await server.kill('SIGTERM');
  expect(Date.now() - since).toBeLessThan(30_000);
});

it('a step that waits for it is given up, its run can be resumed when it answers', { timeout: 60_000 }, async () => {
  const small = makeHouse();
  try {
    const { runner, catalogue } = small.house;
    sparse(join(small.source.root, 'large.bin'), 600_000_000);
    const id = runner.submit(planOf(small, [copyStep(small, 'large.bin')]));
    await untilMoved(small, id, 4_000_000);
    // As whatever waits for a dead drive: it does not come to its end, nor hear that it should.
    runner.pause(id);
    silentDrives.add(small.source.root);
    expect((await runner.finished(id)).state).toBe('failed');
    expect(catalogue.runs.step(id, 0).message).toContain('does not answer any more');
    silentDrives.remove(small.source.root);
    runner.resume(id);
    expect((await runner.finished(id)).state).toBe('done');
  } finally {
    silentDrives.remove(small.source.root);
    await small.remove();
  }
});

it('several that fall silent together are told as silent together, and come back', { timeout: 60_000 }, async () => {
  const folders = ['ONE', 'TWO', 'THREE', 'FOUR'].map((name) => join(folder, name));
  for (const at of folders) {
    mkdirSync(at);
    execFileSync('mkfifo', [join(at, '.mill-shelf.json')]);
  }
  looker.watchTogether(folders);
  const tookMs = folders.map((at) => {
    const since = performance.now();
    expect(looker.isSilent(at)).toBe(true);
    return performance.now() - since;
  });
  // Found one after the other, each would take as long as the first.
  expect(tookMs[1]! + tookMs[2]! + tookMs[3]!).toBeLessThan(tookMs[0]!);
  for (const at of folders) execFileSync('sh', ['-c', `: > '${join(at, '.mill-shelf.json')}'`]);
  await vi.waitFor(() => expect(silentDrives.now()).toEqual([]), { timeout: 10_000 });
});
