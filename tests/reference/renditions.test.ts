/**
 * What we make beside a source, judged by others: every preset by ffprobe and MediaInfo, likeness by ffmpeg's SSIM, sizes
 * by the facts of the trade; references of several renditions by OpenTimelineIO 0.18.1.
 */
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdirSync, readFileSync, renameSync, statSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { ProxyDetail } from '../../src/core/planning/proxies/proxies';
import type { ProxySettings } from '../../src/core/planning/proxies/settings';
import { PRESETS, type PresetId } from '../../src/core/rendition/presets';
import { readTimelineFile } from '../../src/core/interchange/read-timeline-file';
import { bringIn } from '../../src/server/projects/bring-in';
import { clipsOfItems } from '../../src/server/projects/make-clip';
import { ffmpeg, makeHouse, makeIntra, type SmallHouse } from '../helpers/small-house';
import { go, PAL } from '../helpers/trust-house';

let house: SmallHouse;
beforeEach(() => (house = makeHouse()));
afterEach(() => house.remove());
const at = (name: string) => join(house.source.root, name);

const settings = (own: Partial<ProxySettings>): ProxySettings => ({
  scope: { of: 'project' },
  presetId: 'courier',
  size: { by: 'share', share: 2 },
  quality: 0,
  sound: 'all',
  alphaIsOwn: false,
  slates: false,
  parts: false,
  onlyLacking: false,
  burnIn: null,
  destination: { shelfId: house.vault.id, path: '' },
  folderName: own.presetId ?? 'courier',
  layout: 'flat',
  asHome: false,
  leave: [],
  order: null,
  ...own,
});

async function clipsOfAll(): Promise<void> {
  await house.stocktake(house.source.id);
  const { catalogue } = house.house;
  const items = catalogue.sort.itemsBelow({ shelfId: house.source.id, path: '' }).filter(({ facts }) => facts.kind !== 'other');
  for (const clip of clipsOfItems(house.projectId, items.map((item) => ({ item, bin: '' })), catalogue, randomUUID)) catalogue.clips.put(house.projectId, clip); // prettier-ignore
}

/** MediaInfo's own reading; it counts and names by itself. */
function mediaInfo(path: string): Record<'General' | 'Video' | 'Audio' | 'Other', Record<string, string>> {
  const { media } = JSON.parse(execFileSync('mediainfo', ['--Output=JSON', path], { encoding: 'utf8' })) as { media: { track: Record<string, string>[] } }; // prettier-ignore
  return Object.fromEntries(media.track.map((track) => [track['@type'], track])) as ReturnType<typeof mediaInfo>;
}

/** The least SSIM (0 to 1) over all frames: the source scaled to the size of what was made of it. */
function leastLikeness(source: readonly string[], made: string, width: number, height: number): number {
  const graph = `[0:v]scale=${width}:${height}:flags=bicubic,format=yuv420p,setpts=N/25/TB[a];[1:v]format=yuv420p,setpts=N/25/TB[b];[a][b]ssim=stats_file=-`;
  const out = execFileSync('ffmpeg', ['-v', 'error', ...source, '-i', made, '-lavfi', graph, '-f', 'null', '-'], { encoding: 'utf8' });
  return Math.min(...[...out.matchAll(/All:([\d.]+)/g)].map(([, value]) => Number(value)));
}

