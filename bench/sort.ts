/** Sorting against plain tools in the same run: planning a hundred thousand files, moving ten thousand, copying and proving. */
import { STANDARD_CARDS } from '../src/core/media/card';
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { planSort } from '../src/core/planning/sort/sort';
import type { SortSettings } from '../src/core/planning/sort/settings';
import { OWN_SCHEMES } from '../src/core/scheme/own-schemes';
import { House } from '../src/server/house';
import { makePlan } from '../src/server/kinds/make-plan';
import { registerShelf } from '../src/server/stock/register-shelf';
import { closeThreads } from '../src/server/threads/pool';
import { configOf, itemAt } from './made-up';
import { THIS_MACHINE } from '../src/server/runs/actor';
import { takeStockOf } from '../src/server/usecases/shelves';

const PLANNED = 100_000;
const MOVED = 10_000;
const folder = mkdtempSync(join(process.env.MILL_SHELF_BENCH ?? tmpdir(), 'mill-bench-'));

async function timed<T>(work: () => Promise<T> | T): Promise<{ seconds: number; result: T }> {
  const began = process.hrtime.bigint();
  const result = await work();
  return { seconds: Number(process.hrtime.bigint() - began) / 1e9, result };
}

function settingsOf(shelfId: string, own: Partial<SortSettings>): SortSettings {
  return {
    scope: { of: 'folder', place: { shelfId, path: '' } }, scheme: OWN_SCHEMES[0]!, structure: 'scheme', destination: { shelfId, path: '' }, rootName: '{project}', action: 'move',
    names: { from: 'original', pattern: '', level: 'everywhere' }, clashes: 'number', equalAsOne: false, perFolder: null, emptyFolders: true,
  second: null,
  makeClips: false, removeEmptied: true, whole: [], exceptions: [], date: '2026-11-26', ...own,
  }; // prettier-ignore
}

async function planMany(count: number): Promise<number> {
  const items = Array.from({ length: count }, (_, index) => itemAt('A', index));
  const input = {
    project: { id: 'p', name: 'Bronze Hour' },
    shelves: [{ id: 'A', name: 'A', attached: true, writable: true, capacityBytes: 1e15, freeBytes: 1e15 }],
    items,
    chosen: new Set(items.map(({ id }) => id)),
    extras: [],
    hollow: [],
    cannotGo: [],
    papers: [],
    uses: new Map(),
    used: new Set<string>(),
    takes: [],
    days: new Map(items.map(({ id }, index) => [id, `2026-03-${String(1 + (index % 28)).padStart(2, '0')}`])),
    frames: new Map(),
    standing: [],
    standingSecond: [],
    copied: new Map(),
    named: new Map(),
    copiesOnly: new Set<string>(),
    otherWriter: null,
    cards: STANDARD_CARDS,
    onCard: new Set<string>(),
    notHeld: new Map<string, string>(),
    sealed: [],
    nested: [],
    open: new Map(),
    volumes: new Map([['A', '1']]),
    others: new Set<string>(),
  };
  const { seconds, result } = await timed(() => planSort(input, settingsOf('A', {})));
  console.log(`plan of ${count} files: ${seconds.toFixed(2)} s, ${result.steps.length} steps`);
  return seconds;
}

/** A house with one shelf of small files that are no media: nothing is measured but the sort itself. */
async function houseWith(name: string, count: number, bytes: number) {
  const home = join(folder, name);
  const root = join(home, 'SHELF');
  for (let index = 0; index < count; index++) {
    const into = join(root, `in ${index % 50}`);
    if (index < 50) mkdirSync(into, { recursive: true });
    writeFileSync(join(into, `file ${index}.txt`), Buffer.alloc(bytes, index));
  }
  const house = new House(configOf(home));
  const { id } = registerShelf(house.catalogue, house.mounts, root);
  await house.runner.finished(await takeStockOf(house, THIS_MACHINE, { id, name: 'SHELF' }));
  house.catalogue.projects.add({ id: 'p', name: 'Bronze Hour', rate: { num: 25, den: 1 }, dropFrame: false, createdAt: '2026-11-26T00:00:00Z' });
  return { house, id, root };
}

async function run(name: string, action: 'move' | 'copy', count: number, bytes: number): Promise<number> {
  const { house, id } = await houseWith(name, count, bytes);
  const plan = await makePlan(house.catalogue, house.mounts, 'p', { kind: 'sort', settings: settingsOf(id, { action }) });
  const { seconds, result } = await timed(() => house.runner.finished(house.runner.submit(plan)));
  if (result.state !== 'done') throw new Error(`the ${action} came out ${result.state}`);
  await house.close();
  return seconds;
}

const [half, whole] = [await planMany(PLANNED / 2), await planMany(PLANNED)];
console.log(`twice the files: ${(whole / half).toFixed(2)} times the time`);

const moved = await run('move', 'move', MOVED, 1_000);
const plain = join(folder, 'plain');
mkdirSync(join(plain, 'to'), { recursive: true });
for (let index = 0; index < MOVED; index++) writeFileSync(join(plain, `file ${index}.txt`), Buffer.alloc(1_000, index));
const { seconds: mv } = await timed(() =>
  execFileSync('sh', ['-c', `find . -maxdepth 1 -type f -print0 | xargs -0 mv -t to && sync -f .`], { cwd: plain }),
);
console.log(
  `move of ${MOVED} files, journalled and followed by the catalogue: ${moved.toFixed(2)} s; mv and sync ${mv.toFixed(2)} s, ratio ${(moved / mv).toFixed(1)}`,
);

const BIG = 64 * 1024 * 1024;
const copied = await run('copy', 'copy', 8, BIG);
const big = join(folder, 'big');
mkdirSync(join(big, 'to'), { recursive: true });
for (let index = 0; index < 8; index++) writeFileSync(join(big, `file ${index}.txt`), Buffer.alloc(BIG, index));
const { seconds: cp } = await timed(() =>
  execFileSync('sh', ['-c', 'cp file* to && sync -f . && sha256sum file* to/file* > /dev/null'], { cwd: big }),
);
console.log(
  `copy of 8 files of 64 MiB, read back: ${copied.toFixed(2)} s; cp, sync and sha256sum of both sides ${cp.toFixed(2)} s, ratio ${(copied / cp).toFixed(2)}`,
);
await closeThreads();
rmSync(folder, { recursive: true, force: true });
