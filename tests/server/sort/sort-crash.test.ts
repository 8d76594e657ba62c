/** A process that is killed in the middle of a sort, again and again: at every start each link leads to a file that stands there. */
import { execFileSync } from 'node:child_process';
import { chmodSync, mkdirSync, mkdtempSync, rmSync, existsSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { afterAll, afterEach, beforeAll, beforeEach, expect, it } from 'vitest';
import Database from 'better-sqlite3';
import { formatOtio } from '../../../src/core/interchange/otio/otio-writer';
import type { RunView } from '../../../src/server/runs/views/run';
import { LiveServer } from '../../helpers/live-server';
import { diskState, put, sortSettings } from '../../helpers/sort-house';
import { cutOf, cutTimeline, makeFrames, wavBytes } from '../../helpers/trust-house';

const FILES = 200;
/** Every so many is a sound that a clip links; the rest is quick to take stock of. */
const SOUND_EVERY = 25;
const nameOf = (index: number) => `cart/${index % 30}/take ${index}.${index % SOUND_EVERY === 0 ? 'wav' : 'txt'}`;

let folder: string;
let server: LiveServer;
const built = mkdtempSync(join(tmpdir(), 'mill-shim-'));
const shim = join(built, 'no-links.so');
beforeAll(() => {
  execFileSync('g++', ['-x', 'c', '-shared', '-fPIC', '-o', shim, resolve('tests/helpers/no-links.c'), '-ldl']);
});
afterAll(() => rmSync(built, { recursive: true }));
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'mill-sort-'));
  server = new LiveServer(folder);
});
afterEach(async () => {
  await server.kill();
  rmSync(folder, { recursive: true, force: true });
});

/** Places that clips link by what the catalogue says while nobody has it open, and where nothing stands. */
function broken(source: string): string[] {
  const db = new Database(join(folder, 'data/catalogue.sqlite'), { readonly: true });
  const paths = db.prepare('SELECT path FROM links').pluck().all() as string[];
  db.close();
  return paths.filter((path) => !existsSync(join(source, path)));
}

/** `shim`: a file system without hard links, where a file has no second name for the moment of its move: the start mends what the end left. */
it.each([{ links: true }, { links: false }])(
  'killed at random points, sorted to the end, put back to the end: %j',
  { timeout: 240_000 },
  async ({ links }) => {
    const env: Record<string, string> = links ? {} : { LD_PRELOAD: shim, MILL_NO_LINKS: '1' };
    const source = join(folder, 'FOUNDRY-A');
    mkdirSync(source);
    const content = wavBytes(100);
    for (let index = 0; index < FILES; index++) put(source, nameOf(index), Buffer.concat([content, Buffer.from(String(index))]), 1_700_000_000 + index); // prettier-ignore
    await server.start(env);
    const { id: shelfId } = await server.post<{ id: string }>('shelves', { path: source });
    await server.post(`shelves/${shelfId}/stocktake`);
    await server.get(`shelves/${shelfId}/stocktake?wait=end`);
    const { id: projectId } = await server.post<{ id: string }>('projects', { name: 'Test', rate: { num: 25, den: 1 } });
    const cuts = Array.from({ length: FILES / SOUND_EVERY }, (_, index) => cutOf(nameOf(index * SOUND_EVERY), 0, 1));
    await server.post(`projects/${projectId}/timelines`, { name: 'cut.otio', text: formatOtio(cutTimeline('Cut', cuts, 'Audio')) });
    const before = diskState(source);
    const settings = sortSettings(shelfId, {
      scope: { of: 'folder', place: { shelfId, path: 'cart' } },
      names: { from: 'pattern', pattern: '{n:5}_{original}', level: 'everywhere' },
      perFolder: 100,
    });
    let seed = Number(process.env.MILL_SEED ?? 7);
    const random = () => (seed = (seed * 16_807) % 2_147_483_647) / 2_147_483_647;

    const through = async (request: { kind: string; projectId: string; settings: object }, kills: number): Promise<number> => {
      const { digest } = await server.post<{ digest: string }>('plans', request);
      const { id } = await server.post<{ id: number }>('runs', { ...request, digest });
      for (let kill = 0; kill < kills; kill++) {
        await wait(20 + random() * 250);
        await server.kill();
        if (links) expect(broken(source), `after kill ${kill}`).toEqual([]);
        await server.start(env);
        // Without links a file that is being renamed just now is on its way.
        if (links) expect(broken(source), `after start ${kill}`).toEqual([]);
        const { state } = await server.get<RunView>(`runs/${id}`);
        if (state === 'paused') await server.post(`runs/${id}/resume`);
        else if (state !== 'running' && state !== 'queued') break;
      }
      const { state } = await server.get<RunView>(`runs/${id}`);
      if (state === 'paused') await server.post(`runs/${id}/resume`);
      const run = await server.get<RunView>(`runs/${id}?wait=end`);
      expect([run.state, ...run.troubled.map(({ message }) => message)]).toEqual(['done']);
      return id;
    };

    const id = await through({ kind: 'sort', projectId, settings }, 2);
    expect(broken(source)).toEqual([]);
    const after = diskState(source);
    const contents = (disk: Record<string, string>) => Object.values(disk).filter((text) => !text.startsWith('folder')).sort(); // prettier-ignore
    expect(contents(after)).toEqual(contents(before));
    expect(existsSync(join(source, 'cart'))).toBe(false);
    await through({ kind: 'undo', projectId, settings: { runId: id, confirmed: true } }, 1);
    expect(diskState(source)).toEqual(before);
  },
);

