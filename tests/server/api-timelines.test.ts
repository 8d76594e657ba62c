/** Timelines, usage, bins and versions as a script meets them, by HTTP alone. */
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
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
import type { BinsView } from '../../src/server/projects/views/bins';
import type { ClipView } from '../../src/server/projects/views/clip';
import type { CompareView } from '../../src/server/projects/views/compare';
import type { TimelineSummary, TimelineView } from '../../src/server/projects/views/timeline';
import type { ItemUsageView, ItemUsesView, UsageTotals } from '../../src/server/projects/views/usage'; // prettier-ignore
import type { Window } from '../../src/core/lists/list-window';
import { makeIntra } from '../helpers/small-house';

const PAL = rate(25);
const folder = mkdtempSync(join(tmpdir(), 'mill-api-t-'));
const shelf = join(folder, 'FOUNDRY-A');
let server: ChildProcess;
let address = '';
let project = '';
let shelfId = '';

async function call<T = Record<string, unknown>>(method: string, path: string, body?: unknown): Promise<{ status: number; body: T }> {
  const raw = body instanceof Uint8Array;
  const response = await fetch(`${address}api/${path}`, {
    method,
    ...(body === undefined
      ? {}
      : { headers: { 'content-type': raw ? 'application/octet-stream' : 'application/json' }, body: raw ? body : JSON.stringify(body) }),
  } as RequestInit);
  const text = await response.text();
  const isJson = (response.headers.get('content-type') ?? '').includes('json');
  return { status: response.status, body: (isJson ? JSON.parse(text) : text) as T };
}
const own = (path: string) => `projects/${project}/${path}`;
const edit = (body: object) => call<{ title: string; code: string; detail: string; clipIds: string[] }>('POST', own('bins'), body);
const bins = async () => (await call<BinsView>('GET', own('bins'))).body;

const shot = (name: string, from: number, length: number) =>
  clipDocument(
    name,
    timeRange(900_000 + from, length, PAL),
    externalReference(`file:///Volumes/FOUNDRY-A/${name}.mov`, name, timeRange(900_000, 100, PAL)),
  );
const cut = (name: string, shots: ReturnType<typeof shot>[]) =>
  formatOtio(timelineDocument(name, rationalTime(0, PAL), [trackDocument('V1', 'Video', shots)]));

