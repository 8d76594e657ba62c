/**
 * Every cut against its source with decoded frames: `ffmpeg -f framemd5` (FFmpeg's own hash of each decoded frame)
 * of the cut equals that of the same frames of the source; sound by the MD5 of its decoded samples.
 * bext: EBU Tech 3285, read back by ffprobe.
 */
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { cutWav } from '../../src/core/media/riff';
import { cutMethod } from '../../src/core/media/codec-traits';
import { frameToTimecode } from '../../src/core/time/timecode';
import { complaint, runTool } from '../../src/server/media/ffmpeg';
import { provePart } from '../../src/server/actions/trim/cutters/packet-hashes';
import { probeFacts } from '../../src/server/media/probe';
import { movCutter } from '../../src/server/actions/trim/cutters/mov/mov-cutter';
import { trimArguments } from '../../src/server/actions/trim/cutters/mov/mov-arguments';
import { identifySync } from '../../src/server/stock/identify';
import { readWavHeader } from '../../src/server/media/wav-file';
import { newControl } from '../../src/server/threads/control';
import { closeThreads } from '../../src/server/threads/pool';
import { runCopy } from '../../src/server/files/copy-files';
import { ffmpeg, makeIntra } from '../helpers/small-house';
import type { MediaFacts } from '../../src/core/media/item';
import { mxfArguments } from '../../src/server/actions/trim/cutters/mxf/mxf-arguments';

/** As the cutters of the two containers do. */
const packetsOf = ({ container }: MediaFacts) => ({ container, plain: container === 'mov' ? ['-ignore_editlist', '1'] : [] });
const cutArguments: typeof trimArguments = (source, cut, range, facts) =>
  (facts.container === 'mxf' ? mxfArguments : trimArguments)(source, cut, range, facts);

const folder = mkdtempSync(join(tmpdir(), 'mill-cut-'));
beforeAll(() => mkdirSync(folder, { recursive: true }));
afterAll(async () => {
  await closeThreads();
  rmSync(folder, { recursive: true, force: true });
});

async function decodedFrames(path: string): Promise<string[]> {
  const { stdout, exitCode, stderr } = await runTool('ffmpeg', ['-i', `file:${path}`, '-map', '0:v', '-f', 'framemd5', '-']);
  if (exitCode !== 0) throw new Error(complaint(stderr));
  return stdout.split('\n').filter((line) => line.startsWith('0,')).map((line) => line.split(',').at(-1)!.trim()); // prettier-ignore
}

async function decodedSamples(path: string, filter?: string): Promise<string> {
  return (
    await runTool('ffmpeg', ['-i', `file:${path}`, '-map', '0:a', ...(filter ? ['-af', filter] : []), '-c:a', 'pcm_s32le', '-f', 'md5', '-'])
  ).stdout.trim();
}

const KINDS = [
  ['RDD 36 in MOV at 25', 'a.mov', '25', '10:00:00:00', ['-c:v', 'prores', '-pix_fmt', 'yuv422p10le']],
  ['RDD 36 in MOV at 23.976', 'b.mov', '24000/1001', '19:00:00:00', ['-c:v', 'prores', '-pix_fmt', 'yuv422p10le']],
  ['RDD 36 in MOV at 29.97 drop-frame', 'c.mov', '30000/1001', '23:59:50;00', ['-c:v', 'prores', '-pix_fmt', 'yuv422p10le']],
  ['Motion JPEG in MOV at 59.94', 'd.mov', '60000/1001', '01:00:00;00', ['-c:v', 'mjpeg', '-pix_fmt', 'yuvj422p']],
  ['H.264 of key frames only in MOV at 29.97', 'f.mov', '30000/1001', '10:00:00;00', ['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-g', '1']],
  [
    'MPEG-2 of key frames only in MXF at 25',
    'g.mxf',
    '25',
    '10:00:00:00',
    ['-c:v', 'mpeg2video', '-pix_fmt', 'yuv422p', '-g', '1', '-qscale:v', '2'],
  ],
  ['VC-3 in MXF at 25', 'e.mxf', '25', '10:00:00:00', ['-c:v', 'dnxhd', '-profile:v', 'dnxhr_lb', '-pix_fmt', 'yuv422p']],
] as const;

