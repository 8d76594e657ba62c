/** Light copies that were made elsewhere: named in the usual ways, held against their sources, linked where all agrees. */
import { randomUUID } from 'node:crypto';
import { copyFileSync, mkdirSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { FoundDetail, FoundRow } from '../../src/core/planning/link-proxies/link-proxies';
import type { LinkProxiesSettings } from '../../src/core/planning/link-proxies/settings';
import { clipsOfItems } from '../../src/server/projects/make-clip';
import { ffmpeg, makeHouse, makeIntra, type SmallHouse } from '../helpers/small-house';
import { go, states, undo } from '../helpers/trust-house';

let house: SmallHouse;
beforeEach(() => (house = makeHouse()));
afterEach(() => house.remove());

const at = (name: string) => join(house.source.root, name);
const away = (name: string) => join(house.vault.root, name);
const found = (own: Partial<LinkProxiesSettings> = {}) =>
  house.plan({
    kind: 'link-proxies',
    settings: {
      scope: { of: 'project' },
      rendition: 'proxy',
      place: { shelfId: house.vault.id, path: '' },
      endings: '_proxy, -px',
      inFolders: '',
      burnIn: false,
      choices: {},
      ...own,
    },
  });
const rowsOf = async (own: Partial<LinkProxiesSettings> = {}) =>
  Object.fromEntries(((await found(own)).detail as FoundDetail).rows.map((row) => [row.name, row])) as Record<string, FoundRow>;

/** As another program would make it: small, lossy, with the timecode of its source. */
async function small(of: string, to: string, ...more: string[]): Promise<void> {
  mkdirSync(dirname(away(to)), { recursive: true });
  await ffmpeg('-i', at(of), '-map', '0:v', '-map', '0:a?', '-vf', `scale=64:36${more.length > 0 ? `,${more.join(',')}` : ''}`, '-c:v', 'mjpeg', '-q:v', '4', '-c:a', 'aac', away(to)); // prettier-ignore
}

async function stock(): Promise<void> {
  await house.stocktake(house.source.id);
  await house.stocktake(house.vault.id);
}

async function clipsOfSources(): Promise<void> {
  await stock();
  const { catalogue } = house.house;
  const items = catalogue.sort.itemsBelow({ shelfId: house.source.id, path: '' }).filter(({ facts }) => facts.kind === 'video');
  for (const clip of clipsOfItems(house.projectId, items.map((item) => ({ item, bin: '' })), catalogue, randomUUID)) catalogue.clips.put(house.projectId, clip); // prettier-ignore
}
const proxyOf = (name: string) =>
  house.house.catalogue.clips.ofProject(house.projectId).find((clip) => clip.name === name)!.renditions.find(({ kind }) => kind === 'proxy'); // prettier-ignore

it('finds by name, links what agrees in frames, rate, timecode and pictures, and nothing else', { timeout: 90_000 }, async () => {
  for (const [name, start] of [['Forge', '10:00:00:00'], ['short', '11:00:00:00'], ['other', '12:00:00:00'], ['twice', '13:00:00:00'], ['alone', '14:00:00:00']] as const) await makeIntra(at(`${name}.mov`), 20, start); // prettier-ignore
  await small('Forge.mov', 'Proxies/FORGE_Proxy.MOV');
  await small('short.mov', 'Proxies/short_proxy.mov', 'trim=end_frame=19');
  // Of the very length and timecode, and of nothing like it.
  await small('other.mov', 'Proxies/other-px.mov', 'geq=lum=255*mod(floor(X/2)+floor(Y/2)+N\\,2):cb=128:cr=128');
  await small('twice.mov', 'Proxies/twice.mov');
  await small('twice.mov', 'Old/twice_proxy.mov');
  copyFileSync(at('alone.mov'), away('Proxies/alone.mov'));
  await clipsOfSources();

  const rows = await rowsOf();
  expect(Object.values(rows).map(({ name, fate, why }) => `${name}: ${fate}, ${why}`).sort()).toEqual([
    'Forge: linked, name, frames, rate, timecode',
    'alone: none, no file is called that',
    'other: linked, name, frames, rate, timecode',
    'short: unfit, 19 frames instead of 20',
    'twice: offered, 2 files fit',
  ]); // prettier-ignore
  // Only in folders of that name there is but one; and a choice is a choice.
  expect((await rowsOf({ inFolders: 'proxies' })).twice).toMatchObject({ fate: 'linked' });
  const { clipId, candidates } = rows.twice!;
  const old = candidates.find(({ place }) => place.path.startsWith('Old/'))!;
  const sheet = await found({ choices: { [clipId]: old.itemId } });
  expect((sheet.detail as FoundDetail).rows.find(({ name }) => name === 'twice')).toMatchObject({ fate: 'linked', itemId: old.itemId });
  // What does not fit is not linked by a word of the user either.
  expect((await rowsOf({ choices: { [rows.short!.clipId]: rows.short!.candidates[0]!.itemId } })).short).toMatchObject({ fate: 'unfit' });

  const { id, run, rows: steps } = await go(house, sheet);
  expect(run.state).toBe('failed');
  expect(steps.map(({ step, state, message }) => [step.from?.path, state, message?.replace(/[\d.]+\)/, '…)') ?? null]).sort()).toEqual([
    ['Old/twice_proxy.mov', 'done', null],
    ['Proxies/FORGE_Proxy.MOV', 'done', null],
    ['Proxies/other-px.mov', 'failed', 'other-px.mov is not linked: frame 0 is not like that of its source (SSIM …).'],
  ]); // prettier-ignore
  expect(proxyOf('Forge')).toMatchObject({ made: { presetId: null, burnIn: false } });
  expect(proxyOf('other')).toBeUndefined();
  expect((await rowsOf()).Forge).toMatchObject({ fate: 'has one' });
  rmSync(at('Forge.mov'));
  await stock();
  expect(Object.values(await states(house)).filter((state) => state === 'by-proxy')).toHaveLength(1);
  expect((await undo(house, id)).run.state).toBe('done');
  expect([proxyOf('Forge'), proxyOf('twice')]).toEqual([undefined, undefined]);
});

