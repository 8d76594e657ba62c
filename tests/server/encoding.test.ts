/** Encoders at work: held by a pause, begun by a stocktake, tried on a sample; fewer channels and graphics of their own. */
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { planProxies, type ProxyDetail } from '../../src/core/planning/proxies/proxies';
import type { ProxySettings } from '../../src/core/planning/proxies/settings';
import { PRESETS, type PresetId } from '../../src/core/rendition/presets';
import { Samples } from '../../src/server/media/samples';
import { encodersIn } from '../../src/server/media/encoders';
import { takeSnapshot } from '../../src/server/projects/snapshot';
import { clipsOfAll, judge, proxyPlan, proxySettings } from '../helpers/proxy-house';
import { ffmpeg, makeHouse, makeIntra, type SmallHouse } from '../helpers/small-house';
import { endOf, filesBelow, go } from '../helpers/trust-house';
import { AFTER_STOCKTAKE, makeWishedProxies } from '../../src/server/automations/after-stocktake';
import { THIS_MACHINE } from '../../src/server/runs/actor';
import { takeStockOf } from '../../src/server/usecases/shelves';

let house: SmallHouse;
beforeEach(() => (house = makeHouse()));
afterEach(() => house.remove());

const at = (name: string) => join(house.source.root, name);
const plan = (own: Partial<ProxySettings> = {}) => proxyPlan(house, own);
const rowsOf = async (own: Partial<ProxySettings> = {}) => ((await plan(own)).detail as ProxyDetail).rows;

it('what lacks is made after a stocktake, where a project wishes it, and nothing is begun twice', { timeout: 60_000 }, async () => {
  await makeIntra(at('A001_C001.mov'), 10, '10:00:00:00');
  await clipsOfAll(house);
  const { catalogue } = house.house;
  house.house.news.on('stocked', () => void makeWishedProxies(house.house));
  const runs = () => catalogue.runs.window(house.projectId, { filter: '', limit: 10, offset: 0 }).total;
  const stocktake = async () => house.house.runner.finished(await takeStockOf(house.house, THIS_MACHINE, { id: house.source.id, name: 'FOUNDRY-A' }));
  await stocktake();
  await wait(400);
  expect(runs()).toBe(0);
  const settings = { presetId: 'pocket', destination: { shelfId: house.vault.id, path: '' } };
  catalogue.automations.put(house.projectId, { name: AFTER_STOCKTAKE, isOn: true, settings }, 'somebody');
  await stocktake();
  await expect.poll(runs, { timeout: 20_000 }).toBe(1);
  const { id } = catalogue.runs.window(house.projectId, { filter: '', limit: 1, offset: 0 }).rows[0]!;
  expect((await endOf(house, id)).run).toMatchObject({ state: 'done', actor: 'automation: proxies-after-stocktake' });
  expect(existsSync(join(house.vault.root, 'Proxies/FOUNDRY-A/A001_C001.mov'))).toBe(true);
  await stocktake();
  await wait(1_000);
  expect(runs()).toBe(1);
});

it('a pause holds the encoder where it is, and it goes on from there', { timeout: 90_000 }, async () => {
  await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=640x360:r=25', '-frames:v', '150', '-c:v', 'libx264', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p', at('long.mp4')); // prettier-ignore
  await clipsOfAll(house);
  const { runner, catalogue } = house.house;
  // Nothing was ever encoded here: nobody knows how long it takes.
  const first = await plan({ presetId: 'thread', size: { by: 'full' } });
  expect([first.seconds, catalogue.paces.all().size]).toEqual([undefined, 0]);
  const begun = performance.now();
  const id = runner.submit(first);
  const own = () => execFileSync('ps', ['-eo', 'stat=,ni=,args='], { encoding: 'utf8' }).split('\n').filter((line) => line.includes('ffmpeg') && line.includes('libx265') && line.includes(house.vault.root)); // prettier-ignore
  await expect.poll(own, { timeout: 20_000, interval: 20 }).toHaveLength(1);
  runner.pause(id);
  await expect.poll(() => own().every((line) => line.startsWith('T')), { timeout: 5_000 }).toBe(true);
  expect(own()[0]).toMatch(/^TN\S*\s+19 /);
  expect(catalogue.runs.get(id)?.state).toBe('paused');
  await wait(1_500);
  runner.resume(id);
  await expect.poll(() => own().some((line) => line.startsWith('T')), { timeout: 5_000 }).toBe(false);
  expect((await endOf(house, id)).run.state).toBe('done');
  expect(judge(join(house.vault.root, 'Proxies/long.mov')).video.nb_read_frames).toBe('150');
  // It has learned how fast this machine is; the pause is no part of it.
  const again = await plan({ presetId: 'thread', size: { by: 'full' }, onlyLacking: false });
  expect(again.seconds).toBeGreaterThan(0);
  expect(again.seconds! * 1000).toBeLessThan(performance.now() - begun - 1_400);
  expect(again.lines.find(({ label }) => label === 'Takes')?.text).toMatch(/^about \d+ s$/);
  // Half of the lines in each direction: a quarter of what is written, all of what is read.
  const half = await plan({ presetId: 'thread', size: { by: 'share', share: 2 }, onlyLacking: false });
  expect(half.seconds! / again.seconds!).toBeCloseTo(1.25 / 2, 5);
});

