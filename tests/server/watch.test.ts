/** Shelves that are looked through by themselves, with a real server and real folders. */
import { appendFileSync, mkdirSync, mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import type { StocktakeView } from '../../src/server/stock/views/shelf';
import { LiveServer } from '../helpers/live-server';
import { wavBytes } from '../helpers/trust-house';

const folder = mkdtempSync(join(tmpdir(), 'mill-watch-'));
const root = join(folder, 'RUSHES');
const server = new LiveServer(folder, ['--watch', 'on']);
let shelf = '';

const paths = async () => (await server.get<{ rows: { place: { path: string } }[] }>(`shelves/${shelf}/items?limit=100`)).rows.map(({ place }) => place.path); // prettier-ignore
const holds = (...want: string[]) => vi.waitFor(async () => expect(await paths()).toEqual(want), { timeout: 20_000, interval: 250 });
const last = () => server.get<StocktakeView>(`shelves/${shelf}/stocktake`);

beforeAll(async () => {
  mkdirSync(join(root, 'Day 1'), { recursive: true });
  writeFileSync(join(root, 'Day 1/a.wav'), wavBytes(4800));
  await server.start();
  ({ id: shelf } = await server.post<{ id: string }>('shelves', { path: root }));
  await server.post(`shelves/${shelf}/stocktake`);
  await server.get(`shelves/${shelf}/stocktake?wait=end`);
}, 60_000);

afterAll(async () => {
  await server.kill();
  rmSync(folder, { recursive: true, force: true });
});

it('what is added, changed, moved with its folder or deleted is noticed, in folders that came later too', { timeout: 120_000 }, async () => {
  await holds('Day 1/a.wav');
  mkdirSync(join(root, 'Day 2/Sound'), { recursive: true });
  writeFileSync(join(root, 'Day 2/Sound/b.wav'), wavBytes(4800, [], 1));
  await holds('Day 1/a.wav', 'Day 2/Sound/b.wav');
  // A folder that was met after the watch began.
  writeFileSync(join(root, 'Day 2/Sound/c.wav'), wavBytes(4800, [], 2));
  await holds('Day 1/a.wav', 'Day 2/Sound/b.wav', 'Day 2/Sound/c.wav');
  renameSync(join(root, 'Day 2'), join(root, 'Day 3'));
  await holds('Day 1/a.wav', 'Day 3/Sound/b.wav', 'Day 3/Sound/c.wav');
  writeFileSync(join(root, 'Day 3/Sound/d.wav'), wavBytes(4800, [], 3));
  await holds('Day 1/a.wav', 'Day 3/Sound/b.wav', 'Day 3/Sound/c.wav', 'Day 3/Sound/d.wav');
  rmSync(join(root, 'Day 3'), { recursive: true });
  await holds('Day 1/a.wav');
});

it('a file that is being written is read when it is whole; hidden files begin nothing', { timeout: 60_000 }, async () => {
  const bytes = wavBytes(200_000, [], 5);
  const before = (await last()).runId;
  writeFileSync(join(root, 'long.wav'), bytes.subarray(0, 1000));
  for (let at = 1000; at < bytes.length; at += 40_000) {
    await wait(400);
    appendFileSync(join(root, 'long.wav'), bytes.subarray(at, at + 40_000));
  }
  await holds('Day 1/a.wav', 'long.wav');
  const now = await last();
  expect(now).toMatchObject({ state: 'done', problems: 0 });
  expect(now.runId).toBe(before + 1);
  writeFileSync(join(root, '.notes'), 'nothing');
  writeFileSync(join(root, '.x.mill-part'), 'nothing');
  // It would have begun after two and a half seconds of quiet.
  await wait(4_500);
  expect((await last()).runId).toBe(now.runId);
});

it('a drive that went and came back is looked through, at another place too', { timeout: 60_000 }, async () => {
  renameSync(root, join(folder, 'AWAY'));
  // Found again by its marker, under another name and with another file on it.
  writeFileSync(join(folder, 'AWAY/later.wav'), wavBytes(4800, [], 7));
  await holds('Day 1/a.wav', 'later.wav', 'long.wav');
  writeFileSync(join(folder, 'AWAY/last.wav'), wavBytes(4800, [], 8));
  await holds('Day 1/a.wav', 'last.wav', 'later.wav', 'long.wav');
});