it.each(['take 7.txt', 'Papers/take 20.txt'])(
  'ended at the very moment %s gets its name, without hard links: mended by the next start',
  { timeout: 60_000 },
  async (name) => {
    const source = join(folder, 'FOUNDRY-A');
    for (let index = 0; index < 12; index++) put(source, `cart/take ${index}.txt`, `take ${index}`);
    // Letters of the name alone: it goes by way of a third name.
    put(source, 'Test/papers/take 20.txt', 'letters');
    await server.start({ LD_PRELOAD: shim, MILL_NO_LINKS: '1' });
    const { id: shelfId } = await server.post<{ id: string }>('shelves', { path: source });
    await server.post(`shelves/${shelfId}/stocktake`);
    await server.get(`shelves/${shelfId}/stocktake?wait=end`);
    const { id: projectId } = await server.post<{ id: string }>('projects', { name: 'Test', rate: { num: 25, den: 1 } });
    await server.kill('SIGTERM');
    const before = diskState(source);
    await server.start({ LD_PRELOAD: shim, MILL_NO_LINKS: '1', MILL_DIE_AT: name });
    const settings = sortSettings(shelfId, { scope: { of: 'folder', place: { shelfId, path: '' } } });
    const ask = async (request: object) => {
      const { digest } = await server.post<{ digest: string }>('plans', request);
      return (await server.post<{ id: number }>('runs', { ...request, digest })).id;
    };
    const request = { kind: 'sort', projectId, settings };
    const { digest } = await server.post<{ digest: string }>('plans', request);
    const answer = server.ask('POST', 'runs', { ...request, digest }).catch(() => null);
    expect(await Promise.race([server.gone().then(() => 'ended'), wait(10_000)])).toBe('ended');
    await answer;
    await server.kill();
    await server.start({ LD_PRELOAD: shim, MILL_NO_LINKS: '1' });
    const id = (await server.get<{ rows: readonly RunView[] }>('runs')).rows.at(-1)!.id;
    const run = await server.get<RunView>(`runs/${id}?wait=end`);
    expect([run.state, ...run.troubled.map(({ message }) => message)]).toEqual(['done']);
    const undo = await ask({ kind: 'undo', projectId, settings: { runId: id, confirmed: true } });
    expect((await server.get<RunView>(`runs/${undo}?wait=end`)).state).toBe('done');
    expect(diskState(source)).toEqual(before);
  },
);

