/**
 * A house of the version before crates were recorded (schema 23), with its drives: made by that version, whose process was
 * killed while a sort gave 160 files their new names, some of them under both. `before.json`: the ids, and how FOUNDRY-A stood
 * before the sort. This version opens it, goes on with the sort, takes back what that one did, and checks the crate.
 */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import Database from 'better-sqlite3';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { RunView } from '../../src/server/runs/views/run';
import { LiveServer } from '../helpers/live-server';
import { diskState } from '../helpers/sort-house';

interface Before {
  /** Shelves FOUNDRY-A and VAULT. */
  readonly a: string;
  readonly v: string;
  readonly projectId: string;
  readonly pull: number;
  readonly crate: number;
  readonly sort: number;
  readonly before: Readonly<Record<string, string>>;
  /** Files of both drives at the end of its process, by inode. */
  readonly files: Readonly<Record<string, { readonly path: string; readonly changedNs: string }>>;
}

const folder = mkdtempSync(join(tmpdir(), 'mill-before-'));
const source = join(folder, 'FOUNDRY-A');
const vault = join(folder, 'VAULT');
const server = new LiveServer(folder);
let was: Before;

/** Unpacked files have other inodes and times of change: what that version noted of them is noted of these, as in a house that never moved. */
function asNeverMoved(): void {
  const db = new Database(join(folder, 'data/catalogue.sqlite'));
  const moved = (text: string) =>
    text.replace(/"changedNs":"(\d+)","inode":"(\d+)","bornNs":"\d+"/g, (whole, changedNs: string, inode: string) => {
      const file = was.files[inode];
      if (!file) return whole;
      const now = statSync(join(folder, file.path), { bigint: true });
      return `"changedNs":"${changedNs === file.changedNs ? now.ctimeNs : changedNs}","inode":"${now.ino}","bornNs":"${now.birthtimeNs}"`;
    });
  db.function('moved', moved as (text: unknown) => string);
  db.exec(`UPDATE items SET identity = moved(identity) WHERE identity IS NOT NULL; UPDATE run_steps SET step = moved(step);
    UPDATE run_steps SET pending = moved(pending) WHERE pending IS NOT NULL; UPDATE run_steps SET outcome = moved(outcome) WHERE outcome IS NOT NULL`);
  db.close();
}

beforeAll(async () => {
  execFileSync('tar', ['-xzf', resolve('tests/fixtures/house-of-schema-23.tar.gz'), '-C', folder]);
  was = JSON.parse(readFileSync(join(folder, 'before.json'), 'utf8')) as Before;
  asNeverMoved();
  await server.start();
});
afterAll(async () => {
  await server.kill();
  rmSync(folder, { recursive: true, force: true });
});

const endOf = async (id: number) => {
  const run = await server.get<RunView>(`runs/${id}?wait=end`);
  return [run.state, ...run.troubled.map(({ message }) => message)];
};
const run = async (kind: string, settings: object) => {
  const request = { kind, projectId: was.projectId, settings };
  const { digest } = await server.post<{ digest: string }>('plans', request);
  return endOf((await server.post<{ id: number }>('runs', { ...request, digest })).id);
};

it('its sort goes on where the process ended: no file is lost, doubled or left under two names', async () => {
  // Of a catalogue that stands elsewhere than before nothing goes on by itself: the other may be at work on the same drives.
  const { state, trouble } = await server.get<RunView>(`runs/${was.sort}`);
  expect([state, trouble]).toEqual(['paused', expect.stringContaining('copy')]);
  await server.post(`runs/${was.sort}/resume`);
  expect(await endOf(was.sort)).toEqual(['done']);
  const after = diskState(source);
  const contents = (disk: Readonly<Record<string, string>>) => Object.values(disk).filter((text) => !text.startsWith('folder')).sort(); // prettier-ignore
  expect(contents(after)).toEqual(contents(was.before));
  expect(existsSync(join(source, 'cart'))).toBe(false);
  for (const path of Object.keys(after)) if (!path.endsWith('/')) expect([path, statSync(join(source, path)).nlink]).toEqual([path, 1]);
});

it('that sort is taken back: all stands where it stood, with its times', async () => {
  expect(await run('undo', { runId: was.sort, confirmed: true })).toEqual(['done']);
  expect(diskState(source)).toEqual(was.before);
});

it('its crate is known with all that it holds, is checked, and counts as a safe copy', async () => {
  await server.post(`shelves/${was.v}/stocktake`);
  await server.get(`shelves/${was.v}/stocktake?wait=end`);
  const crates = async () => server.get<readonly { id: string; standing: { state: string } }[]>(`projects/${was.projectId}/crates`);
  const [crate] = await crates();
  expect(await run('check-crate', { crateId: crate!.id })).toEqual(['done']);
  expect((await crates()).map(({ standing }) => standing.state)).toEqual(['whole']);
  // The lists as sha256sum, GNU coreutils, reads them.
  const root = join(vault, 'Casting day');
  const checked = execFileSync('sha256sum', ['-c', 'manifest-sha256.txt'], { cwd: root, encoding: 'utf8' });
  expect(checked.split('\n').filter((line) => line.endsWith(': OK'))).toHaveLength(readFileSync(join(root, 'manifest-sha256.txt'), 'utf8').trim().split('\n').length); // prettier-ignore
});

it('its pull is taken back: what that made goes, the crate and the originals stay', async () => {
  expect(await run('undo', { runId: was.pull, confirmed: true })).toEqual(['done']);
  expect(existsSync(join(vault, 'pulled'))).toBe(false);
  expect(existsSync(join(vault, 'Casting day/bagit.txt'))).toBe(true);
  expect(diskState(source)).toEqual(was.before);
});

it('is kept beside as it was', async () => {
  await server.kill('SIGTERM');
  const data = join(folder, 'data');
  const kept = readdirSync(data).filter((name) => name.startsWith('catalogue.sqlite.before-'));
  expect(kept).toHaveLength(1);
  const old = new Database(join(data, kept[0]!), { readonly: true });
  expect(old.pragma('user_version', { simple: true })).toBe(23);
  expect(old.prepare('SELECT count(*) FROM runs').pluck().get()).toBe(3);
  old.close();
});
