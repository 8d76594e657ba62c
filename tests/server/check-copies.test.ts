/** Whether a card may be formatted: real files on drives of the simulated bay. */
import { execFileSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, openSync, closeSync, readFileSync, rmSync, statSync, utimesSync, writeFileSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { CopiesDetail } from '../../src/core/planning/check-copies/check-copies';
import type { Plan } from '../../src/core/planning/plan/plan';
import { configBelow } from '../../src/server/config';
import { DriveBay } from '../../src/server/devices/drive-bay';
import { House } from '../../src/server/house';
import { makePlan } from '../../src/server/kinds/make-plan';
import { log } from '../../src/server/log/log';
import { registerShelf } from '../../src/server/stock/register-shelf';
import { stockNow } from '../helpers/take-stock';
import { wavBytes } from '../helpers/trust-house';

let folder = '';
let house: House;
let bay: DriveBay;
const roots = new Map<string, string>();
const ids = new Map<string, string>();
const on = (drive: string, path: string) => join(roots.get(drive)!, path);

/** Larger than what is read whole as stock is taken. */
const LONG = 1_600_000;

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'mill-copies-'));
  bay = new DriveBay(join(folder, 'bay'));
  for (const name of ['CARD', 'RAID', 'TRAVEL']) roots.set(name, bay.add({ name, capacityBytes: 10 ** 12 }));
  log.level = 'silent';
  house = new House({ ...configBelow(folder, 'silent'), roots: [bay.pluggedFolder], bayFolder: join(folder, 'bay') });
  for (const [name, root] of roots) ids.set(name, registerShelf(house.catalogue, house.mounts, root).id);
  mkdirSync(on('CARD', 'CLIPS'));
  for (const [index, name] of ['A001.wav', 'A002.wav'].entries()) writeFileSync(on('CARD', `CLIPS/${name}`), wavBytes(LONG, [], index));
  writeFileSync(on('CARD', 'INDEX.XML'), '<card/>');
  await stock('CARD');
});

afterEach(async () => {
  await house.close();
  rmSync(folder, { recursive: true, force: true });
});

const stock = (...drives: string[]) => Promise.all(drives.map((drive) => stockNow(house, ids.get(drive)!)));

function backUp(...drives: string[]): Promise<unknown> {
  for (const drive of drives) for (const entry of ['CLIPS', 'INDEX.XML']) cpSync(on('CARD', entry), on(drive, `Backup/${entry}`), { recursive: true, preserveTimestamps: true }); // prettier-ignore
  return stock(...drives);
}

const plan = (wanted = 2, readAgain = false) => makePlan(house.catalogue, house.mounts, null, { kind: 'check-copies', settings: { shelfId: ids.get('CARD')!, wanted, readAgain } }) as Promise<Plan<CopiesDetail>>; // prettier-ignore

async function run(read: Plan): Promise<{ state: string; conclusion: string | null; failed: (string | null)[] }> {
  const id = house.runner.submit(read);
  const { state } = await house.runner.finished(id);
  return { state, conclusion: house.catalogue.runs.conclusion(id), failed: house.catalogue.runs.remarks(id).troubled.map(({ message }) => message) };
}

const states = ({ detail }: Plan<CopiesDetail>) => Object.fromEntries(detail.rows.map(({ path, state }) => [path, state]));
const codes = ({ findings }: Plan) => findings.map(({ code }) => code);

it('tells that all is verified once both sides were read to the end, as sha256sum has it', async () => {
  await backUp('RAID', 'TRAVEL');
  const first = await plan();
  // A small file was read whole by the stocktake already.
  expect(states(first)).toEqual({ 'CLIPS/A001.wav': 'compare', 'CLIPS/A002.wav': 'compare', 'INDEX.XML': 'enough' });
  expect(codes(first)).toEqual(['copies-compare']);
  expect(first.headline).toMatchObject({ value: 1, of: 3 });
  const told = await run(first);
  expect(told).toEqual({ state: 'done', conclusion: 'All 3 files of CARD are verified on at least 2 other drives: RAID, TRAVEL.', failed: [] });
  const sums = ['CARD/CLIPS', 'RAID/Backup/CLIPS', 'TRAVEL/Backup/CLIPS'].map((at) => {
    const [drive, ...path] = at.split('/') as [string, ...string[]];
    const place = { shelfId: ids.get(drive)!, path: `${path.join('/')}/A001.wav` };
    return [
      house.catalogue.items.at(place)!.sha256,
      execFileSync('sha256sum', [on(drive, place.path)])
        .toString()
        .slice(0, 64),
    ];
  });
  expect(new Set(sums.flat()).size).toBe(1);
  const again = await plan();
  expect(states(again)).toEqual({ 'CLIPS/A001.wav': 'enough', 'CLIPS/A002.wav': 'enough', 'INDEX.XML': 'enough' });
  expect(codes(again)).toEqual(['copies-enough']);
  expect(again.steps.filter(({ phase }) => phase === 1)).toEqual([]);
  // All of it once more, where that is asked for.
  expect((await plan(2, true)).steps.filter(({ phase }) => phase === 1).length).toBe(9);
});