it('links what stands for a source that is away by what is remembered of it, and asks where that is too little', { timeout: 60_000 }, async () => {
  await makeIntra(at('gone.mov'), 20, '10:00:00:00');
  await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=128x72:r=25:d=0.8', '-c:v', 'mjpeg', at('bare.mov'));
  mkdirSync(at('day 1'));
  mkdirSync(at('day 2'));
  await makeIntra(at('day 1/take.mov'), 20, '10:00:00:00');
  await ffmpeg('-i', at('day 1/take.mov'), '-map', '0:v', '-map', '0:a', '-vf', 'negate', '-c:v', 'prores', '-c:a', 'copy', '-metadata:s:v:0', 'reel_name=A001', at('day 2/take.mov')); // prettier-ignore
  await small('gone.mov', 'gone_proxy.mov');
  await small('bare.mov', 'bare_proxy.mov');
  await small('day 1/take.mov', 'take_proxy.mov');
  await clipsOfSources();
  rmSync(at('gone.mov'));
  rmSync(at('bare.mov'));
  await stock();
  const rows = ((await found()).detail as FoundDetail).rows;
  expect(rows.map(({ name, fate, why }) => `${name}: ${fate}, ${why}`).sort()).toEqual([
    'bare: offered, its source has no timecode',
    'gone: linked, name, frames, rate, timecode',
    'take: offered, it fits another source too',
    'take: offered, it fits another source too',
  ]); // prettier-ignore
  const { run } = await go(house, await found({ burnIn: true }));
  expect(run.state).toBe('done');
  expect(proxyOf('gone')).toMatchObject({ made: { burnIn: true } });
  expect(Object.values(await states(house)).filter((state) => state === 'by-proxy')).toHaveLength(1);
});

/** Every file of FOUNDRY-A is a clip; links what was found for them, and gives what became of each file. */
async function linkedOf(own: Partial<LinkProxiesSettings> = {}): Promise<Record<string, string>> {
  const { rows } = await go(house, await found(own));
  return Object.fromEntries(rows.map(({ step, message }) => [step.from!.path, message ?? 'linked']));
}

const film = (source: string, to: string, ...more: string[]) =>
  ffmpeg('-f', 'lavfi', '-i', source, '-frames:v', '40', ...more, '-c:v', 'prores', '-timecode', '01:00:00:00', at(to));

it('a picture must fit best in its own place: one frame late is found out, a grade and letters do not matter', { timeout: 60_000 }, async () => {
  await film('testsrc2=s=256x144:r=25', 'late.mov');
  // Still but for a moment in its middle.
  await film('testsrc2=s=256x144:r=25', 'moment.mov', '-vf', 'loop=loop=18:size=1:start=0,setpts=N/25/TB');
  await film('testsrc2=s=256x144:r=25', 'graded.mov');
  await small('late.mov', 'late_proxy.mov', 'trim=start_frame=1', 'setpts=PTS-STARTPTS', 'tpad=stop_mode=clone:stop=1');
  await small('moment.mov', 'moment_proxy.mov');
  // Darker, bluer, with a bar of letters over a fifth of it.
  await small('graded.mov', 'graded_proxy.mov', 'eq=gamma=0.7:contrast=0.8', 'colorbalance=bs=0.3', 'drawbox=x=0:y=29:w=64:h=7:color=white:t=fill');
  await clipsOfSources();
  expect(await linkedOf()).toEqual({
    'late_proxy.mov': expect.stringMatching(/^late_proxy.mov is not linked: frame \d+ shows frame \d+ of its source/) as string,
    'graded_proxy.mov': 'linked',
    'moment_proxy.mov': 'linked',
  });
});