it(
  'a source that goes in the middle, a destination that is full: said, nothing half-made counts, resuming makes it',
  { timeout: 90_000 },
  async () => {
    await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=640x360:r=25', '-frames:v', '200', '-c:v', 'libx264', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p', at('long.mp4')); // prettier-ignore
    await clipsOfAll(house);
    const { runner, catalogue } = house.house;
    const renditions = () => catalogue.clips.ofProject(house.projectId)[0]!.renditions.length;
    const made = () => filesBelow(house.vault.root).filter((path) => !path.startsWith('.'));
    const id = runner.submit(await plan({ presetId: 'thread' }));
    await expect.poll(() => filesBelow(house.vault.root).some((path) => path.includes('Proxies/')), { timeout: 20_000, interval: 10 }).toBe(true);
    renameSync(house.source.root, `${house.source.root}-away`);
    const gone = await endOf(house, id);
    expect([gone.rows[0]!.message, made(), renditions(), catalogue.paces.all().size]).toEqual([expect.stringContaining('Was the drive unplugged?'), [], 1, 0]); // prettier-ignore
    renameSync(`${house.source.root}-away`, house.source.root);
    runner.resume(id);
    expect([(await endOf(house, id)).run.state, made(), renditions()]).toEqual(['done', ['Proxies/long.mov'], 2]);

    const disk = join(house.vault.root, 'Full');
    mkdirSync(disk);
    // Where no disk may be mounted the full one is that of the runner's own test.
    if (spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=64k', 'tmpfs', disk]).status !== 0) return;
    try {
      const full = await go(house, await plan({ presetId: 'courier', folderName: 'Full', onlyLacking: false }));
      expect([full.rows[0]!.message, filesBelow(disk), renditions()]).toEqual(['The destination is full. Make room or choose another shelf, then resume.', [], 2]); // prettier-ignore
    } finally {
      spawnSync('umount', [disk]);
    }
  },
);

describe('encoders', () => {
  it('are those that ffmpeg itself says it has', () => {
    const listed = encodersIn(execFileSync('ffmpeg', ['-hide_banner', '-encoders'], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] }));
    for (const { encoder } of PRESETS) {
      const help = execFileSync('ffmpeg', ['-hide_banner', '-h', `encoder=${encoder}`], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] });
      expect([encoder, listed.has(encoder)]).toEqual([encoder, help.startsWith(`Encoder ${encoder} `)]);
    }
    expect([listed.has('V....D'), listed.has('='), listed.size > 20]).toEqual([false, false, true]);
    expect(encodersIn('ffmpeg: not found').size).toBe(0);
  });

  it('that lack are named before anything runs, with what remains', async () => {
    await makeIntra(at('A001_C001.mov'), 10, '10:00:00:00');
    await clipsOfAll(house);
    const snapshot = (await takeSnapshot(house.house.catalogue, house.house.mounts, house.projectId))!;
    const planned = (presetId: PresetId, ...installed: string[]) =>
      planProxies(snapshot, proxySettings(house, { presetId }), [], { paces: new Map(), samples: [], encoders: new Set(installed) });
    const lacking = planned('pocket', 'prores_ks', 'libx264');
    expect([lacking.steps, lacking.findings.map(({ message, hint }) => `${message} ${hint}`)]).toEqual([
      [],
      ['1 clip gets none: the ffmpeg of this machine has no libx265, which Thread needs. These presets remain: Courier, Veil.'],
    ]);
    expect(planned('pocket', 'libx265').steps.length).toBe(1);
    expect(planned('courier', 'libx264').findings[0]!.hint).toBe('No preset of this kind remains: install an ffmpeg that has it.');
  });
});

