/** Renditions taken along: copied to a shelf each, read from there with everything else away, and taken back. */
import { execFileSync } from 'node:child_process';
import { appendFileSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { TakeAlongSettings } from '../../src/core/planning/take-along/settings';
import type { TakeAlongDetail } from '../../src/core/planning/take-along/take-along';
import { clipsOfAll, proxySettings } from '../helpers/proxy-house';
import { makeHouse, makeIntra, type SmallHouse } from '../helpers/small-house';
import { filesBelow, go, makeFrames, states, undo, wavBytes } from '../helpers/trust-house';

let house: SmallHouse;
beforeEach(() => (house = makeHouse()));
afterEach(() => house.remove());

const at = (name: string) => join(house.source.root, name);
const vault = () => filesBelow(house.vault.root).filter((path) => !path.startsWith('.'));
const clips = () => house.house.catalogue.clips.ofProject(house.projectId);
const none = { isTaken: false, destination: null, folderName: 'x' };
const settings = (rows: Partial<TakeAlongSettings['rows']>, own: Partial<TakeAlongSettings> = {}): TakeAlongSettings => ({
  scope: { of: 'project' },
  rows: { source: none, mezzanine: none, proxy: none, finished: none, ...rows },
  layout: 'sources',
  ...own,
});
const row = (folderName: string) => ({ isTaken: true, destination: { shelfId: house.vault.id, path: '' }, folderName });
const plan = (rows: Partial<TakeAlongSettings['rows']>, own: Partial<TakeAlongSettings> = {}) => house.plan({ kind: 'take-along', settings: settings(rows, own) }); // prettier-ignore
const told = async (rows: Partial<TakeAlongSettings['rows']>) =>
  ((await plan(rows)).detail as TakeAlongDetail).rows.map(({ name, kind, fate }) => `${name} ${kind}: ${fate}`).sort();

/** A take with picture and sound, a sequence, a recording and music, each a clip. */
async function house4(): Promise<void> {
  await makeIntra(at('A001_C001.mov'), 20, '10:00:00:00');
  await makeIntra(at('A001_C002.mov'), 20, '11:00:00:00');
  mkdirSync(at('pour'));
  await makeFrames(at('pour'), 'pour.', 1001, 12);
  writeFileSync(at('bell.wav'), wavBytes(4800));
  await clipsOfAll(house);
}

it('sources to one folder, all clips read from that shelf, and back again', { timeout: 60_000 }, async () => {
  await house4();
  const before = clips();
  const sheet = await plan({ source: row('On the road') });
  expect((sheet.detail as TakeAlongDetail).kinds.find(({ kind }) => kind === 'source')).toMatchObject({ clips: 4, files: 4, lacking: 0 });
  const run = await go(house, sheet);
  expect(run.run.state).toBe('done');
  expect(vault().length).toBe(3 + 12);
  // The same bytes, by a tool of its own.
  const sum = (path: string) => execFileSync('sha256sum', [path], { encoding: 'utf8' }).split(' ')[0];
  expect(sum(join(house.vault.root, 'On the road/FOUNDRY-A/A001_C001.mov'))).toBe(sum(at('A001_C001.mov')));
  rmSync(house.source.root, { recursive: true });
  expect(new Set(Object.values(await states(house)))).toEqual(new Set(['present']));
  expect(await told({ source: row('On the road') })).toEqual(['A001_C001', 'A001_C002', 'bell', 'pour.[1001-1012]'].map((name) => `${name} source: there already`)); // prettier-ignore
  await undo(house, run.id);
  expect(clips()).toEqual(before);
  expect(vault()).toEqual([]);
});

it('proxies with what is its own proxy; those that lack one are named, and none is made up', { timeout: 90_000 }, async () => {
  await house4();
  const clipIds = clips().filter(({ name }) => name === 'A001_C001').map(({ id }) => id); // prettier-ignore
  const proxies = proxySettings(house, { scope: { of: 'clips', clipIds }, presetId: 'pocket', destination: { shelfId: house.source.id, path: '' } });
  await go(house, await house.plan({ kind: 'proxies', settings: proxies }));
  const sheet = await plan({ proxy: row('Light') }, { layout: 'clip' });
  const { rows, lackingProxies } = sheet.detail as TakeAlongDetail;
  expect(rows.map(({ name, fate }) => `${name}: ${fate}`).sort()).toEqual([
    'A001_C001: copied',
    'A001_C002: lacks',
    'bell: copied',
    'pour.[1001-1012]: lacks',
  ]);
  expect([lackingProxies.clipIds.length, sheet.findings.map(({ code }) => code)]).toEqual([2, ['lacking-proxies', 'reads-copies']]);
  await go(house, sheet);
  expect(vault()).toEqual(['Light/A001_C001/A001_C001.mov', 'Light/bell/bell.wav']);
  const proxy = clips()
    .find(({ name }) => name === 'A001_C001')!
    .renditions.find(({ kind }) => kind === 'proxy')!;
  expect(proxy.links[0]!.place).toEqual({ shelfId: house.vault.id, path: 'Light/A001_C001/A001_C001.mov' });
  // The source stays where it was.
  expect(clips().find(({ name }) => name === 'A001_C001')!.renditions[0]!.links[0]!.place!.shelfId).toBe(house.source.id);
});

it('a file that changes under it is not taken, its clip keeps what it reads, and trying again takes the rest', { timeout: 60_000 }, async () => {
  await house4();
  const sheet = await plan({ source: row('On the road') });
  appendFileSync(at('bell.wav'), 'x');
  const before = clips();
  const run = await go(house, sheet);
  expect(run.run.state).toBe('failed');
  // Nothing points at a copy before all of them stand.
  expect(clips()).toEqual(before);
  await house.stocktake(house.source.id);
  expect(await told({ source: row('On the road') })).toContain('bell source: cannot');
  const next = await go(house, await plan({ source: row('On the road') }));
  expect(next.run.state).toBe('done');
  expect(clips().filter(({ renditions }) => renditions[0]!.links[0]!.place!.shelfId === house.vault.id).map(({ name }) => name).sort()).toEqual(['A001_C001', 'A001_C002', 'pour.[1001-1012]']); // prettier-ignore
});

it('a clip that was pointed elsewhere meanwhile is left so, by the run and by its undo', { timeout: 60_000 }, async () => {
  await house4();
  const run = await go(house, await plan({ source: row('On the road') }));
  const { catalogue } = house.house;
  const bell = clips().find(({ name }) => name === 'bell')!.renditions[0]!;
  const own = { ...bell.links[0]!, place: { shelfId: house.source.id, path: 'elsewhere/bell.wav' } };
  catalogue.clips.relink(bell.id, 0, own);
  await undo(house, run.id);
  expect(clips().find(({ name }) => name === 'bell')!.renditions[0]!.links[0]!.place!.path).toBe('elsewhere/bell.wav');
  expect(clips().find(({ name }) => name.startsWith('pour'))!.renditions[0]!.links[0]!.place!.shelfId).toBe(house.source.id);
  expect(readFileSync(at('bell.wav')).length).toBeGreaterThan(0);
});
