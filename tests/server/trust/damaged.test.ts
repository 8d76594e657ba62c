/** Media that is dead is not present: files cut off, without their index, of zeros, empty; and whole files of every kind, which are none of these. */
import { closeSync, copyFileSync, ftruncateSync, mkdirSync, openSync, readFileSync, statSync, truncateSync, writeFileSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { CrateSettings } from '../../../src/core/planning/crate/settings';
import type { FinishDetail } from '../../../src/core/planning/finish/finish';
import { damageOf } from '../../../src/server/media/structure';
import { probeFacts } from '../../../src/server/media/probe';
import type { MediaFacts } from '../../../src/core/media/item';
import { ffmpeg, makeHouse, seen, type SmallHouse } from '../../helpers/small-house';
import { cutOf, cutTimeline, go, makeFrames, pullSettings, states, wavBytes } from '../../helpers/trust-house';
import type { OverviewView } from '../../../src/server/projects/views/project';

let small: SmallHouse;
let folder: string;
beforeAll(() => {
  small = makeHouse();
  folder = join(small.folder, 'made');
  mkdirSync(folder);
});
afterAll(() => small.remove());

const at = (name: string) => join(folder, name);

async function damage(file: string): Promise<string | null> {
  const facts: MediaFacts | null = await probeFacts(file, null).catch(() => null);
  return damageOf({ file, sizeBytes: statSync(file).size, facts, sequence: null, frameBytes: [] });
}

const PICTURE = ['-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=25:d=3'];
const SILENCE = ['-f', 'lavfi', '-i', 'anullsrc=r=48000:cl=7.1'];
/** What productions meet, with what could be taken for damage: silence in many channels, long groups, black, late sound, odd rates. */
const WHOLE: Readonly<Record<string, readonly string[]>> = {
  'intra.mov': [...PICTURE, '-c:v', 'prores_ks', '-pix_fmt', 'yuv422p10le'],
  'silent.mov': [...PICTURE, ...SILENCE, '-shortest', '-c:v', 'prores_ks', '-pix_fmt', 'yuv422p10le', '-c:a', 'pcm_s24le'],
  'start.mp4': [...PICTURE, '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-g', '250', '-movflags', '+faststart'],
  'open.mov': [...PICTURE, '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-x264-params', 'open-gop=1:bframes=3'],
  'pieces.mp4': [...PICTURE, '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-movflags', '+frag_keyframe+empty_moov'],
  'black.mov': ['-f', 'lavfi', '-i', 'color=black:s=320x180:r=24000/1001:d=4', '-c:v', 'prores_ks'],
  'raw black.mov': ['-f', 'lavfi', '-i', 'color=black:s=320x180:r=25:d=1', '-c:v', 'rawvideo', '-pix_fmt', 'rgb24'],
  'op.mxf': [...PICTURE, ...SILENCE, '-shortest', '-c:v', 'mpeg2video', '-c:a', 'pcm_s16le', '-ac', '2'],
  'intra.mxf': [...PICTURE, '-c:v', 'dnxhd', '-profile:v', 'dnxhr_lb', '-pix_fmt', 'yuv422p'],
  'tape.dv': ['-f', 'lavfi', '-i', 'testsrc2=s=720x576:r=25:d=1', '-c:v', 'dvvideo', '-pix_fmt', 'yuv420p'],
  'card.mts': [...PICTURE, '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-f', 'mpegts'],
  'web.webm': [...PICTURE, '-c:v', 'libvpx-vp9', '-deadline', 'realtime', '-cpu-used', '8'],
  'old.avi': [...PICTURE, '-c:v', 'mjpeg'],
  'one.mov': ['-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=25', '-frames:v', '1', '-c:v', 'prores_ks'],
  'late.mov': [...PICTURE, '-f', 'lavfi', '-i', 'sine=d=9:r=48000', '-c:v', 'prores_ks', '-c:a', 'pcm_s16le'],
  'bell.wav': ['-f', 'lavfi', '-i', 'sine=d=2:r=48000', '-c:a', 'pcm_s24le'],
  'bell.aiff': ['-f', 'lavfi', '-i', 'sine=d=2:r=48000'],
  'still.png': ['-f', 'lavfi', '-i', 'testsrc2=s=320x180', '-frames:v', '1'],
  'still.jpg': ['-f', 'lavfi', '-i', 'testsrc2=s=320x180', '-frames:v', '1'],
};

it('whole files of every kind are not called damaged', async () => {
  const found: [string, string | null][] = [];
  for (const [name, options] of Object.entries(WHOLE)) {
    await ffmpeg(...options, `file:${at(name)}`);
    found.push([name, await damage(at(name))]);
  }
  expect(found).toEqual(Object.keys(WHOLE).map((name) => [name, null]));
  // Padding behind the last box, sounds written as a stream, a note behind a picture.
  writeFileSync(at('padded.mov'), Buffer.concat([readFileSync(at('intra.mov')), Buffer.alloc(70_000)]));
  writeFileSync(at('noted.png'), Buffer.concat([readFileSync(at('still.png')), Buffer.from('note')]));
  const stream = Buffer.from(wavBytes(9600));
  stream.writeUInt32LE(0xffff_ffff, stream.indexOf('data') + 4);
  writeFileSync(at('stream.wav'), stream);
  expect(await Promise.all(['padded.mov', 'noted.png', 'stream.wav'].map((name) => damage(at(name))))).toEqual([null, null, null]);
}, 120_000);

const cut = (from: string, to: string, part: number) => {
  copyFileSync(at(from), at(to));
  truncateSync(at(to), Math.floor(statSync(at(from)).size * part));
};
const zero = (from: string, to: string, begin: number, end: number) => {
  copyFileSync(at(from), at(to));
  const size = statSync(at(to)).size;
  const file = openSync(at(to), 'r+');
  writeSync(file, Buffer.alloc(Math.floor(size * end) - Math.floor(size * begin)), 0, undefined, Math.floor(size * begin));
  closeSync(file);
};

describe('what is damaged is seen, and what is wrong is said', () => {
  beforeEach(async () => {
    for (const name of ['intra.mov', 'start.mp4', 'intra.mxf', 'bell.wav', 'still.png', 'still.jpg', 'bell.aiff'])
      if (!statSync(at(name), { throwIfNoEntry: false })) await ffmpeg(...WHOLE[name]!, `file:${at(name)}`);
  });

  it.each([
    ['a movie cut in half, its index at its end', () => cut('intra.mov', 'd1.mov', 0.5), 'd1.mov', 'its index (moov) is missing'],
    ['a movie cut in half, its index at its begin', () => cut('start.mp4', 'd2.mp4', 0.5), 'd2.mp4', /It is cut off: .* of .* are there/],
    ['an MXF cut in half', () => cut('intra.mxf', 'd3.mxf', 0.5), 'd3.mxf', /It is cut off: .* of .* are there/],
    ['half a WAV', () => cut('bell.wav', 'd4.wav', 0.5), 'd4.wav', /It is cut off: [\d\u2009]+ of 96\u2009000 samples are there/],
    ['half an AIFF', () => cut('bell.aiff', 'd5.aiff', 0.5), 'd5.aiff', /It is cut off/],
    ['a picture cut off', () => cut('still.png', 'd6.png', 0.6), 'd6.png', 'its end is missing'],
    ['a JPEG cut off', () => cut('still.jpg', 'd7.jpg', 0.6), 'd7.jpg', 'its end is missing'],
    ['a file of zeros', () => writeFileSync(at('d8.mov'), Buffer.alloc(400_000)), 'd8.mov', 'nothing but zeros'],
    ['an empty file', () => writeFileSync(at('d9.mov'), ''), 'd9.mov', 'empty: 0 bytes'],
    ['a zeroed fifth, each picture alone', () => zero('intra.mov', 'd10.mov', 0.4, 0.6), 'd10.mov', /overwritten with zeros: around 00:00:0[12]/],
    ['a zeroed fifth of long groups', () => zero('start.mp4', 'd11.mp4', 0.4, 0.6), 'd11.mp4', /overwritten with zeros/],
    ['a zeroed end', () => zero('intra.mxf', 'd12.mxf', 0.7, 0.98), 'd12.mxf', /zeros|last pictures/],
  ] as const)('%s', async (_, make, name, words) => {
    make();
    expect(await damage(at(name))).toMatch(words);
  });
});

it('a clip over damaged media is damaged everywhere: overview, finish check, what a crate lacks; a whole copy is read in its stead', async () => {
  const put = (name: string, bytes: Buffer) => writeFileSync(join(small.source.root, name), bytes);
  put('whole.wav', wavBytes(48_000));
  put('half.wav', wavBytes(48_000, [], 1).subarray(0, 40_000));
  put('copied.wav', wavBytes(48_000, [], 2));
  await makeFrames(small.source.root, 'pour.', 1, 8);
  const frame = openSync(join(small.source.root, 'pour.0003.dpx'), 'r+');
  ftruncateSync(frame, 4000);
  closeSync(frame);
  await small.stocktake(small.source.id);
  const timelineId = small.bring(cutTimeline('Bells', ['whole.wav', 'half.wav', 'copied.wav'].map((name) => cutOf(name, 0, 10)), 'Audio')); // prettier-ignore
  expect(small.house.catalogue.items.sequencesIn({ shelfId: small.source.id, path: '' })[0]!.damage).toBe(
    '1 frame is cut off, the first is pour.0003.dpx.',
  );
  expect(await states(small)).toEqual({ 'copied.wav copied.wav': 'present', 'half.wav half.wav': 'damaged', 'whole.wav whole.wav': 'present' });
  const view = await seen<OverviewView>(small, 'overview');
  expect([view.states.damaged, view.offlineEvents, view.advice.some(({ title }) => title === 'Replace 1 damaged file')]).toEqual([1, 1, true]);
  const finish = await small.plan({ kind: 'finish', settings: { timelineId, countDisabled: false } });
  expect((finish.detail as FinishDetail).rows.map(({ problems }) => problems.map(({ words }) => words))).toEqual([[], ['its media is damaged'], []]);
  const { folderName: _folder, ...shared } = pullSettings(small, timelineId);
  const settings: CrateSettings = { ...shared, crateName: 'Sealed', note: '' };
  const plan = await small.plan({ kind: 'crate', settings });
  expect(plan.findings.find(({ code }) => code === 'clip-offline')!.message).toBe('half.wav is damaged; the event keeps the file name.');
  expect((await go(small, plan)).run.state).toBe('done');
  expect((await seen<OverviewView>(small, 'overview')).lastCrate).toMatchObject({ isSafe: false, lacks: '2 of 3 clips, 1 damaged' });

  // Damaged after it was copied: the copy in the crate is read.
  truncateSync(join(small.source.root, 'copied.wav'), 50_000);
  await small.stocktake(small.source.id);
  expect((await states(small))['copied.wav Sealed/data/media/sound/copied.wav']).toBe('present');
  put('copied.wav', wavBytes(48_000, [], 2));
  await small.stocktake(small.source.id);
  expect((await states(small))['copied.wav copied.wav']).toBe('present');
});