it('between disks: copied, read back, removed; killed in the middle, put back, what was changed since stays', { timeout: 120_000 }, async () => {
  const env = { LD_PRELOAD: shim, MILL_OTHER_DISK: '1' };
  const source = join(folder, 'FOUNDRY-A');
  for (let index = 0; index < 28; index++) put(source, `cart/take ${index}.txt`, Buffer.alloc(400_000, index));
  mkdirSync(join(source, 'renders'));
  await makeFrames(join(source, 'renders'), 'pour.', 1001, 8);
  // What a file has beside its bytes goes along, as far as the disk holds it.
  const kept = join(source, 'cart/take 7.txt');
  chmodSync(kept, 0o640);
  execFileSync('touch', ['-d', '@1700000000.123456789', kept]);
  const python = (code: string, ...args: string[]) =>
    execFileSync('python3', ['-c', `import os, sys\n${code}`, ...args], { encoding: 'utf8' }).trim();
  const hasAttributes = python("try:\n os.setxattr(sys.argv[1], 'user.note', b'second pour')\n print(1)\nexcept OSError: print(0)", kept) === '1';
  await server.start(env);
  const { id: shelfId } = await server.post<{ id: string }>('shelves', { path: source });
  await server.post(`shelves/${shelfId}/stocktake`);
  await server.get(`shelves/${shelfId}/stocktake?wait=end`);
  const { id: projectId } = await server.post<{ id: string }>('projects', { name: 'Test', rate: { num: 25, den: 1 } });
  const before = diskState(source);
  const go = async (request: object, kills: number) => {
    const { digest } = await server.post<{ digest: string }>('plans', request);
    const { id } = await server.post<{ id: number }>('runs', { ...request, digest });
    for (let kill = 0; kill < kills; kill++) {
      await wait(60 + kill * 90);
      await server.kill();
      await server.start(env);
      const { state } = await server.get<RunView>(`runs/${id}`);
      if (state === 'paused') await server.post(`runs/${id}/resume`);
    }
    const run = await server.get<RunView>(`runs/${id}?wait=end`);
    expect([run.state, ...run.troubled.map(({ message }) => message)]).toEqual(['done']);
    return id;
  };
  const beside = (path: string) => {
    const { mode, mtimeNs } = statSync(path, { bigint: true });
    const note = hasAttributes ? python("print(os.getxattr(sys.argv[1], 'user.note').decode())", path) : 'second pour';
    return [Number(mode & 0o777n).toString(8), String(mtimeNs), note];
  };
  const settings = sortSettings(shelfId, { scope: { of: 'folder', place: { shelfId, path: '' } } });
  const id = await go({ kind: 'sort', projectId, settings }, 2);
  expect(beside(join(source, 'Test/Papers/take 7.txt'))).toEqual(['640', '1700000000123456789', 'second pour']);
  const after = diskState(source);
  const contents = (disk: Record<string, string>) => Object.values(disk).filter((text) => !text.startsWith('folder')).sort(); // prettier-ignore
  expect(contents(after)).toEqual(contents(before));
  expect([existsSync(join(source, 'cart')), existsSync(join(source, 'renders'))]).toEqual([false, false]);
  const copied = await server.get<{ total: number }>(`runs/${id}/steps?filter=${encodeURIComponent('then removed where it was')}`);
  expect(copied.total).toBeGreaterThan(20);
  put(source, 'Test/Papers/take 3.txt', 'another by now');
  await go({ kind: 'undo', projectId, settings: { runId: id, confirmed: true } }, 1);
  const back = diskState(source);
  expect(beside(kept)).toEqual(['640', '1700000000123456789', 'second pour']);
  expect(existsSync(join(source, 'Test/Papers/take 3.txt'))).toBe(true);
  for (const [path, text] of Object.entries(before)) if (!path.endsWith('/') && path !== 'cart/take 3.txt') expect(back[path], path).toBe(text);
});

it(
  'copied twice in one read, killed in the middle: both copies whole in the end, nothing half-made left, taken back',
  { timeout: 120_000 },
  async () => {
    const [source, vault, second] = ['FOUNDRY-A', 'VAULT', 'SECOND'].map((name) => join(folder, name)) as [string, string, string];
    for (let index = 0; index < 16; index++) put(source, `cart/take ${index}.txt`, Buffer.alloc(3_000_000, index));
    for (const root of [join(source, 'renders'), vault, second]) mkdirSync(root);
    await makeFrames(join(source, 'renders'), 'pour.', 1001, 16);
    await server.start();
    const ids: string[] = [];
    for (const path of [source, vault, second]) ids.push((await server.post<{ id: string }>('shelves', { path })).id);
    const [shelfId, vaultId, secondId] = ids as [string, string, string];
    await server.post(`shelves/${shelfId}/stocktake`);
    await server.get(`shelves/${shelfId}/stocktake?wait=end`);
    const { id: projectId } = await server.post<{ id: string }>('projects', { name: 'Test', rate: { num: 25, den: 1 } });
    const before = [diskState(source), diskState(vault), diskState(second)];
    const go = async (request: object, kills: number) => {
      const { digest } = await server.post<{ digest: string }>('plans', request);
      const { id } = await server.post<{ id: number }>('runs', { ...request, digest });
      for (let kill = 0; kill < kills; kill++) {
        await wait(200 + kill * 200);
        await server.kill();
        await server.start();
        if ((await server.get<RunView>(`runs/${id}`)).state === 'paused') await server.post(`runs/${id}/resume`);
      }
      const run = await server.get<RunView>(`runs/${id}?wait=end`);
      expect([run.state, ...run.troubled.map(({ message }) => message)]).toEqual(['done']);
      return id;
    };
    const to = {
      destination: { shelfId: vaultId, path: '' },
      second: { shelfId: secondId, path: '' },
      makeClips: true,
      emptyFolders: false,
    } as const;
    const settings = sortSettings(shelfId, { scope: { of: 'folder', place: { shelfId, path: '' } }, action: 'copy', ...to });
    const id = await go({ kind: 'sort', projectId, settings }, 2);
    const files = (root: string) => Object.fromEntries(Object.entries(diskState(root)).filter(([path, text]) => !text.startsWith('folder') && path.includes('Test/'))); // prettier-ignore
    expect(Object.keys(files(vault))).toHaveLength(32);
    expect(files(second)).toEqual(files(vault));
    expect([...Object.keys(diskState(vault)), ...Object.keys(diskState(second))].filter((path) => path.includes('.mill-part'))).toEqual([]);
    expect(diskState(source)).toEqual(before[0]);
    await go({ kind: 'undo', projectId, settings: { runId: id, confirmed: true } }, 1);
    expect([diskState(source), diskState(vault), diskState(second)]).toEqual(before);
  },
);