it('pictures that tell nothing prove nothing: dark and still ones wait for a word', { timeout: 60_000 }, async () => {
  await film('color=black:s=256x144:r=25', 'night.mov');
  await film('testsrc2=s=256x144:r=25', 'still.mov', '-vf', 'select=eq(n\\,5),loop=-1:1:0,setpts=N/25/TB');
  for (const name of ['night', 'still']) await small(`${name}.mov`, `${name}_proxy.mov`);
  await clipsOfSources();
  const told = await linkedOf();
  const words = 'its pictures are too dark, too plain or too still to tell. Choose it yourself if it is the one.';
  for (const name of ['night', 'still']) expect(told[`${name}_proxy.mov`]).toBe(`${name}_proxy.mov is not linked: ${words}`);
  const night = (await rowsOf()).night!;
  expect(await linkedOf({ choices: { [night.clipId]: night.candidates[0]!.itemId } })).toMatchObject({ 'night_proxy.mov': 'linked' });
});

it('channels are held against each other: swapped ones and foreign sound are found out, silence tells nothing', { timeout: 60_000 }, async () => {
  const beat = (period: number) => `aevalsrc=0.5*sin(880*PI*t)*lt(mod(t\\,${period})\\,${period / 3}):s=48000:d=3`;
  const filmWith = async (to: string, ...tracks: string[]) => {
    const inputs = ['-f', 'lavfi', '-i', 'testsrc2=s=256x144:r=25:d=3', ...tracks.flatMap((track) => ['-f', 'lavfi', '-i', track])];
    const maps = tracks.flatMap((_, index) => ['-map', `${index + 1}:a`]);
    await ffmpeg(...inputs, '-map', '0:v', ...maps, '-c:v', 'prores', '-c:a', 'pcm_s16le', '-timecode', '01:00:00:00', at(to));
  };
  const proxy = (of: string, to: string, ...maps: string[]) =>
    ffmpeg('-i', at(of), '-map', '0:v', ...maps, '-vf', 'scale=64:36', '-c:v', 'mjpeg', '-c:a', 'aac', '-ac', '1', away(to));
  for (const name of ['right', 'swapped', 'foreign']) await filmWith(`${name}.mov`, beat(0.5), beat(0.8));
  await filmWith('silent.mov', 'anullsrc=r=48000:cl=mono:d=3', 'anullsrc=r=48000:cl=mono:d=3');
  await proxy('right.mov', 'right_proxy.mov', '-map', '0:a:0', '-map', '0:a:1');
  await proxy('swapped.mov', 'swapped_proxy.mov', '-map', '0:a:1', '-map', '0:a:0');
  await filmWith('other.mov', beat(1.3), beat(1.1));
  await ffmpeg('-i', at('foreign.mov'), '-i', at('other.mov'), '-map', '0:v', '-map', '1:a', '-vf', 'scale=64:36', '-c:v', 'mjpeg', '-c:a', 'aac', '-timecode', '01:00:00:00', away('foreign_proxy.mov')); // prettier-ignore
  await proxy('silent.mov', 'silent_proxy.mov', '-map', '0:a:0', '-map', '0:a:1');
  rmSync(at('other.mov'));
  await clipsOfSources();
  expect(await linkedOf()).toEqual({
    'right_proxy.mov': 'linked',
    'swapped_proxy.mov': 'swapped_proxy.mov is not linked: channel 1 is channel 2 of its source.',
    'foreign_proxy.mov': 'foreign_proxy.mov is not linked: channel 1 does not sound like that of its source.',
    'silent_proxy.mov': 'linked',
  });
});

it('a source of another project that it fits as well is asked about, unless its folder tells', { timeout: 60_000 }, async () => {
  for (const day of ['day 1', 'day 2']) mkdirSync(at(day));
  await makeIntra(at('day 1/take.mov'), 20, '10:00:00:00');
  await ffmpeg('-i', at('day 1/take.mov'), '-map', '0:v', '-map', '0:a', '-vf', 'negate', '-c:v', 'prores', '-c:a', 'copy', '-metadata:s:v:0', 'reel_name=A001', at('day 2/take.mov')); // prettier-ignore
  await small('day 1/take.mov', 'take_proxy.mov');
  await small('day 1/take.mov', 'day 1/take_proxy.mov');
  await stock();
  const { catalogue } = house.house;
  const clipOf = (projectId: string, path: string) => {
    const item = catalogue.items.at({ shelfId: house.source.id, path })!;
    for (const clip of clipsOfItems(projectId, [{ item, bin: '' }], catalogue, randomUUID)) catalogue.clips.put(projectId, clip);
  };
  clipOf(house.projectId, 'day 1/take.mov');
  const loose = { inFolders: '', place: { shelfId: house.vault.id, path: '' } };
  rmSync(away('day 1/take_proxy.mov'));
  await stock();
  expect((await rowsOf(loose)).take).toMatchObject({ fate: 'linked' });
  const other = randomUUID();
  catalogue.projects.add({ id: other, name: 'Trailer', rate: { num: 25, den: 1 }, dropFrame: false, createdAt: new Date().toISOString() });
  clipOf(other, 'day 2/take.mov');
  expect((await rowsOf(loose)).take).toMatchObject({ fate: 'offered', why: 'it fits another source too: day 2/take.mov' });
  rmSync(away('take_proxy.mov'));
  await small('day 1/take.mov', 'day 1/take_proxy.mov');
  await stock();
  expect((await rowsOf(loose)).take).toMatchObject({ fate: 'linked' });
});