describe('a sample', () => {
  it('tells what the whole takes, by preset, size and quality; its picture is the very frame', { timeout: 90_000 }, async () => {
    await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=25,noise=alls=12:allf=t', '-frames:v', '110', '-c:v', 'libx264', '-preset', 'veryfast', '-crf', '16', '-pix_fmt', 'yuv420p', '-timecode', '10:00:00:00', at('grain.mp4')); // prettier-ignore
    await clipsOfAll(house);
    const item = house.house.catalogue.items.at({ shelfId: house.source.id, path: 'grain.mp4' })!;
    const samples = new Samples(join(house.vault.root, '.samples'));
    const recipe = (presetId: PresetId, quality = 0) => ({
      presetId,
      width: 160,
      height: 90,
      quality,
      sequenceRate: null,
      burnIn: null,
      clipName: '',
    });
    const found = await samples.measure(item, at('grain.mp4'), recipe('pocket'));
    const written = found.frames * 160 * 90;
    house.house.catalogue.paces.keepSample({ fingerprint: item.fingerprint!, presetId: 'pocket', width: 160, height: 90, quality: 0, bytesPerPixel: found.bytes / written, secondsPerPixel: found.seconds / (written + found.frames * 320 * 180) }); // prettier-ignore
    const { detail } = await plan({ presetId: 'pocket' });
    const own = (detail as ProxyDetail).alternatives!.all.find(
      ({ presetId, size }) => presetId === 'pocket' && size.by === 'share' && size.share === 2,
    )!;
    expect(own).toMatchObject({ isMeasured: true, gets: ['pocket'] });
    await go(house, await plan({ presetId: 'pocket' }));
    const real = statSync(join(house.vault.root, 'Proxies/grain.mov')).size;
    expect(Math.abs(own.bytes / real - 1)).toBeLessThan(0.15);
    const better = await samples.measure(item, at('grain.mp4'), recipe('pocket', 1));
    const smaller = await samples.measure(item, at('grain.mp4'), recipe('pocket', -1));
    expect(better.bytes).toBeGreaterThan(found.bytes * 1.15);
    expect(smaller.bytes).toBeLessThan(found.bytes * 0.87);
    // The middle of the sample is frame 55 of the file, as ffmpeg itself shows it.
    const [frame, judged] = [join(house.vault.root, 'frame.png'), join(house.vault.root, 'judged.png')];
    writeFileSync(frame, await samples.picture(item, at('grain.mp4'), null));
    await ffmpeg('-i', at('grain.mp4'), '-vf', 'select=eq(n\\,55)', '-frames:v', '1', judged);
    const hash = (path: string) => execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-pix_fmt', 'rgb24', '-f', 'md5', '-'], { encoding: 'utf8' });
    expect(hash(frame)).toBe(hash(judged));
    writeFileSync(frame, await samples.picture(item, at('grain.mp4'), recipe('courier')));
    const alike = async (frameOfFile: number) => {
      rmSync(judged);
      await ffmpeg('-i', at('grain.mp4'), '-vf', `select=eq(n\\,${frameOfFile})`, '-frames:v', '1', judged);
      const out = execFileSync('ffmpeg', ['-v', 'error', '-i', frame, '-i', judged, '-lavfi', '[1:v]scale=160:90[b];[0:v][b]ssim=stats_file=-', '-f', 'null', '-'], { encoding: 'utf8' }); // prettier-ignore
      return Number(/All:([\d.]+)/.exec(out)![1]);
    };
    const [before, very, after] = [await alike(54), await alike(55), await alike(56)];
    expect(very - Math.max(before, after)).toBeGreaterThan(0.05);
    await expect(samples.measure(item, at('nothing.mp4'), recipe('thread'))).rejects.toThrow(/cannot be encoded/);
  });

  it('fewer channels are said and never miss; graphics with alpha may be their own', { timeout: 60_000 }, async () => {
    await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=128x72:r=25', '-f', 'lavfi', '-i', 'anoisesrc=r=48000:a=0.2', '-filter_complex', `[1:a]asplit=14${Array.from({ length: 14 }, (_, i) => `[a${i}]`).join('')}`, '-map', '0:v', ...Array.from({ length: 14 }, (_, i) => ['-map', `[a${i}]`]).flat(), '-frames:v', '20', '-t', '0.8', '-c:v', 'mjpeg', '-c:a', 'pcm_s16le', at('many.mov')); // prettier-ignore
    await ffmpeg('-f', 'lavfi', '-i', 'color=red@0.5:s=128x72:r=25,format=yuva444p10le', '-frames:v', '10', '-c:v', 'prores_ks', '-profile:v', '4', at('title.mov')); // prettier-ignore
    await clipsOfAll(house);
    const fate = async (name: string, own: Partial<ProxySettings> = {}) => (await rowsOf(own)).find((row) => row.name === name)!;
    expect([(await fate('title')).fate, (await fate('title', { alphaIsOwn: true })).fate]).toEqual(['made', 'its own proxy']);
    const own = { sound: 'two', presetId: 'pocket', alphaIsOwn: true } as const;
    expect((await go(house, await plan(own))).run.state).toBe('done');
    const { audio } = judge(join(house.vault.root, 'Proxies/many.mov'));
    expect(audio.map(({ channels }) => channels)).toEqual([2]);
    // It is known to have fewer, and is as good as one with all of them.
    expect(await fate('many', own)).toMatchObject({ fate: 'has one', cells: { proxy: { misfits: [] } } });
  });
});

