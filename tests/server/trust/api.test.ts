/** By HTTP: refusals with their codes, copies of shelves, shelves taken off the list, a run that waits. */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { formatOtio } from '../../../src/core/interchange/otio/otio-writer';
import type { ClipView } from '../../../src/server/projects/views/clip';
import type { RunView } from '../../../src/server/runs/views/run';
import type { ShelfView } from '../../../src/server/stock/views/shelf';
import type { Window } from '../../../src/core/lists/list-window';
import { LiveServer } from '../../helpers/live-server';
import { cutOf, cutTimeline, sparse, wavBytes } from '../../helpers/trust-house';

const folder = mkdtempSync(join(tmpdir(), 'mill-trust-api-'));
const server = new LiveServer(folder);
let source = '';
let vault = '';
let project = '';
let timeline = '';

async function stocktake(shelf: string): Promise<void> {
  await server.post(`shelves/${shelf}/stocktake`);
  await server.get(`shelves/${shelf}/stocktake?wait=end`);
}

beforeAll(async () => {
  mkdirSync(join(folder, 'FOUNDRY-A'));
  mkdirSync(join(folder, 'VAULT'));
  writeFileSync(join(folder, 'FOUNDRY-A/one.wav'), wavBytes(48_000));
  await server.start();
  source = (await server.post<{ id: string }>('shelves', { path: join(folder, 'FOUNDRY-A') })).id;
  vault = (await server.post<{ id: string }>('shelves', { path: join(folder, 'VAULT') })).id;
  await stocktake(source);
  project = (await server.post<{ id: string }>('projects', { name: 'Test', rate: { num: 25, den: 1 } })).id;
  const text = formatOtio(cutTimeline('Cut', [cutOf('one.wav', 0, 10)], 'Audio'));
  timeline = (await server.post<{ timelineIds: string[] }>(`projects/${project}/timelines`, { name: 'cut.otio', text })).timelineIds[0]!;
});
afterAll(async () => {
  await server.kill('SIGTERM');
  rmSync(folder, { recursive: true, force: true });
});

const pullRequest = (folderName: string) => ({
  kind: 'pull',
  projectId: project,
  settings: { timelineIds: [timeline], media: 'whole', headFrames: 0, tailFrames: 0, joinGapFrames: 0, countDisabled: false, destination: { shelfId: vault, path: '' }, folderName }, // prettier-ignore
});
const undoRequest = (runId: number, confirmed: boolean) => ({ kind: 'undo', projectId: project, settings: { runId, confirmed } });

async function run(request: object): Promise<RunView> {
  const { digest } = await server.post<{ digest: string }>('plans', request);
  const { id } = await server.post<{ id: number }>('runs', { ...request, digest });
  return server.get<RunView>(`runs/${id}?wait=end`);
}

it('a copy of a shelf is shown, refused as the shelf, and taken as one of its own', async () => {
  const copy = join(folder, 'BACKUP');
  execFileSync('cp', ['-a', join(folder, 'FOUNDRY-A'), copy]);
  const copies = async () => (await server.get<ShelfView[]>('shelves')).find((shelf) => shelf.id === source)!.copies;
  await expect.poll(copies, { timeout: 10_000, interval: 200 }).toEqual([copy]);
  expect(await server.ask('POST', 'shelves', { path: copy })).toMatchObject({ status: 409, body: { code: 'shelf-copy', hint: expect.stringContaining('identity of its own') as string } }); // prettier-ignore
  const own = await server.post<{ id: string; name: string }>('shelves', { path: copy, ownIdentity: true });
  expect([own.name, own.id === source]).toEqual(['FOUNDRY-A copy', false]);
  const after = await server.get<ShelfView[]>('shelves');
  expect(after.map((shelf) => [shelf.name, shelf.attached, shelf.copies.length])).toEqual([
    ['FOUNDRY-A', true, 0],
    ['FOUNDRY-A copy', true, 0],
    ['VAULT', true, 0],
  ]);
  expect((await server.ask('DELETE', `shelves/${own.id}`)).status).toBe(204);
});