it.each(PRESETS.map(({ id }) => id))(
  '%s: frames, rate, timecode, reel, channels, depth, alpha and likeness as others read them',
  { timeout: 120_000 },
  async (presetId: PresetId) => {
    const preset = PRESETS.find(({ id }) => id === presetId)!;
    await makeIntra(at('ten.mov'), 12, '01:00:00:00', '24000/1001', ['-c:v', 'prores', '-pix_fmt', 'yuv422p10le', '-vf', 'gblur=2']);
    await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=256x144:r=25:d=0.48', '-f', 'lavfi', '-i', 'anoisesrc=r=48000:d=0.48', '-vf', 'gblur=2', '-c:v', 'libx264', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p', '-c:a', 'aac', '-ac', '2', '-timecode', '10:00:00:00', at('eight.mov')); // prettier-ignore
    await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=256x144:r=25:d=0.48', '-vf', 'gblur=2,format=yuva444p10le', '-c:v', 'prores_ks', '-profile:v', '4', at('veil.mov')); // prettier-ignore
    await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=256x144:r=25', '-vf', 'gblur=2', '-frames:v', '12', '-start_number', '1001', at('pour.%04d.dpx'));
    await clipsOfAll();
    const sheet = await house.plan({ kind: 'proxies', settings: settings({ presetId, size: { by: preset.for === 'proxy' ? 'share' : 'full', share: 2 } }) }); // prettier-ignore
    const rows = (sheet.detail as ProxyDetail).rows.filter(({ fate }) => fate === 'made');
    const { run, rows: steps } = await go(house, sheet);
    expect([run.state, ...steps.flatMap(({ message }) => message ?? [])]).toEqual(['done']);
    expect(rows.length).toBeGreaterThan(0);
    for (const { name, preset: got } of rows) {
      const used = PRESETS.find((own) => own.name === got)!;
      const isSequence = name.startsWith('pour');
      const path = join(house.vault.root, presetId, isSequence ? 'pour.mov' : `${name}.mov`);
      const info = mediaInfo(path);
      expect([name, info.Video.FrameCount]).toEqual([name, '12']);
      expect([name, Number(info.Video.FrameRate)]).toEqual([name, name === 'ten' ? 23.976 : 25]);
      expect([name, Number(info.Video.BitDepth ?? used.bitDepth)], got!).toEqual([name, used.bitDepth === 12 ? expect.any(Number) : used.bitDepth]);
      const probe = JSON.parse(execFileSync('ffprobe', ['-v', 'error', '-count_frames', '-show_streams', '-of', 'json', path], { encoding: 'utf8' })) as { streams: { codec_type: string; nb_read_frames?: string; pix_fmt?: string; channels?: number; tags?: Record<string, string> }[] }; // prettier-ignore
      const video = probe.streams.find(({ codec_type }) => codec_type === 'video')!;
      expect([name, video.nb_read_frames, /a4/.test(video.pix_fmt!)]).toEqual([name, '12', used.alpha]);
      const channels = probe.streams.reduce((sum, stream) => sum + (stream.codec_type === 'audio' ? stream.channels! : 0), 0);
      expect([name, channels, Number(info.Audio?.Channels ?? 0)]).toEqual([name, { ten: 1, eight: 2 }[name] ?? 0, { ten: 1, eight: 2 }[name] ?? 0]);
      if (name === 'ten' || name === 'eight') expect([name, info.Other.TimeCode_FirstFrame, video.tags?.timecode]).toEqual([name, ...Array<string>(2).fill(name === 'ten' ? '01:00:00:00' : '10:00:00:00')]); // prettier-ignore
      if (name === 'ten') expect(video.tags?.reel_name ?? probe.streams.find(({ tags }) => tags?.reel_name)?.tags?.reel_name).toBe('A001');
      const source = isSequence ? ['-framerate', '25', '-start_number', '1001', '-i', at('pour.%04d.dpx')] : ['-i', at(`${name}.mov`)];
      // Stated here: 0.9 on soft pictures, for each single frame. What another frame would be stays far below.
      expect(leastLikeness(source, path, Number(info.Video.Width), Number(info.Video.Height)), `${name} by ${got}`).toBeGreaterThan(0.9);
    }
  },
);

it(
  'half-size intra-frame takes several times the room of small long-GOP, and full-size long-GOP about half of it (common practice)',
  { timeout: 60_000 },
  async () => {
    await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=640x360:r=25:d=1,noise=alls=6:allf=t', '-c:v', 'prores_ks', '-profile:v', '3', at('shot.mov')); // prettier-ignore
    await clipsOfAll();
    const sizes: Record<string, number> = {};
    const settingsOf = [['courier', 2], ['pocket', 2], ['pocket', 1]] as const; // prettier-ignore
    for (const [presetId, share] of settingsOf) {
      const folderName = `${presetId} ${share}`;
      const size: ProxySettings['size'] = share === 1 ? { by: 'full' } : { by: 'share', share };
      const { run } = await go(house, await house.plan({ kind: 'proxies', settings: settings({ presetId, size, folderName }) }));
      expect(run.state).toBe('done');
      sizes[folderName] = statSync(join(house.vault.root, folderName, 'shot.mov')).size;
    }
    const source = statSync(at('shot.mov')).size;
    expect(sizes['courier 2']! / sizes['pocket 2']!).toBeGreaterThan(2.5);
    expect(source / sizes['courier 2']!).toBeGreaterThan(5);
    expect(sizes['pocket 1']! / sizes['courier 2']!).toBeLessThan(1);
  },
);