describe.each(KINDS)('%s', (_, name, r, timecode, codec) => {
  const source = join(folder, name);
  beforeAll(() => makeIntra(source, 120, timecode, r, codec));

  it.each([
    [0, 12],
    [1, 2],
    [37, 61],
    [95, 120],
  ])('cut to frames %i up to %i is the same, picture and sound, with its timecode and reel', async (start, end) => {
    const facts = await probeFacts(source, null);
    expect(cutMethod(facts)).toEqual({ method: 'trim', exact: true });
    const cut = join(folder, `cut-${start}-${name}`);
    const result = await runTool('ffmpeg', cutArguments(source, cut, { start, end }, facts));
    expect(result.exitCode, result.stderr).toBe(0);
    expect(await decodedFrames(cut)).toEqual((await decodedFrames(source)).slice(start, end));
    const rate = facts.rate!;
    const sample = (frame: number) => Math.floor((frame * 48000 * rate.den) / rate.num);
    if (name.endsWith('.mov'))
      expect(await decodedSamples(cut)).toBe(await decodedSamples(source, `atrim=start_sample=${sample(start)}:end_sample=${sample(end)}`));
    const own = await probeFacts(cut, null);
    expect(own).toMatchObject({
      durationFrames: end - start,
      reel: 'A001',
      startTimecode: frameToTimecode(facts.startFrame! + start, rate, facts.dropFrame),
    });
    await expect(provePart(source, cut, packetsOf(facts), { start, end }, rate)).resolves.toBe(end - start);
  });

  it('a cut one frame off is not taken for proven', async () => {
    const facts = await probeFacts(source, null);
    const cut = join(folder, `off-${name}`);
    await runTool('ffmpeg', cutArguments(source, cut, { start: 11, end: 31 }, facts));
    await expect(provePart(source, cut, packetsOf(facts), { start: 10, end: 30 }, facts.rate!)).rejects.toThrow('differs');
  });
});

it('broadcast WAV is cut on the sample, keeps its chunks, and its TimeReference moves with it', async () => {
  const source = join(folder, 'sound.wav');
  await ffmpeg(
    '-f',
    'lavfi',
    '-i',
    'anoisesrc=r=48000:a=0.3:seed=9:d=4',
    '-ac',
    '2',
    '-c:a',
    'pcm_s24le',
    '-write_bext',
    '1',
    '-metadata',
    'time_reference=1728000000',
    '-metadata',
    'description=bell',
    source,
  );
  const cut = join(folder, 'sound-cut.wav');
  const segments = cutWav((await readWavHeader(source))!, 12_345, 98_765)!;
  await runCopy({ write: { source, segments, keepTimes: false, mustBe: null }, target: cut, control: newControl() });
  expect(await decodedSamples(cut)).toBe(await decodedSamples(source, 'atrim=start_sample=12345:end_sample=98765'));
  const { stdout } = await runTool('ffprobe', ['-show_entries', 'format_tags', '-of', 'json', cut]);
  expect((JSON.parse(stdout) as { format: { tags: Record<string, string> } }).format.tags).toMatchObject({
    time_reference: String(1_728_000_000 + 12_345),
    comment: 'bell',
  });
  expect(readFileSync(cut).readUInt32LE(4)).toBe(readFileSync(cut).length - 8);
});

it('key frames at the begin and in the middle, others behind them: a cut of those is not taken for one', async () => {
  const part = (name: string, group: string) =>
    ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=25:d=3', '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-g', group, '-bf', '0', '-sc_threshold', '0', `file:${join(folder, name)}`); // prettier-ignore
  await part('first.mov', '1');
  await part('then.mov', '250');
  const source = join(folder, 'spliced.mov');
  writeFileSync(join(folder, 'both.txt'), "file 'first.mov'\nfile 'first.mov'\nfile 'then.mov'\n");
  await ffmpeg('-f', 'concat', '-i', join(folder, 'both.txt'), '-c', 'copy', `file:${source}`);
  const facts = await probeFacts(source, null);
  // The first and the middle pictures stand alone: that is all that was read of it.
  expect(facts.keyFrames).toEqual({ spacing: 1 });
  const job = (range: { start: number; end: number }) => ({
    source, identity: identifySync(source), part: join(folder, `part-${range.start}.mov`), facts, range, control: newControl(), signal: new AbortController().signal, watch: () => undefined,
  }); // prettier-ignore
  await movCutter.cut(job({ start: 20, end: 60 }));
  expect(await decodedFrames(join(folder, 'part-20.mov'))).toEqual((await decodedFrames(source)).slice(20, 60));
  await expect(movCutter.cut(job({ start: 160, end: 170 }))).rejects.toThrow(/needs other frames|could not be decoded|frames instead of/);
});
