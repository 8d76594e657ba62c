/** Renditions taken along: copied to a shelf each, read from there with everything else away, and taken back. */
import { execFileSync } from 'node:child_process';
import { appendFileSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { ProxyDetail } from '../../src/core/planning/proxies/proxies';
import type { ProxySettings } from '../../src/core/planning/proxies/settings';
import type { TakeAlongSettings, Trip } from '../../src/core/planning/take-along/settings';
import type { TakeAlongDetail } from '../../src/core/planning/take-along/take-along';
import { clipsOfAll, proxySettings } from '../helpers/proxy-house';
import { makeHouse, makeIntra, type SmallHouse } from '../helpers/small-house';
import { filesBelow, go, makeFrames, states, undo, wavBytes } from '../helpers/trust-house';
import { Study } from '../../src/server/questions/study';

let house: SmallHouse;
beforeEach(() => (house = makeHouse()));
afterEach(() => house.remove());

const at = (name: string) => join(house.source.root, name);
const vault = () => filesBelow(house.vault.root).filter((path) => !path.startsWith('.'));
/** What was learned of files as they were read whole stays. */
const clips = () => house.house.catalogue.clips.ofProject(house.projectId).map(({ renditions, ...clip }) => ({ ...clip, renditions: renditions.map((own) => ({ ...own, links: own.links.map(({ place, url, expected: { sha256: _read, ...expected } }) => ({ place, url, expected })) })) })); // prettier-ignore
const none = { isTaken: false, destination: null, folderName: 'x' };
const settings = (rows: Partial<TakeAlongSettings['rows']>, own: Partial<TakeAlongSettings> = {}): TakeAlongSettings => ({
  scope: { of: 'project' },
  rows: { source: none, mezzanine: none, proxy: none, finished: none, ...rows },
  trip: null,
  layout: 'sources',
  asHome: false,
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
  expect([lackingProxies.clips, sheet.findings.map(({ code }) => code)]).toEqual([2, ['lacking-proxies', 'reads-copies']]);
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

const homes = () => house.house.catalogue.projects.get(house.projectId)!.homes;
const proxyOf = (name: string) =>
  clips()
    .find((clip) => clip.name === name)!
    .renditions.find(({ kind }) => kind === 'proxy')?.links[0]?.place;

it(
  'where proxies are made is their home: a run that changes it says so, what stands elsewhere is brought, and all of it goes back',
  { timeout: 90_000 },
  async () => {
    await house4();
    const only = (name: string) => ({
      of: 'clips' as const,
      clipIds: clips()
        .filter((clip) => clip.name === name)
        .map(({ id }) => id),
    });
    const [first, second] = [
      { shelfId: house.source.id, path: 'Light' },
      { shelfId: house.vault.id, path: 'Small' },
    ];
    const make = (name: string, own: Partial<ProxySettings>) => house.plan({ kind: 'proxies', settings: proxySettings(house, { scope: only(name), presetId: 'pocket', asHome: true, ...own }) }); // prettier-ignore
    await go(house, await make('A001_C001', { destination: { shelfId: house.source.id, path: '' }, folderName: 'Light' }));
    expect(homes()).toEqual({ proxy: first });
    // No destination: home. Nothing to say of it.
    const home = await make('pour.[1001-1012]', { destination: null });
    expect([home.findings.map(({ code }) => code), home.steps.map(({ to }) => to?.path)]).toEqual([[], ['Light/pour.mov']]);
    const moved = await make('A001_C002', { folderName: 'Small' });
    expect(moved.findings.find(({ code }) => code === 'home')!.message).toBe(
      'Proxies are at home in VAULT / Small then, no longer in FOUNDRY-A / Light.',
    );
    expect((moved.detail as ProxyDetail).elsewhere).toBe(0);
    const run = await go(house, moved);
    expect(homes()).toEqual({ proxy: second });
    // What stands elsewhere is counted, and listed apart.
    const settings = proxySettings(house, { scope: { of: 'project' }, presetId: 'pocket', destination: null });
    const { elsewhere, rows } = (await house.plan({ kind: 'proxies', settings })).detail as ProxyDetail;
    const apart = rows.filter(({ isElsewhere }) => isElsewhere).map(({ name }) => name);
    expect([elsewhere, apart.sort()]).toEqual([1, ['A001_C001']]);
    const listed = await new Study(house.house.catalogue, house.house.mounts).answer({ ask: 'plan-rows', projectId: house.projectId, request: { kind: 'proxies', settings }, group: 'elsewhere', query: { filter: '', sort: 'name', down: false, limit: 9, offset: 0 } }); // prettier-ignore
    expect(listed).toMatchObject({ total: 1, rows: [{ name: 'A001_C001' }] });
    // Brought by taking along what has no destination of its own.
    const bringing = await plan({ proxy: { isTaken: true, destination: null, folderName: 'never asked' } }, { layout: 'clip', asHome: true });
    expect(bringing.findings.some(({ code }) => code === 'home')).toBe(false);
    await go(house, bringing);
    expect([proxyOf('A001_C001'), proxyOf('A001_C002')]).toEqual([{ ...second, path: 'Small/A001_C001/A001_C001.mov' }, { ...second, path: 'Small/A001_C002.mov' }]); // prettier-ignore
    // One that was settled by hand meanwhile is left so.
    const third = { shelfId: house.vault.id, path: 'Elsewhere' };
    house.house.catalogue.projects.setHomes(house.projectId, { proxy: third });
    await undo(house, run.id);
    expect(homes()).toEqual({ proxy: third });
    const without = await go(house, await make('A001_C002', { asHome: false, folderName: 'Loose' }));
    expect([homes(), without.run.state]).toEqual([{ proxy: third }, 'done']);
    await undo(house, (await go(house, await make('A001_C002', { onlyLacking: false, folderName: 'Again' }))).id);
    expect(homes()).toEqual({ proxy: third });
  },
);

it('on a trip the best that fits goes along, and with the sources away every clip is read from the drive', { timeout: 90_000 }, async () => {
  await house4();
  const light = {
    presetId: 'pocket' as const,
    size: { by: 'share' as const, share: 4 as const },
    asHome: false,
    destination: { shelfId: house.source.id, path: '' },
  };
  await go(house, await house.plan({ kind: 'proxies', settings: proxySettings(house, light) }));
  const bytes = (kind: string) => Object.fromEntries(clips().map(({ name, renditions }) => [name, house.house.catalogue.items.at(renditions.find((one) => one.kind === kind)?.links[0]?.place ?? { shelfId: '', path: '' })?.sizeBytes ?? 0])); // prettier-ignore
  const [heavy, small] = [bytes('source'), bytes('proxy')];
  const least = small.A001_C001! + small.A001_C002! + small['pour.[1001-1012]']! + heavy.bell!;
  const trip = (own: Partial<Trip>): Trip => ({
    destination: { shelfId: house.vault.id, path: '' },
    folderName: 'Trip',
    days: 2,
    dayBytes: 1000,
    mostBytes: null,
    ...own,
  });
  const packed = async (own: Partial<Trip>) => plan({}, { trip: trip(own) });
  const told = (sheet: Awaited<ReturnType<typeof packed>>) => (sheet.detail as TakeAlongDetail).rows.map(({ name, kind, fate, insteadOf }) => `${name} ${fate === 'copied' ? kind : fate}${insteadOf ? `, not its ${insteadOf}` : ''}`).sort(); // prettier-ignore
  // All of it: every clip in its source.
  expect(told(await packed({}))).toEqual(['A001_C001 source', 'A001_C002 source', 'bell source', 'pour.[1001-1012] source']);
  // Just enough for light ones; one byte less, and one stays behind.
  const lightest = await packed({ mostBytes: least });
  expect(told(lightest)).toEqual(['A001_C001 proxy, not its source', 'A001_C002 proxy, not its source', 'bell source', 'pour.[1001-1012] proxy, not its source']); // prettier-ignore
  expect((lightest.detail as TakeAlongDetail).trip).toMatchObject({ room: least, clips: { source: 1, proxy: 3 }, left: { clips: 0 } });
  const less = await packed({ mostBytes: least - 1 });
  expect([told(less).filter((row) => row.endsWith('no room')).length, less.findings.map(({ code }) => code)]).toEqual([1, ['no-room-for', 'given-up', 'reads-copies']]); // prettier-ignore
  // Nothing is left when every day takes more than the drive has.
  const none = await packed({ days: 365, dayBytes: 10 ** 12 });
  expect([none.blocked, none.steps]).toEqual([expect.stringContaining('has no room for it'), []]);
  const mixed = await packed({ mostBytes: least + heavy.A001_C001! - small.A001_C001! });
  const sum = mixed.steps.reduce((all, { expectedBytes }) => all + expectedBytes, 0);
  expect(sum).toBeLessThanOrEqual(least + heavy.A001_C001! - small.A001_C001!);
  await go(house, mixed);
  rmSync(house.source.root, { recursive: true });
  const now = await states(house);
  expect(new Set(Object.values(now))).toEqual(new Set(['present', 'by-proxy']));
  expect(Object.keys(now).length).toBe(4);
  // There already, and free of charge.
  expect(told(await packed({ mostBytes: 0 })).every((row) => row.includes('there already'))).toBe(true);
});