const READ = `
import json, sys
import opentimelineio as otio
t = otio.adapters.read_from_file(sys.argv[1])
print(json.dumps([[c.name, c.active_media_reference_key, {k: [getattr(r, "target_url", None), str(r.available_range)] for k, r in c.media_references().items()}] for c in t.find_clips()]))
`;
const WRITE = `
import sys
import opentimelineio as otio
track = otio.schema.Track("V1")
start = otio.opentime.RationalTime(90000, 25)
available = otio.opentime.TimeRange(start, otio.opentime.RationalTime(20, 25))
for name, active in (("a", "DEFAULT_MEDIA"), ("b", "lab proxy"), ("c", "proxy")):
    clip = otio.schema.Clip(name, source_range=otio.opentime.TimeRange(start, otio.opentime.RationalTime(10, 25)))
    refs = {"lab proxy": otio.schema.ExternalReference(f"light/{name}_px.mov", available)} if name != "c" else {"proxy": otio.schema.ExternalReference("light/c_px.mov", available)}
    refs["DEFAULT_MEDIA"] = otio.schema.ExternalReference(f"{name}.mov", available)
    clip.set_media_references(refs, active)
    track.append(clip)
t = otio.schema.Timeline("Cut")
t.tracks.append(track)
otio.adapters.write_to_file(t, sys.argv[1])
`;

it(
  'a timeline of the reference library that names several references brings renditions, and goes out with them where they stand now',
  { timeout: 60_000 },
  async () => {
    const python = (script: string, ...args: string[]) => execFileSync(resolve('.venv/bin/python'), ['-c', script, ...args], { encoding: 'utf8' });
    mkdirSync(at('light'));
    for (const name of ['a', 'b']) await makeIntra(at(`${name}.mov`), 20, '01:00:00:00');
    for (const name of ['a', 'b', 'c']) await makeIntra(at(`light/${name}_px.mov`), 20, '01:00:00:00');
    await house.stocktake(house.source.id);
    python(WRITE, at('cut.otio'));
    const { catalogue, mounts } = house.house;
    const text = readFileSync(at('cut.otio'), 'utf8');
    const bring = () => bringIn(catalogue, mounts, house.projectId, readTimelineFile(text, PAL), 'cut.otio', { shelfId: house.source.id, path: '' }, randomUUID); // prettier-ignore
    const { timelineIds } = bring();
    const clips = () => catalogue.clips.ofProject(house.projectId).map(({ name, renditions }) => [name, ...renditions.map(({ kind, links }) => `${kind} ${links[0]!.place?.path ?? 'nowhere'}`)]); // prettier-ignore
    // The source is what is not called anything else, active or not; that of the third has yet to arrive.
    const expected = [['a', 'source a.mov', 'proxy light/a_px.mov'], ['b', 'source b.mov', 'proxy light/b_px.mov'], ['c', 'source nowhere', 'proxy light/c_px.mov']]; // prettier-ignore
    expect(clips()).toEqual(expected);
    // Again it is here already, and brings nothing twice.
    bring();
    expect(clips()).toEqual(expected);
    mkdirSync(at('moved'));
    renameSync(at('light/a_px.mov'), at('moved/a_px.mov'));
    await house.stocktake(house.source.id);
    const { run } = await go(house, await house.plan({ kind: 'export', settings: { timelineIds, format: 'otio', destination: { shelfId: house.source.id, path: '' }, folderName: 'Out' } })); // prettier-ignore
    expect(run.state).toBe('done');
    const read = JSON.parse(python(READ, at('Out/Cut.otio'))) as [string, string, Record<string, [string, string]>][];
    const before = JSON.parse(python(READ, at('cut.otio'))) as typeof read;
    const range = before[0]![2].DEFAULT_MEDIA![1];
    expect(read).toEqual([
      // What is not where it was keeps the address it came with.
      ['a', 'DEFAULT_MEDIA', { DEFAULT_MEDIA: ['../a.mov', range], 'lab proxy': ['light/a_px.mov', range] }],
      ['b', 'lab proxy', { DEFAULT_MEDIA: ['../b.mov', range], 'lab proxy': ['../light/b_px.mov', range] }],
      ['c', 'proxy', { DEFAULT_MEDIA: ['c.mov', range], proxy: ['../light/c_px.mov', range] }],
    ]);
  },
);

/** Luma and colour differences of 8 bits in ordinary range: ITU-R BT.709-6 (item 3.2) and BT.601-7 (item 2.5), each quantised as their items 4 and 2.5.4. */
function codedAs([r, g, b]: readonly number[], [kr, kb]: readonly [number, number]): number[] {
  const y = kr * r! + (1 - kr - kb) * g! + kb * b!;
  return [16 + (219 * y) / 255, 128 + (224 * (b! - y)) / (2 * (1 - kb)) / 255, 128 + (224 * (r! - y)) / (2 * (1 - kr)) / 255];
}
const BT709 = [0.2126, 0.0722] as const;
const BT601 = [0.299, 0.114] as const;

