/**
 * Files as cameras, tapes, broadcasters and phones write them: how many pictures are shown is what ffmpeg's own decoder counts
 * (framemd5), each gets a proxy of as many, and its last picture can be looked at. AVCHD is MPEG-2 TS of 192-byte packets, HDV one
 * of 188 (ISO/IEC 13818-1); edit lists are those of ISO/IEC 14496-12, 8.6.6; groups that lean on the one before: ITU-T H.264, recovery point SEI.
 */
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { clipsOfAll, proxyPlan } from '../helpers/proxy-house';
import { ffmpeg, makeHouse, type SmallHouse } from '../helpers/small-house';
import { go } from '../helpers/trust-house';

const moving = (rate: string, seconds = 2) => ['-f', 'lavfi', '-i', `testsrc2=s=320x180:r=${rate}:d=${seconds}`, '-f', 'lavfi', '-i', `sine=440:d=${seconds}:sample_rate=48000`]; // prettier-ignore
const FILES: Readonly<Record<string, readonly string[]>> = {
  'avchd.mts': [...moving('25'), '-c:v', 'libx264', '-bf', '2', '-g', '12', '-x264opts', 'open-gop=1', '-c:a', 'ac3', '-f', 'mpegts', '-mpegts_m2ts_mode', '1'], // prettier-ignore
  'hdv.m2t': [...moving('25'), '-c:v', 'mpeg2video', '-bf', '2', '-g', '12', '-b:v', '4M', '-c:a', 'mp2', '-f', 'mpegts'],
  'tape.mpg': [...moving('30000/1001'), '-c:v', 'mpeg2video', '-bf', '2', '-g', '15', '-b:v', '4M', '-c:a', 'mp2', '-f', 'vob'],
  'air.ts': [...moving('50'), '-c:v', 'libx264', '-bf', '3', '-g', '50', '-c:a', 'aac', '-output_ts_offset', '3600', '-f', 'mpegts'],
  'open.mp4': [...moving('24000/1001'), '-c:v', 'libx264', '-bf', '3', '-g', '24', '-x264opts', 'open-gop=1', '-c:a', 'aac'],
  'office.wmv': [...moving('25'), '-c:v', 'wmv2', '-c:a', 'wmav2'],
  'web.flv': [...moving('25'), '-c:v', 'flv', '-c:a', 'mp3', '-ar', '44100'],
  'phone.3gp': [...moving('15'), '-s', '176x144', '-c:v', 'mpeg4', '-c:a', 'aac', '-f', '3gp'],
  'capture.avi': [...moving('25'), '-s', '720x576', '-c:v', 'dvvideo', '-pix_fmt', 'yuv420p', '-ac', '2'],
};

let house: SmallHouse;
beforeAll(async () => {
  house = makeHouse();
  for (const [name, args] of Object.entries(FILES)) await ffmpeg(...args, at(name));
  // Cut without encoding, in the middle of a group: what lies before the cut is there to be decoded alone.
  await ffmpeg('-ss', '0.7', '-i', at('open.mp4'), '-c', 'copy', at('cut.mp4'));
  await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=25', '-frames:v', '2', '-f', 'yuv4mpegpipe', at('raw.y4m'));
  await clipsOfAll(house);
}, 120_000);
afterAll(() => house.remove());

const at = (name: string) => join(house.source.root, name);
/** Pictures that a decoder shows. */
const decoded = (path: string) => execFileSync('ffmpeg', ['-v', 'quiet', '-i', path, '-map', '0:V:0', '-fps_mode', 'passthrough', '-f', 'framemd5', '-'], { encoding: 'utf8' }).split('\n').filter((line) => /^\d/.test(line)).length; // prettier-ignore
const items = () => new Map(house.house.catalogue.items.onShelf(house.source.id).map((item) => [item.place.path, item]));

it('what is shown is what is counted; what is not read here says so', () => {
  for (const name of [...Object.keys(FILES), 'cut.mp4']) {
    const { facts, problem } = items().get(name)!;
    // An index of AVI counts positions: one of its pictures stands twice as long.
    const held = name === 'capture.avi' ? 1 : 0;
    expect([name, problem, facts.durationFrames]).toEqual([name, null, decoded(at(name)) + held]);
  }
  const { facts } = items().get('cut.mp4')!;
  expect(facts.storedFrames).toBeGreaterThan(facts.durationFrames!);
  expect(items().get('raw.y4m')!.problem).toBe('This format is not read here.');
});

it('each gets a proxy of all its pictures, and its last one can be looked at', { timeout: 120_000 }, async () => {
  const { run, rows } = await go(house, await proxyPlan(house, { size: { by: 'share', share: 2 } }));
  expect([run.state, rows.map(({ message }) => message).filter((message) => message !== null)]).toEqual(['done', []]);
  const made = rows.filter(({ step }) => step.action === 'encode');
  expect(made).toHaveLength(Object.keys(FILES).length + 1);
  for (const { step } of made) {
    const item = items().get(step.from!.path)!;
    const proxy = join(house.vault.root, step.to!.path);
    expect([step.from!.path, decoded(proxy)]).toEqual([step.from!.path, item.facts.durationFrames]);
    const last = await house.house.posters.frame(item, at(step.from!.path), item.facts.durationFrames! - 1);
    expect(last?.subarray(0, 2).toString('hex'), step.from!.path).toBe('ffd8');
  }
});