beforeAll(async () => {
  mkdirSync(join(folder, 'data'), { recursive: true });
  mkdirSync(shelf);
  await makeIntra(join(shelf, 'a.mov'), 100, '10:00:00:00');
  await makeIntra(join(shelf, 'b.mov'), 100, '11:00:00:00');
  writeFileSync(
    join(shelf, 'list.edl'),
    'TITLE: L\n001  A001     V     C        10:00:01:00 10:00:02:00 01:00:00:00 01:00:01:00\n* FROM CLIP NAME: a\n* SOURCE FILE: a.mov\n',
  );
  const script = `const fs = require('fs'); console.log('made of', fs.statSync(process.argv[1]).size, 'bytes'); fs.copyFileSync(process.argv[1], process.argv[2])`;
  const bridges = [{ name: 'Copy', endings: ['.sheet'], command: [process.execPath, '-e', script, '{input}', '{output}'] }];
  writeFileSync(join(folder, 'data/bridges.json'), JSON.stringify({ bridges }));
  server = spawn(process.execPath, [resolve('dist/main.mjs'), '--data', join(folder, 'data'), '--roots', folder, '--port', '0', '--watch', 'off'], {
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  address = await new Promise<string>((done) =>
    server.stdout!.on('data', (piece: Buffer) => /http:\S+/.exec(piece.toString()) && done(/http:\S+/.exec(piece.toString())![0])),
  );
  project = (await call<{ id: string }>('POST', 'projects', { name: 'Bell', rate: PAL })).body.id;
  shelfId = (await call<{ id: string }>('POST', 'shelves', { path: shelf })).body.id;
  await call('POST', `shelves/${shelfId}/stocktake`);
  await call('GET', `shelves/${shelfId}/stocktake?wait=end`);
});
afterAll(async () => {
  server.kill('SIGTERM');
  await new Promise((done) => server.once('exit', done));
  rmSync(folder, { recursive: true, force: true });
});

describe('a file on its way in', () => {
  it('goes up as it is, is looked at without a trace, comes in, and leaves nothing behind', async () => {
    const bytes = new TextEncoder().encode(cut('Cut v1', [shot('a', 0, 20), shot('b', 10, 20)]));
    const { upload } = (await call<{ upload: string }>('POST', `uploads?name=${encodeURIComponent('../../Cut v1.otio')}`, bytes)).body;
    expect(readdirSync(join(folder, 'data/uploads'))).toHaveLength(1);
    const preview = (await call(`POST`, own('preview'), { upload })).body;
    expect(preview).toMatchObject({ format: 'otio', clips: 0, timelines: [{ name: 'Cut v1', events: 2, tracks: 1 }] });
    expect((await call<TimelineSummary[]>('GET', own('timelines'))).body).toEqual([]);
    expect((await call('POST', own('timelines'), { upload })).body).toMatchObject({ newClips: 2, events: 2, findings: [] });
    expect(readdirSync(join(folder, 'data/uploads'))).toEqual([]);
    expect((await call('POST', own('timelines'), { upload })).status).toBe(404);
  });

  it('from a shelf, at the rate it is told; by a bridge; a list with chosen columns', async () => {
    const list = (await call('POST', own('preview'), { place: { shelfId, path: 'list.edl' }, rate: rate(50) })).body;
    expect(list).toMatchObject({ format: 'edl', timelines: [{ rate: { num: 50, den: 1 }, durationFrames: 50 }] });
    expect((await call('GET', 'bridges')).body).toEqual({ bridges: [{ name: 'Copy', endings: ['.sheet'] }], problem: null });
    const bridged = await call<{ findings: { message: string }[] }>('POST', own('preview'), {
      name: 'x.sheet',
      text: cut('By bridge', [shot('a', 0, 5)]),
    });
    expect(bridged.body).toMatchObject({ timelines: [{ name: 'By bridge' }] });
    expect(bridged.body.findings[0]!.message).toMatch(/^made of \d+ bytes$/);
    const table = { name: 'l.csv', text: 'A;B;C\nFork;A009;x.mov\n', columns: { name: 0, file: 2 } };
    expect((await call('POST', own('preview'), table)).body).toMatchObject({ format: 'clip-list', clips: 1, table: { columns: ['A', 'B', 'C'] } });
  });

  it('that cannot be used is refused with what, where and what to do', async () => {
    const bad = (body: unknown) => call<{ code: string; detail: string; hint: string }>('POST', own('timelines'), body);
    const truncated = await bad({ name: 'x.otio', text: '{"OTIO_SCHEMA": "Timeline.1", ' });
    expect([truncated.status, truncated.body.code]).toEqual([400, 'otio-truncated']);
    expect(truncated.body.detail).toContain('x.otio, line 1');
    const unknown = await bad({ name: 'x.otio', text: 'hello' });
    expect([unknown.status, unknown.body.code]).toEqual([400, 'timeline-unknown-format']);
    expect(unknown.body.hint).toContain('Export');
    expect((await bad({ name: 'x' })).status).toBe(400);
    expect((await bad({ place: { shelfId, path: '../secret' } })).status).toBe(403);
    expect((await bad({ place: { shelfId, path: 'nowhere.otio' } })).status).toBe(404);
    expect((await call('POST', 'uploads')).status).toBe(400);
  });
});

describe('usage and versions', () => {
  it('tell who uses what; the newer version stands beside the older, and their difference is told', async () => {
    await call('POST', own('timelines'), { name: 'Cut v2.otio', text: cut('Cut v2', [shot('b', 10, 20), shot('a', 5, 15), shot('a', 60, 10)]) });
    const list = (await call<TimelineSummary[]>('GET', own('timelines'))).body;
    expect(list.map((entry) => [entry.name, entry.family, entry.events, entry.clips])).toEqual([
      ['Cut v1', 'cut', 2, 2],
      ['Cut v2', 'cut', 3, 2],
    ]);
    expect([list[0]!.mediaSeconds, list[0]!.usedSeconds]).toEqual([8, 1.6]);
    const timelineIds = list.map((entry) => entry.id);
    const { rows: items } = (await call<Window<ItemUsageView>>('POST', own('usage'), { timelineIds, list: 'used' })).body;
    expect(items.map((item) => [item.name, item.used, item.useCount, item.usedBytes])).toEqual([
      ['a.mov', [{ start: 0, end: 20 }, { start: 60, end: 70 }], 3, Math.round(items[0]!.sizeBytes! * 0.3)], // prettier-ignore
      ['b.mov', [{ start: 10, end: 30 }], 2, Math.round(items[1]!.sizeBytes! * 0.2)],
    ]);
    const totals = (await call<UsageTotals>('POST', own('usage'), { timelineIds: 'all' })).body;
    const bytes = items.reduce((sum, item) => sum + item.sizeBytes!, 0);
    const usedBytes = items.reduce((sum, item) => sum + item.usedBytes!, 0);
    expect(totals).toEqual({ used: { items: 2, parts: 0, bytes, usedBytes }, never: { items: 0, parts: 0, bytes: 0 }, binOnly: 0 });
    const sorted = await call<Window<ItemUsageView>>('POST', own('usage'), { timelineIds, list: 'used', sort: 'events', filter: 'B.MOV zz' });
    expect(sorted.body).toEqual({ total: 0, rows: [] });
    const last = await call<Window<ItemUsageView>>('POST', own('usage'), { timelineIds, list: 'used', sort: 'events', offset: 1 });
    expect([last.body.total, last.body.rows.map(({ name }) => name)]).toEqual([2, ['a.mov']]);
    const one = (await call<ItemUsesView>('POST', own('usage'), { timelineIds, key: items[0]!.key })).body;
    expect(one.uses.rows.map((use) => [use.timelineName, use.record, use.range])).toEqual([
      ['Cut v1', '00:00:00:00', { start: 0, end: 20 }],
      ['Cut v2', '00:00:00:20', { start: 5, end: 20 }],
      ['Cut v2', '00:00:01:10', { start: 60, end: 70 }],
    ]);
    const but = { timelineId: timelineIds[0], eventIndex: 0 };
    const others = (await call<ItemUsesView>('POST', own('usage'), { timelineIds, key: items[0]!.key, but, limit: 1, offset: 1 })).body;
    expect([others.uses.total, others.uses.rows.map((use) => use.record)]).toEqual([2, ['00:00:01:10']]);
    expect((await call('POST', own('usage'), { timelineIds, key: 'nowhere' })).status).toBe(404);
    const compare = (await call<CompareView>('GET', own(`compare?before=${timelineIds[0]}&after=${timelineIds[1]}`))).body;
    expect(compare.changes.map((change) => [change.kind, change.name, change.inShift, change.outShift])).toEqual([
      ['pushed', 'b', 0, 0],
      ['trimmed', 'a', 5, 0],
      ['added', 'a', 0, 0],
    ]);
    expect((await call('GET', own('compare?before=x'))).status).toBe(400);
    expect((await call('GET', own('compare?before=x&after=y'))).status).toBe(404);
  });

  it('the drawing has events with what they read of their item', async () => {
    const [first] = (await call<TimelineSummary[]>('GET', own('timelines'))).body;
    const view = (await call<TimelineView>('GET', own(`timelines/${first!.id}`))).body;
    expect(view.tracks[0]!.events.map((event) => [event.name, event.state, event.reads, event.sourceIn])).toEqual([
      ['a', 'present', { start: 0, end: 20 }, '10:00:00:00'],
      ['b', 'present', { start: 10, end: 30 }, '10:00:00:10'],
    ]);
  });
});

describe('bins', () => {
  it('are edited, undone and listed', async () => {
    expect((await edit({ do: 'make-bin', parent: '', name: 'Rushes' })).body.title).toBe('Make the bin Rushes');
    const found = async (query: string) => (await call<Window<ClipView>>('GET', own(`clips?${query}`))).body;
    const clip = (await found('filter=A')).rows.find((entry) => entry.name === 'a')!;
    expect((await edit({ do: 'change-clips', clipIds: [clip.id], change: { binPath: 'Rushes', note: '=1+1', colour: 'dusk' } })).status).toBe(200);
    const view = await bins();
    expect(view.bins).toEqual([{ path: 'Rushes', colour: '', note: '', clips: 1, unused: 0 }]);
    expect(await found('bin=Rushes')).toEqual(await found(`ids=${clip.id},nobody`));
    expect((await found('filter=%3D1')).rows[0]).toMatchObject({
      id: clip.id,
      binPath: 'Rushes',
      note: '=1+1',
      colour: 'dusk',
      events: 3,
      length: '00:00:04:00',
    });
    // A note that begins like a formula is shown by a spreadsheet, not run.
    const csv = (await call<string>('GET', own('bins/clip-list?bin=Rushes'))).body;
    expect(csv.split('\r\n')[1]).toBe(`a,a.mov,A001,10:00:00:00,,,Rushes,"'=1+1"`);
    expect((await call('POST', own('bins/undo'))).body).toEqual({ title: 'Move 1 clip' });
    expect((await bins()).bins[0]!.clips).toBe(0);
    expect((await call('POST', own('bins/redo'))).body).toEqual({ title: 'Move 1 clip' });
    expect((await call('POST', own('bins/redo'))).status).toBe(409);
  });

  it('refuse what has no form or makes no sense, and change nothing', async () => {
    const before = await bins();
    for (const body of [
      {},
      { do: 'explode' },
      { do: 'make-bin', name: 'x' },
      { do: 'tidy', bin: '', also: 1 },
      { do: 'change-clips', clipIds: [], change: { note: 'x' } },
      { do: 'change-clips', clipIds: ['x'], change: { colour: 'red' } },
    ])
      expect((await edit(body)).status, JSON.stringify(body)).toBe(400);
    const twice = await edit({ do: 'make-bin', parent: '', name: 'Rushes' });
    expect([twice.status, twice.body.code]).toEqual([409, 'bin']);
    expect(twice.body.detail).toContain('already');
    expect((await edit({ do: 'change-clips', clipIds: ['nobody'], change: { note: 'x' } })).status).toBe(404);
    expect((await edit({ do: 'add-items', itemIds: ['nothing'], binPath: '' })).status).toBe(404);
    expect(await bins()).toEqual(before);
  });

  it('make clips of items without any timeline, each once', async () => {
    await makeIntra(join(shelf, 'c.mov'), 10, '12:00:00:00');
    await call('POST', `shelves/${shelfId}/stocktake`);
    await call('GET', `shelves/${shelfId}/stocktake?wait=end`);
    const items = (await call<{ rows: { id: string; place: { path: string } }[] }>('GET', `shelves/${shelfId}/items`)).body.rows;
    const ids = items.filter((item) => item.place.path.endsWith('.mov')).map((item) => item.id);
    const made = await edit({ do: 'add-items', itemIds: ids, binPath: 'Rushes' });
    expect([made.status, made.body.title]).toEqual([200, 'Make 1 clip of items']);
    expect((await edit({ do: 'add-items', itemIds: ids, binPath: '' })).body.detail).toContain('already');
    const tidied = await edit({ do: 'tidy', bin: 'Rushes' });
    expect(tidied.body.title).toBe('Tidy 1 clip out of Rushes');
  });
});
