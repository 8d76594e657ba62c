/** Power cuts on a file system without hard links: real processes, killed between the claim of a name and the file's coming to it. */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import type { RunView } from '../../../src/server/runs/views/run';
import { LiveServer } from '../../helpers/live-server';
import { isEqual, makeFrames, cutOf, cutOfSequence, cutTimeline, sparse, wavBytes } from '../../helpers/trust-house';
import { formatOtio } from '../../../src/core/interchange/otio/otio-writer';

const built = mkdtempSync(join(tmpdir(), 'mill-shim-'));
const shim = join(built, 'no-links.so');
let folder: string;
let server: LiveServer;

beforeAll(() => {
  execFileSync('g++', ['-x', 'c', '-shared', '-fPIC', '-o', shim, resolve('tests/helpers/no-links.c'), '-ldl']);
});
afterAll(() => rmSync(built, { recursive: true }));
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'mill-crash-'));
  server = new LiveServer(folder);
});
afterEach(async () => {
  await server.kill();
  rmSync(folder, { recursive: true, force: true });
});

const NO_LINKS = { LD_PRELOAD: shim, MILL_NO_LINKS: '1' };

async function withShelves(): Promise<{ source: string; vault: string; projectId: string }> {
  const ids: string[] = [];
  for (const name of ['FOUNDRY-A', 'VAULT']) {
    const { id } = await server.post<{ id: string }>('shelves', { path: join(folder, name) });
    await server.post(`shelves/${id}/stocktake`);
    await server.get(`shelves/${id}/stocktake?wait=end`);
    ids.push(id);
  }
  const { id: projectId } = await server.post<{ id: string }>('projects', { name: 'Test', rate: { num: 25, den: 1 } });
  return { source: ids[0]!, vault: ids[1]!, projectId };
}

async function pull(projectId: string, vault: string): Promise<number> {
  const timelines = await server.get<{ id: string }[]>(`projects/${projectId}/timelines`);
  const settings = {
    timelineIds: [timelines[0]!.id],
    media: 'whole',
    headFrames: 0,
    tailFrames: 0,
    joinGapFrames: 0,
    countDisabled: false,
    destination: { shelfId: vault, path: '' },
    folderName: 'pulled',
  };
  const request = { kind: 'pull', projectId, settings };
  const { digest } = await server.post<{ digest: string }>('plans', request);
  return (await server.post<{ id: number }>('runs', { ...request, digest })).id;
}

const endOf = (id: number) => server.get<RunView>(`runs/${id}?wait=end`);

describe('without hard links', () => {
  it.each(['two.wav', 'pour.1003.dpx'])('a cut at the moment %s gets its name is mended by the next start', async (name) => {
    mkdirSync(join(folder, 'FOUNDRY-A/pour'), { recursive: true });
    mkdirSync(join(folder, 'VAULT'));
    for (const [index, file] of ['one.wav', 'two.wav', 'three.wav'].entries())
      writeFileSync(join(folder, 'FOUNDRY-A', file), wavBytes(48_000, [], index));
    await makeFrames(join(folder, 'FOUNDRY-A/pour'), 'pour.', 1001, 6);
    await server.start();
    const { vault, projectId } = await withShelves();
    const cuts = ['one.wav', 'two.wav', 'three.wav'].map((file) => cutOf(file, 0, 10));
    const text = formatOtio(cutTimeline('Cut', [...cuts, cutOfSequence('pour', 'pour.', 1001, 6, 0, 6)]));
    await server.post(`projects/${projectId}/timelines`, { name: 'cut.otio', text });
    await server.kill('SIGTERM');

    await server.start({ ...NO_LINKS, MILL_DIE_AT: name });
    const id = await pull(projectId, vault);
    await server.gone();
    const claim = execFileSync('find', [join(folder, 'VAULT'), '-name', name, '-size', '0'], { encoding: 'utf8' });
    expect(claim.trim()).not.toBe('');

    await server.start(NO_LINKS);
    const run = await endOf(id);
    expect([run.state, run.failed]).toEqual(['done', 0]);
    for (const file of ['one.wav', 'two.wav', 'three.wav'])
      expect(isEqual(join(folder, 'FOUNDRY-A', file), join(folder, 'VAULT/pulled/media/sound', file))).toBe(true);
    expect(readdirSync(join(folder, 'VAULT/pulled/media/picture/pour'))).toHaveLength(6);
    const left = execFileSync('find', [join(folder, 'VAULT'), '-name', '*.mill-part', '-o', '-type', 'f', '-size', '0'], { encoding: 'utf8' });
    expect(left).toBe('');

    // What was made so is the run's own: its undo takes all of it.
    const request = { kind: 'undo', projectId, settings: { runId: id, confirmed: true } };
    const { digest } = await server.post<{ digest: string }>('plans', request);
    const undone = await server.post<{ id: number }>('runs', { ...request, digest });
    expect((await endOf(undone.id)).state).toBe('done');
    expect(existsSync(join(folder, 'VAULT/pulled'))).toBe(false);
    expect(statSync(join(folder, 'FOUNDRY-A/two.wav')).size).toBe(96_044);
  });
});

it('a run in whose middle the process ended twice is not taken up again by itself, and says so; the rest of the house is open', async () => {
  mkdirSync(join(folder, 'FOUNDRY-A'));
  mkdirSync(join(folder, 'VAULT'));
  sparse(join(folder, 'FOUNDRY-A/one.bin'), 3 * 1024 ** 3);
  await server.start();
  const { vault, projectId } = await withShelves();
  await server.post(`projects/${projectId}/timelines`, { name: 'cut.otio', text: formatOtio(cutTimeline('Cut', [cutOf('one.bin', 0, 5)], 'Audio')) });
  const id = await pull(projectId, vault);
  const view = () => server.get<RunView>(`runs/${id}`);
  const moving = async () => {
    const before = (await view()).bytesDone;
    await vi.waitFor(async () => expect((await view()).bytesDone).toBeGreaterThan(before), { timeout: 20_000, interval: 20 });
  };
  for (const crash of [1, 2]) {
    await moving();
    expect((await view()).state, `before crash ${crash}`).toBe('running');
    await server.kill();
    await server.start();
  }
  const held = await view();
  expect([held.state, held.trouble]).toEqual(['paused', expect.stringContaining('ended twice') as string]);
  expect((await server.ask('GET', 'projects')).status).toBe(200);
  // A clean stop is no crash, and a user's word begins the count anew.
  await server.kill('SIGTERM');
  await server.start();
  expect((await view()).trouble).toContain('ended twice');
  await server.post(`runs/${id}/resume`);
  await moving();
  await server.kill();
  await server.start();
  await moving();
  expect(await view()).toMatchObject({ state: 'running', trouble: null });
  await server.post(`runs/${id}/cancel`);
  expect((await endOf(id)).state).toBe('cancelled');
  expect(readdirSync(join(folder, 'VAULT')).filter((name) => name.endsWith('.mill-part'))).toEqual([]);
}, 90_000);