it('the same plan twice at once is one run', async () => {
  sparse(join(folder, 'FOUNDRY-A/big.wav'), 200_000_000);
  const request = pullRequest('twice');
  const { digest } = await server.post<{ digest: string }>('plans', request);
  const answers = await Promise.all([0, 1].map(() => server.ask<{ id?: number; code?: string }>('POST', 'runs', { ...request, digest })));
  const started = answers.filter((answer) => answer.status < 300);
  expect(started.length).toBe(1);
  expect(answers.find((answer) => answer.status >= 300)!.body.code).toMatch(/run-refused|plan-changed/);
  expect((await server.get<RunView>(`runs/${started[0]!.body.id}?wait=end`)).state).toBe('done');
});

it('an undo waits for the word of whoever uses the files; what is undone cannot be resumed', async () => {
  const pulled = await run(pullRequest('pulled'));
  const other = (await server.post<{ id: string }>('projects', { name: 'Other', rate: { num: 25, den: 1 } })).id;
  const place = { shelfId: vault, path: 'pulled/timelines/Cut · pulled.otio' };
  await server.post(`projects/${other}/timelines`, { place });
  const plan = await server.post<{ digest: string; plan: { blocked: string; steps: unknown[] } }>('plans', undoRequest(pulled.id, false));
  expect([plan.plan.blocked, plan.plan.steps]).toEqual(['Read who uses these files, then tick the box.', []]);
  expect(await server.ask('POST', 'runs', { ...undoRequest(pulled.id, false), digest: plan.digest })).toMatchObject({ status: 409, body: { code: 'blocked' } }); // prettier-ignore
  // Somebody else takes the files up after the plan was read: it must be read again.
  const read = await server.post<{ digest: string }>('plans', undoRequest(pulled.id, true));
  const third = (await server.post<{ id: string }>('projects', { name: 'Third', rate: { num: 25, den: 1 } })).id;
  await server.post(`projects/${third}/timelines`, { place });
  expect(await server.ask('POST', 'runs', { ...undoRequest(pulled.id, true), digest: read.digest })).toMatchObject({ status: 409, body: { code: 'plan-changed' } }); // prettier-ignore
  expect((await run(undoRequest(pulled.id, true))).state).toBe('done');
  expect((await server.ask('POST', `runs/${pulled.id}/resume`, {})).status).toBe(409);
  expect(
    (await server.get<Window<ClipView>>(`projects/${other}/clips`)).rows.map(({ state, place: at }) => [state, at?.path.startsWith('pulled/')]),
  ).toEqual([['present', false]]);
});

it('a shelf that a run uses stays on the list; taken off and registered again it has its links', async () => {
  renameSync(join(folder, 'FOUNDRY-A/big.wav'), join(folder, 'FOUNDRY-A/huge.wav'));
  const states = async () =>
    (await server.get<Window<ClipView>>(`projects/${project}/clips`)).rows.map(
      ({ state, place }) => `${state} ${place?.shelfId === source ? 'source' : 'vault'}`,
    );
  const pulled = pullRequest('held');
  const { digest } = await server.post<{ digest: string }>('plans', pulled);
  const { id } = await server.post<{ id: number }>('runs', { ...pulled, digest });
  const paused = (await server.ask('POST', `runs/${id}/pause`, {})).status < 300;
  if (paused) {
    expect(await server.ask('DELETE', `shelves/${vault}`)).toMatchObject({ status: 409, body: { code: 'busy' } });
    await server.post(`runs/${id}/resume`);
  }
  await server.get(`runs/${id}?wait=end`);
  expect((await server.ask('DELETE', `shelves/${source}`)).status).toBe(204);
  // The pulled copy is read.
  expect(await states()).toContain('present vault');
  expect((await server.ask('GET', `shelves/${source}/items`)).status).toBe(404);
  const again = await server.post<{ id: string }>('shelves', { path: join(folder, 'FOUNDRY-A') });
  expect(again.id).toBe(source);
  expect(new Set(await states())).toEqual(new Set(['present source']));
});
