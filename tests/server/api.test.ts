/** The API as a script meets it: the whole slice by HTTP alone, the guard, and docs/api.md held to the routes. */
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { ROUTES } from '../../src/server/api/routes';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  clipDocument,
  externalReference,
  formatOtio,
  rationalTime,
  timelineDocument,
  timeRange,
  trackDocument,
} from '../../src/core/interchange/otio/otio-writer';
import { rate } from '../../src/core/time/rate';
import { makeIntra } from '../helpers/small-house';

const PAL = rate(25);
const folder = mkdtempSync(join(tmpdir(), 'mill-api-'));
let server: ChildProcess;
let address = '';

beforeAll(async () => {
  mkdirSync(join(folder, 'FOUNDRY-A'));
  mkdirSync(join(folder, 'VAULT'));
  await makeIntra(join(folder, 'FOUNDRY-A/a.mov'), 100, '10:00:00:00');
  server = spawn(process.execPath, [resolve('dist/main.mjs'), '--data', join(folder, 'data'), '--roots', folder, '--port', '0', '--watch', 'off'], {
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  address = await new Promise<string>((done) =>
    server.stdout!.on('data', (piece: Buffer) => /http:\S+/.exec(piece.toString()) && done(/http:\S+/.exec(piece.toString())![0])),
  );
});
afterAll(async () => {
  server.kill('SIGTERM');
  await new Promise((done) => server.once('exit', done));
  rmSync(folder, { recursive: true, force: true });
});

async function call<T = Record<string, unknown>>(method: string, path: string, body?: unknown): Promise<{ status: number; body: T }> {
  const response = await fetch(`${address}api/${path}`, {
    method,
    ...(body === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
  });
  const text = await response.text();
  return { status: response.status, body: (text === '' ? null : JSON.parse(text)) as T };
}

it('does the whole slice with nothing but requests', async () => {
  const project = (await call<{ id: string }>('POST', 'projects', { name: 'Bronze Hour', rate: PAL })).body.id;
  const source = (await call<{ id: string }>('POST', 'shelves', { path: join(folder, 'FOUNDRY-A') })).body.id;
  const vault = (await call<{ id: string }>('POST', 'shelves', { path: join(folder, 'VAULT') })).body.id;
  await call('POST', `shelves/${source}/stocktake`);
  expect((await call('GET', `shelves/${source}/stocktake?wait=end`)).body).toMatchObject({ state: 'done', files: 1, problems: 0 });
  const document = timelineDocument('Cut', rationalTime(0, PAL), [
    trackDocument('V1', 'Video', [
      clipDocument('a', timeRange(900_010, 20, PAL), externalReference('/old/place/a.mov', 'a', timeRange(900_000, 100, PAL))),
    ]),
  ]);
  const brought = await call<{ timelineIds: string[]; newClips: number }>('POST', `projects/${project}/timelines`, {
    name: 'cut.otio',
    text: formatOtio(document),
    match: false,
  });
  expect(brought.body.newClips).toBe(1);
  const offline = (await call<{ rows: { id: string; state: string }[] }>('GET', `projects/${project}/clips?state=offline`)).body.rows;
  expect(offline).toMatchObject([{ state: 'missing', fileName: 'a.mov' }]);

  const run = async (kind: string, settings: unknown) => {
    const plan = await call<{
      digest: string;
      plan: { blocked: string | null; detail: { groups: { rows: { matches: { itemId: string }[] }[] }[] } };
    }>('POST', 'plans', { projectId: project, kind, settings });
    expect(plan.body.plan.blocked).toBeNull();
    const { id } = (await call<{ id: number }>('POST', 'runs', { projectId: project, kind, settings, digest: plan.body.digest })).body;
    const receipt = await call<{ state: string; projectId: string }>('GET', `runs/${id}?wait=end`);
    const steps = await call<{ total: number; rows: { outcome: { sha256: string } }[] }>('GET', `runs/${id}/steps`);
    expect(receipt.body.state).toBe('done');
    return { ...receipt.body, rows: steps.body.rows };
  };
  const looked = await call<{ plan: { detail: { groups: { rows: { matches: { itemId: string }[] }[] }[] } } }>('POST', 'plans', {
    projectId: project,
    kind: 'relink',
    settings: { scope: null, choices: {} },
  });
  const itemId = looked.body.plan.detail.groups[0]!.rows[0]!.matches[0]!.itemId;
  await run('relink', { scope: null, choices: { [offline[0]!.id]: itemId } });
  expect((await call('GET', `projects/${project}/clips?state=offline`)).body).toEqual({ total: 0, rows: [] });
  const take = {
    timelineIds: brought.body.timelineIds,
    media: 'parts',
    headFrames: 5,
    tailFrames: 5,
    joinGapFrames: 0,
    countDisabled: false,
    destination: { shelfId: vault, path: '' },
  };
  await run('pull', { ...take, folderName: 'pulled' });
  const crate = await run('crate', { ...take, crateName: 'crate', note: '' });
  expect(crate.rows[0]!.outcome.sha256).toMatch(/^[0-9a-f]{64}$/);
  const opened = await run('restore', { crate: { shelfId: vault, path: 'crate' }, projectName: 'Opened' });
  expect((await call('GET', `projects/${opened.projectId}`)).body).toMatchObject({ name: 'Opened', states: { present: 1, missing: 0 } });

  // A second crate of the same name would stand on the first.
  expect(
    (
      await call<{ plan: { blocked: string } }>('POST', 'plans', {
        projectId: project,
        kind: 'crate',
        settings: { ...take, crateName: 'crate', note: '' },
      })
    ).body.plan.blocked,
  ).toContain('already stands');
});

describe('bad input', () => {
  it.each([
    ['a file that is neither OTIO nor EDL', 'Dear editor', 'line 1', 'neither OTIO nor'],
    ['truncated JSON', '{"OTIO_SCHEMA": "Timeline.1",\n "tracks": {', 'line 2', 'ends in the middle'],
    ['an empty file', '', 'line 1', 'empty'],
  ])('%s is refused with its line and a next step', async (_, text, line, words) => {
    const project = (await call<{ id: string }>('POST', 'projects', { name: 'Bad', rate: PAL })).body.id;
    const { status, body } = await call<{ detail: string; hint: string }>('POST', `projects/${project}/timelines`, { name: 'bad.otio', text });
    expect(status).toBe(400);
    expect(body.detail).toContain(line);
    expect(body.detail).toContain(words);
    expect(body.hint.length).toBeGreaterThan(10);
  });

  it.each([
    ['POST', 'projects', { name: '', rate: PAL }, 400],
    ['POST', 'projects', { name: 'x', rate: { num: 0, den: 1 } }, 400],
    ['POST', 'projects', { name: 'x', rate: PAL, dropFrame: true }, 400],
    ['GET', 'projects/nobody', undefined, 404],
    ['GET', 'runs/999', undefined, 404],
    ['POST', 'shelves', { path: '/etc' }, 409],
    ['GET', 'folders?path=/etc', undefined, 403],
    ['POST', 'plans', { projectId: null, kind: 'magic', settings: {} }, 400],
  ])('%s %s is answered with a problem', async (method, path, body, status) => {
    const answer = await call<{ code: string; detail: string }>(method, path, body);
    expect(answer.status).toBe(status);
    expect(answer.body.detail.length).toBeGreaterThan(5);
  });

  it('a place that leaves its shelf is refused', async () => {
    const [shelf] = (await call<{ id: string }[]>('GET', 'shelves')).body;
    writeFileSync(join(folder, 'secret.otio'), '{}');
    const project = (await call<{ id: string }[]>('GET', 'projects')).body[0]!.id;
    expect((await call('POST', `projects/${project}/timelines`, { place: { shelfId: shelf!.id, path: '../secret.otio' } })).status).toBe(403);
  });

  it('a plan that is not the one read does not run', async () => {
    const project = (await call<{ id: string }[]>('GET', 'projects')).body.find((entry) => 'name' in entry && entry.name === 'Bronze Hour')!.id;
    const [timeline] = (await call<{ id: string }[]>('GET', `projects/${project}/timelines`)).body;
    const [shelf] = (await call<{ id: string }[]>('GET', 'shelves')).body;
    const settings = {
      timelineIds: [timeline!.id],
      media: 'whole',
      headFrames: 0,
      tailFrames: 0,
      joinGapFrames: 0,
      countDisabled: false,
      destination: { shelfId: shelf!.id, path: '' },
      folderName: 'n',
    };
    expect(await call('POST', 'runs', { projectId: project, kind: 'pull', settings, digest: '0'.repeat(64) })).toMatchObject({
      status: 409,
      body: { code: 'plan-changed' },
    });
  });
});

describe('the guard', () => {
  const ask = (method: string, headers: Record<string, string>) =>
    new Promise<number>((done) => {
      const { port } = new URL(address);
      request(
        { host: '127.0.0.1', port, path: '/api/projects', method, headers },
        (response) => (response.resume(), done(response.statusCode!)),
      ).end();
    });

  it('answers only for its own host, and takes no orders from other sites', async () => {
    expect(await ask('GET', { host: 'evil.invalid' })).toBe(403);
    expect(await ask('POST', { origin: 'http://evil.invalid' })).toBe(403);
    expect(await ask('POST', { 'sec-fetch-site': 'cross-site' })).toBe(403);
    expect(await ask('GET', {})).toBe(200);
  });
});

it('docs/api.md names every route and method, and no other', () => {
  const routes = Object.keys(ROUTES).map((route) => {
    const [method, path = ''] = route.split(' ');
    return `${method} /api/${path.replace(/\[(\w+)\]/g, ':$1')}`;
  });
  const documented = [...readFileSync('docs/api.md', 'utf8').matchAll(/`(GET|POST|PUT|PATCH|DELETE) (\/api\/[^`?]*)/g)].map(
    (match) => `${match[1]} ${match[2]}`,
  );
  // The line of news is answered before the pages are.
  expect([...new Set(documented)].sort()).toEqual([...routes, 'GET /api/events'].sort());
});

it('a scheme is saved over the state it began from, over no other; one that was removed is put back', async () => {
  const body = { name: 'House', about: '', folders: [], rest: 'To sort' };
  const made = (await call<{ scheme: { id: string }; revision: number }>('POST', 'schemes', body)).body;
  const path = `schemes/${made.scheme.id}`;
  expect(made.revision).toBe(1);
  expect((await call('PUT', path, { ...body, rest: 'First', revision: 1 })).body).toMatchObject({ revision: 2 });
  expect(await call('PUT', path, { ...body, rest: 'Second', revision: 1 })).toMatchObject({ status: 409, body: { code: 'scheme-changed' } });
  expect(await call('PUT', path, { ...body, revision: 0 })).toMatchObject({ status: 409 });
  expect(await call('PUT', path, body)).toMatchObject({ status: 400 });
  expect(await call('DELETE', `${path}?revision=1`)).toMatchObject({ status: 409, body: { code: 'scheme-changed' } });
  expect((await call<{ scheme: { rest: string } }[]>('GET', 'schemes')).body.map(({ scheme: { rest } }) => rest)).toContain('First');
  expect((await call('DELETE', `${path}?revision=2`)).status).toBe(204);
  expect((await call('PUT', path, { ...body, revision: 2 })).status).toBe(404);
  expect((await call('PUT', path, { ...body, revision: 0 })).body).toMatchObject({ revision: 1, scheme: { id: made.scheme.id } });
  expect((await call('PUT', 'schemes/own-documentary', { ...body, revision: 0 })).body).toMatchObject({ code: 'shipped-scheme' });
  await call('DELETE', path);
});