it(
  'a sequence with pictures missing gets one of its whole length: the one before is held, and says so where that is asked for',
  { timeout: 60_000 },
  async () => {
    mkdirSync(at('pour'));
    await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=25', '-frames:v', '40', '-start_number', '1001', at('pour/pour.%04d.dpx'));
    for (const number of [1011, 1012, 1013, 1031]) rmSync(at(`pour/pour.${number}.dpx`));
    await clipsOfAll(house);
    const held = await plan({ presetId: 'courier' });
    expect(held.findings.find(({ code }) => code === 'held')?.message).toMatch(/lacks 4 pictures: the one before each stands in its place\.$/);
    const frames = (path: string) => {
      const bytes = execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-map', '0:V', '-fps_mode', 'passthrough', '-vf', 'scale=32:18:flags=area,format=gray', '-f', 'rawvideo', '-']); // prettier-ignore
      return Array.from({ length: bytes.length / 576 }, (_, index) => bytes.subarray(index * 576, (index + 1) * 576));
    };
    const apart = (a: Buffer, b: Buffer) => a.reduce((sum, value, index) => sum + Math.abs(value - b[index]!), 0) / a.length;
    for (const slates of [false, true]) {
      const made = await go(house, await plan({ presetId: 'courier', slates, folderName: `slates ${slates}`, onlyLacking: false }));
      expect([made.run.state, made.rows.map(({ message }) => message).join()]).toEqual(['done', '']);
      const all = frames(join(house.vault.root, `slates ${slates}`, 'pour.mov'));
      expect(all).toHaveLength(40);
      // Held beneath: frame 12 as frame 9, where no line is across it; the next is another.
      const top = (frame: Buffer) => frame.subarray(0, 6 * 32);
      expect(apart(top(all[12]!), top(all[9]!))).toBeLessThan(1.5);
      expect(apart(top(all[13]!), top(all[9]!))).toBeGreaterThan(1.5);
      const band = (frame: Buffer) => frame.subarray(8 * 32, 8 * 32 + 6).reduce((sum, value) => sum + value, 0) / 6;
      expect([10, 11, 12, 30].map((frame) => band(all[frame]!) < 25)).toEqual(Array.from({ length: 4 }, () => slates));
      expect(apart(all[9]!, all[30]!)).toBeGreaterThan(1.5);
      expect(band(all[13]!) > 25).toBe(true);
    }
  },
);