it('does not take for a copy what differs by one byte between the samples', async () => {
  await backUp('RAID', 'TRAVEL');
  const path = on('RAID', 'Backup/CLIPS/A001.wav');
  const { atime, mtime, size } = statSync(path);
  const file = openSync(path, 'r+');
  const at = Math.floor(size * 0.37);
  writeSync(file, Buffer.from([readFileSync(path)[at]! ^ 1]), 0, 1, at);
  closeSync(file);
  utimesSync(path, atime, mtime);
  await stock('RAID');
  const first = await plan();
  expect(states(first)['CLIPS/A001.wav']).toBe('compare');
  const told = await run(first);
  expect(told).toMatchObject({ state: 'failed', conclusion: null });
  expect(told.failed[0]).toBe('Only verified on 1 other drive: TRAVEL. Do not format yet.');
  expect(states(await plan())).toMatchObject({ 'CLIPS/A001.wav': 'few', 'CLIPS/A002.wav': 'enough' });
});

it('counts drives, not folders: neither the card itself nor two folders of one drive', async () => {
  await backUp('RAID');
  cpSync(on('RAID', 'Backup'), on('RAID', 'Second'), { recursive: true, preserveTimestamps: true });
  cpSync(on('CARD', 'CLIPS/A002.wav'), on('CARD', 'A002 again.wav'), { preserveTimestamps: true });
  await stock('RAID', 'CARD');
  await run(await plan(1));
  const now = await plan(2);
  expect(now.detail.counts).toMatchObject({ few: 4, enough: 0 });
  expect(codes(now)).toEqual(['copies-few']);
  expect((await run(await plan(1))).conclusion).toBe('All 4 files of CARD are verified on another drive: RAID.');
});

it('asks once more at that moment: copies that went or changed, and files that came, after the plan was read', async () => {
  await backUp('RAID', 'TRAVEL');
  await run(await plan());
  const read = await plan();
  expect(codes(read)).toEqual(['copies-enough']);
  rmSync(on('RAID', 'Backup/CLIPS/A001.wav'));
  writeFileSync(on('TRAVEL', 'Backup/CLIPS/A002.wav'), wavBytes(LONG, [], 1));
  const told = await run(read);
  expect(told).toMatchObject({ state: 'failed', conclusion: null });
  expect(told.failed.slice(0, 2)).toEqual(['Only verified on 1 other drive: TRAVEL. Do not format yet.', 'Only verified on 1 other drive: RAID. Do not format yet.']); // prettier-ignore
  await backUp('RAID', 'TRAVEL');
  await stock('CARD');
  await run(await plan());
  const later = await plan();
  writeFileSync(on('CARD', 'CLIPS/A003.wav'), wavBytes(LONG, [], 3));
  expect(await run(later)).toMatchObject({ conclusion: null, failed: ['1 file came to CARD meanwhile: CLIPS/A003.wav. Check it again before you format it.'] }); // prettier-ignore
  const now = await plan();
  expect([now.blocked, states(now)['CLIPS/A003.wav']]).toEqual(['1 file is not as the last stocktake saw it: A003.wav.', 'unknown']);
  await stock('CARD');
  expect(states(await plan())['CLIPS/A003.wav']).toBe('none');
});

it('does not count what is unplugged, and warns of hidden media; empty files hold nothing', async () => {
  await backUp('RAID', 'TRAVEL');
  await run(await plan());
  mkdirSync(on('CARD', '.Trashes/501'), { recursive: true });
  writeFileSync(on('CARD', '.Trashes/501/A000.mov'), 'once a take');
  writeFileSync(on('CARD', '._A001.wav'), 'no media');
  writeFileSync(on('CARD', 'EMPTY.LOG'), '');
  await stock('CARD');
  bay.setPlugged('TRAVEL', false);
  house.mounts.lookAgain();
  const now = await plan();
  expect(now.detail.counts).toMatchObject({ few: 3, empty: 1, none: 0 });
  expect(codes(now).sort()).toEqual(['copies-few', 'copies-hidden', 'copies-unplugged']);
  expect(now.findings.find(({ code }) => code === 'copies-hidden')!.message).toContain('1 hidden media file, for instance in a trash folder, is not checked: .Trashes/501/A000.mov'); // prettier-ignore
  bay.setPlugged('TRAVEL', true);
  house.mounts.lookAgain();
  expect(codes(await plan())).toEqual(['copies-enough', 'copies-hidden']);
});

it('reads every frame of a sequence, and sees the one that differs', async () => {
  const frame = (number: number) => Buffer.concat([Buffer.from('SDPX'), Buffer.alloc(1_200_000, number)]);
  for (const drive of ['CARD', 'RAID', 'TRAVEL']) {
    mkdirSync(on(drive, 'SCAN'));
    for (let number = 1; number <= 12; number++) {
      const path = on(drive, `SCAN/scan_${String(number).padStart(4, '0')}.dpx`);
      writeFileSync(path, frame(number));
      utimesSync(path, 1_790_000_000 + number, 1_790_000_000 + number);
    }
  }
  const path = on('TRAVEL', 'SCAN/scan_0007.dpx');
  const file = openSync(path, 'r+');
  writeSync(file, Buffer.from([99]), 0, 1, 700_001);
  closeSync(file);
  utimesSync(path, 1_790_000_007, 1_790_000_007);
  await backUp('RAID', 'TRAVEL');
  await stock('CARD');
  const first = await plan();
  const scan = first.detail.rows.find(({ path: at }) => at.startsWith('SCAN'))!;
  expect(scan).toMatchObject({ state: 'compare', bytes: 12 * 1_200_004 });
  const told = await run(first);
  expect(told.failed).toEqual(['Only verified on 1 other drive: RAID. Do not format yet.', expect.stringContaining('Left out, because a step before it failed')]); // prettier-ignore
});