/** The picture's left and right half as 8 bits of luma and colour difference, and how its colours are said to be written. */
function patches(path: string): { left: number[]; right: number[]; tags: string } {
  const bytes = execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-frames:v', '1', '-vf', 'scale=32:16:flags=area', '-pix_fmt', 'yuv444p', '-f', 'rawvideo', '-']); // prettier-ignore
  const at = (x: number) => [0, 1, 2].map((plane) => bytes[plane * 512 + 8 * 32 + x]!);
  const { streams } = JSON.parse(execFileSync('ffprobe', ['-v', 'error', '-select_streams', 'v', '-show_entries', 'stream=color_space,color_primaries,color_transfer', '-of', 'json', path], { encoding: 'utf8' })) as { streams: Record<string, string>[] }; // prettier-ignore
  const { color_space: matrix, color_primaries: primaries, color_transfer: transfer } = streams[0]!;
  return { left: at(6), right: at(26), tags: `${matrix} ${primaries} ${transfer}` };
}

it(
  'patches keep their colours: red, green and blue by the size of the picture, what is coded already as it is, and it is said',
  { timeout: 120_000 },
  async () => {
    const [red, blue] = [[179, 0, 2], [20, 60, 200]]; // prettier-ignore
    const two = (size: string) => { const [w, h] = size.split('x').map(Number); return ['-f', 'lavfi', '-i', `color=c=0xB30002:s=${w! / 2}x${h}:r=25:d=0.12`, '-f', 'lavfi', '-i', `color=c=0x143CC8:s=${w! / 2}x${h}:r=25:d=0.12`]; }; // prettier-ignore
    const rgb = (size: string, name: string) => ffmpeg(...two(size), '-filter_complex', '[0][1]hstack,format=gbrp', '-c:v', 'png', '-pix_fmt', 'rgb24', at(name)); // prettier-ignore
    await rgb('1280x720', 'high.mov');
    await rgb('640x480', 'standard.mov');
    const coded = (name: string, ...tags: string[]) => ffmpeg(...two('1280x720'), '-filter_complex', '[0][1]hstack,scale=out_color_matrix=bt709,format=yuv422p10le', '-c:v', 'prores_ks', ...tags, '-movflags', '+write_colr', at(name)); // prettier-ignore
    await coded('silent.mov');
    await coded('tagged.mov', '-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709');
    await clipsOfAll();
    for (const presetId of ['courier', 'pocket'] as const) {
      const { run } = await go(house, await house.plan({ kind: 'proxies', settings: settings({ presetId, size: { by: 'share', share: 4 } }) }));
      expect(run.state).toBe('done');
      for (const [name, matrix, tags] of [
        ['high', BT709, 'bt709 bt709 bt709'],
        ['silent', BT709, 'bt709 bt709 bt709'],
        ['tagged', BT709, 'bt709 bt709 bt709'],
        ['standard', BT601, 'smpte170m smpte170m smpte170m'],
      ] as const) {
        // prettier-ignore
        const seen = patches(join(house.vault.root, presetId, `${name}.mov`));
        const near = (found: number[], wanted: readonly number[]) =>
          found.every((value, index) => Math.abs(value - codedAs(wanted, matrix)[index]!) <= 3);
        expect([presetId, name, near(seen.left, red), near(seen.right, blue), seen.tags]).toEqual([presetId, name, true, true, tags]);
      }
    }
  },
);

it('alpha of VP9 in WebM is seen, and stays in what is made of it', { timeout: 60_000 }, async () => {
  await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=25:d=0.4', '-f', 'lavfi', '-i', 'color=white:s=320x180:r=25:d=0.4', '-filter_complex', '[1]drawbox=w=160:h=180:color=black:t=fill,format=gray[mask];[0][mask]alphamerge,format=yuva420p', '-c:v', 'libvpx-vp9', '-auto-alt-ref', '0', at('logo.webm')); // prettier-ignore
  await clipsOfAll();
  const { run } = await go(house, await house.plan({ kind: 'proxies', settings: settings({ presetId: 'veil', size: { by: 'full' } }) }));
  expect(run.state).toBe('done');
  const made = join(house.vault.root, 'veil/logo.mov');
  const bytes = execFileSync('ffmpeg', ['-v', 'error', '-i', made, '-frames:v', '1', '-vf', 'alphaextract,scale=32:18:flags=area', '-pix_fmt', 'gray', '-f', 'rawvideo', '-']); // prettier-ignore
  expect([bytes[9 * 32 + 4]! < 20, bytes[9 * 32 + 28]! > 235]).toEqual([true, true]);
});
