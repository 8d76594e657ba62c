/** What the library in the reader's process says of a file is what ffprobe says of it: ffprobe is the judge, on files of every kind that is made here. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import { AV_LOG_QUIET } from 'node-av/constants';
import { Log } from 'node-av/lib';
import PQueue from 'p-queue';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { isMaybeIntra } from '../../src/core/media/codec-traits';
import { keyFramesByFfprobe } from '../../src/server/media/key-frames';
import { factsIn, ffprobe } from '../../src/server/media/probe';
import { keyFramesByLibrary } from '../../src/server/media/reader/key-frames-by-library';
import { pictureComes } from '../../src/server/media/reader/picture-comes';
import { probeByLibrary } from '../../src/server/media/reader/probe-by-library';
import { ffmpeg } from '../helpers/small-house';

let folder = '';
beforeAll(() => {
  Log.setLevel(AV_LOG_QUIET);
  folder = mkdtempSync(join(tmpdir(), 'reader-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const PICTURE = ['-f', 'lavfi', '-i', 'testsrc2=s=192x108:r=25:d=0.6'];
const at = (rate: string) => ['-f', 'lavfi', '-i', `testsrc2=s=192x108:r=${rate}:d=0.6`];
const SOUND = ['-f', 'lavfi', '-i', 'sine=frequency=220:sample_rate=48000:duration=0.6'];
const layout = (name: string) => ['-f', 'lavfi', '-i', `anullsrc=channel_layout=${name}:sample_rate=48000:duration=0.3`];

/** Name of the file, and how ffmpeg makes it. */
const MADE: readonly (readonly [string, readonly string[]])[] = [
  ...['24000/1001', '24', '25', '30000/1001', '30', '48', '50', '60000/1001', '60', '120', '12.5'].map(
    (rate) => [`rate ${rate.replace('/', '_')}.mov`, [...at(rate), '-c:v', 'mjpeg']] as const,
  ),
  ['drop.mov', [...at('30000/1001'), '-c:v', 'mjpeg', '-timecode', '00:59:59;28', '-metadata:s:v:0', 'reel_name=A007']],
  ['midnight.mov', [...PICTURE, '-c:v', 'mjpeg', '-timecode', '23:59:59:20']],
  ...['proxy', 'standard', 'hq'].map((grade) => [`rdd36 ${grade}.mov`, [...PICTURE, '-c:v', 'prores_ks', '-profile:v', grade]] as const),
  ['rdd36 alpha.mov', [...PICTURE, '-c:v', 'prores_ks', '-profile:v', '4444', '-pix_fmt', 'yuva444p10le']],
  ['vc3.mxf', ['-f', 'lavfi', '-i', 'testsrc2=s=1920x1080:r=25:d=0.2', '-c:v', 'dnxhd', '-b:v', '120M', '-pix_fmt', 'yuv422p', '-timecode', '10:00:00:00']],
  ['vc3.mov', ['-f', 'lavfi', '-i', 'testsrc2=s=640x360:r=25:d=0.4', '-c:v', 'dnxhd', '-profile:v', 'dnxhr_hqx', '-pix_fmt', 'yuv422p10le']],
  ['avc long.mp4', [...PICTURE, ...SOUND, '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-c:a', 'aac']],
  ['avc intra.mov', [...PICTURE, '-c:v', 'libx264', '-pix_fmt', 'yuv422p10le', '-g', '1']],
  ['avc intra.mp4', [...PICTURE, '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-g', '1']],
  ['avc every 5.mp4', [...PICTURE, '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-g', '5', '-sc_threshold', '0']],
  // Of an open group the packets of pictures that are shown before its key frame lie behind it.
  ['hevc open every 12.mp4', [...at('25').map((word) => word.replace('d=0.6', 'd=2')), '-c:v', 'libx265', '-x265-params', 'log-level=none:keyint=12:min-keyint=12:scenecut=0:open-gop=1', '-pix_fmt', 'yuv420p']],
  ['hevc intra.mov', [...PICTURE, '-c:v', 'libx265', '-x265-params', 'log-level=none:keyint=1', '-pix_fmt', 'yuv420p']],
  ['mpeg2 intra.mxf', [...PICTURE, '-c:v', 'mpeg2video', '-g', '1', '-qscale:v', '2']],
  ['ffv1 intra.mkv', [...PICTURE, '-c:v', 'ffv1', '-g', '1']],
  ['avc 422.mkv', [...PICTURE, ...SOUND, '-c:v', 'libx264', '-pix_fmt', 'yuv422p10le', '-c:a', 'flac']],
  ['hevc.mp4', [...PICTURE, '-c:v', 'libx265', '-x265-params', 'log-level=none', '-pix_fmt', 'yuv420p10le', '-tag:v', 'hvc1']],
  ['hdr.mp4', [...PICTURE, '-c:v', 'libx265', '-x265-params', 'log-level=none:colorprim=bt2020:transfer=smpte2084:colormatrix=bt2020nc', '-pix_fmt', 'yuv420p10le']],
  ['hlg.mov', [...PICTURE, '-c:v', 'libx264', '-color_primaries', 'bt2020', '-color_trc', 'arib-std-b67', '-colorspace', 'bt2020nc', '-pix_fmt', 'yuv420p']],
  ['interlaced.mov', [...PICTURE, '-c:v', 'mpeg2video', '-flags', '+ildct+ilme', '-top', '1', '-pix_fmt', 'yuv422p']],
  ['mpeg2.mxf', [...PICTURE, ...SOUND, '-c:v', 'mpeg2video', '-c:a', 'pcm_s16le']],
  ['mpeg2.ts', [...PICTURE, '-c:v', 'mpeg2video', '-c:a', 'mp2']],
  ['programme.mpg', [...PICTURE, ...SOUND, '-c:v', 'mpeg2video', '-c:a', 'mp2']],
  ['opatom.mxf', ['-f', 'lavfi', '-i', 'testsrc2=s=1920x1080:r=25:d=0.2', '-c:v', 'dnxhd', '-b:v', '120M', '-pix_fmt', 'yuv422p', '-f', 'mxf_opatom']],
  ['ffv1.mkv', [...PICTURE, '-c:v', 'ffv1', '-pix_fmt', 'yuv444p12le']],
  ['ffv1 alpha.mov', [...PICTURE, '-c:v', 'ffv1', '-pix_fmt', 'yuva444p16le']],
  ['vp9 alpha.webm', [...PICTURE, '-c:v', 'libvpx-vp9', '-pix_fmt', 'yuva420p', '-auto-alt-ref', '0']],
  ['av1.mp4', [...PICTURE, '-c:v', 'libsvtav1', '-pix_fmt', 'yuv420p']],
  ['vc5.mov', [...PICTURE, '-c:v', 'cfhd', '-pix_fmt', 'yuv422p10le']],
  ['animation.mov', [...PICTURE, '-c:v', 'qtrle', '-pix_fmt', 'argb']],
  ['v210.mov', [...PICTURE, '-c:v', 'v210']],
  ['raw.avi', [...PICTURE, ...SOUND, '-c:v', 'rawvideo', '-pix_fmt', 'yuv420p', '-c:a', 'pcm_s16le']],
  ['mjpeg.avi', [...PICTURE, '-c:v', 'mjpeg']],
  ['tape.dv', ['-f', 'lavfi', '-i', 'testsrc2=s=720x576:r=25:d=0.4', '-c:v', 'dvvideo', '-pix_fmt', 'yuv420p', '-timecode', '01:00:00:00']],
  ...['90', '180', '270'].map((turn) => [`turned ${turn}.mov`, [...PICTURE, '-c:v', 'mjpeg', '-metadata:s:v:0', `rotate=${turn}`]] as const),
  ['variable.mp4', [...PICTURE, '-vf', "select='lt(mod(n,5),3)'", '-vsync', 'vfr', '-c:v', 'libx264', '-pix_fmt', 'yuv420p']],
  ['two pictures.mov', [...PICTURE, ...PICTURE, '-map', '0', '-map', '1', '-c:v', 'mjpeg']],
  ...['s16le', 's24le', 's32le', 'f32le', 'u8', 'alaw'].map((kind) => [`sound ${kind}.wav`, [...SOUND, '-c:a', `pcm_${kind}`]] as const),
  ...['mono', 'stereo', '5.1', '7.1', 'quad', 'octagonal'].map((name) => [`${name}.wav`, [...layout(name), '-c:a', 'pcm_s24le']] as const),
  ['recorder.wav', [...SOUND, '-c:a', 'pcm_s24le', '-write_bext', '1', '-metadata', 'time_reference=172800000']],
  ['wide.wav', [...SOUND, '-c:a', 'pcm_s24le', '-rf64', 'always']],
  ['adpcm.wav', [...SOUND, '-c:a', 'adpcm_ima_wav']],
  ['sound.w64', [...SOUND, '-c:a', 'pcm_s24le']],
  ['sound.aiff', [...SOUND, '-c:a', 'pcm_s24be']],
  ['sound.caf', [...SOUND, '-c:a', 'pcm_s24be']],
  ['sound.flac', [...SOUND]],
  ['sound.mp3', [...SOUND]],
  ['sound.m4a', [...SOUND, '-c:a', 'aac']],
  ['sound.ogg', [...SOUND, '-c:a', 'libvorbis']],
  ['sound.opus', [...SOUND, '-c:a', 'libopus']],
  ...[['rgb24', 'png'], ['rgba', 'png'], ['rgb48be', 'png'], ['gray', 'png'], ['pal8', 'png'], ['yuvj420p', 'jpg'], ['rgb24', 'tif'], ['rgba64le', 'tif'], ['rgb24', 'bmp'], ['gbrpf32le', 'exr'], ['gbrapf32le', 'exr'], ['gbrp10le', 'dpx'], ['rgba', 'dpx']].map(
    ([pixels, ending]) => [`still ${pixels}.${ending}`, [...PICTURE, '-frames:v', '1', '-update', '1', '-pix_fmt', pixels!]] as const,
  ),
]; // prettier-ignore

const GROUPS: readonly (readonly [string, RegExp])[] = [
  ['movies of intra-frame codecs', /^(rate|drop|midnight|rdd36|vc3|opatom|vc5|animation|v210|raw|mjpeg|tape|turned|two)/],
  ['movies with frames between', /^(avc|hevc|hdr|hlg|interlaced|mpeg2|programme|ffv1|vp9|av1|variable)/],
  ['sound', /\.(wav|w64|aiff|caf|flac|mp3|m4a|ogg|opus)$/],
  ['stills', /^still/],
];

describe('the library and ffprobe', () => {
  const left: string[] = [];
  const spacings: Record<string, number | 'alone' | null> = {};

  it.each(GROUPS)('tell the same facts of %s', async (_, names) => {
    const making = new PQueue({ concurrency: 2 });
    const made = MADE.filter(([name]) => names.test(name));
    await making.addAll(
      made.map(
        ([name, args]) =>
          () =>
            ffmpeg('-y', ...args, `file:${join(folder, name)}`),
      ),
    );
    const differ: string[] = [];
    for (const [name] of made) {
      const file = join(folder, name);
      const quick = probeByLibrary(file);
      if (quick === null) {
        left.push(name);
        continue;
      }
      const [facts, judged] = [await factsIn(file, quick, null), await factsIn(file, await ffprobe(file, false), null)];
      if (!isDeepStrictEqual(facts, judged)) differ.push(`${name}: ${JSON.stringify(facts)} is ${JSON.stringify(judged)}`);
      const { container } = facts;
      if (facts.kind === 'video' && isMaybeIntra(facts.video!)) {
        const keys = keyFramesByLibrary(file, container);
        const judgedKeys = await keyFramesByFfprobe(file, facts);
        if (!isDeepStrictEqual(keys, judgedKeys)) differ.push(`${name}: ${JSON.stringify(keys)} is ${JSON.stringify(judgedKeys)}`);
        spacings[name] = keys?.picturesAlone ? 'alone' : (keys?.spacing ?? null);
      }
      if (/\.(mov|mp4|mxf|mkv)$/.test(name)) expect(pictureComes({ file, container, seconds: 0.1, fromKey: false }), name).toBe(true);
    }
    expect(differ).toEqual([]);
  });

  it('whether every frame stands alone is as they were made; what is left to ffprobe is known', () => {
    expect(GROUPS.reduce((count, [, names]) => count + MADE.filter(([name]) => names.test(name)).length, 0)).toBe(MADE.length);
    // As they were made: `-g`, or the coder's own length of a group.
    expect(spacings).toEqual({
      'avc 422.mkv': null,
      'avc every 5.mp4': 5,
      'avc intra.mov': 'alone',
      'avc intra.mp4': 'alone',
      'avc long.mp4': null,
      'ffv1 alpha.mov': 12,
      'ffv1 intra.mkv': 'alone',
      'ffv1.mkv': 12,
      'hdr.mp4': null,
      'hevc intra.mov': 'alone',
      'hevc open every 12.mp4': 12,
      'hevc.mp4': null,
      'hlg.mov': null,
      'interlaced.mov': 12,
      'mpeg2 intra.mxf': 'alone',
      'mpeg2.mxf': 12,
      'mpeg2.ts': 12,
      'programme.mpg': 12,
      'variable.mp4': null,
    });
    // Left to ffprobe, knowingly: what other versions of the library tell otherwise, or have no name for.
    const odd = ['adpcm.wav', 'av1.mp4', 'sound alaw.wav', 'sound.mp3', 'still gbrapf32le.exr', 'still gbrpf32le.exr', 'still rgb24.bmp', 'tape.dv'];
    expect(left.sort()).toEqual(odd);
  });

  it('a picture comes from before the end, none from after it and none of what is no picture', async () => {
    const file = join(folder, 'avc long.mp4');
    const comes = (seconds: number, fromKey = false) => pictureComes({ file, container: 'mov', seconds, fromKey });
    expect([comes(0), comes(0.55), comes(0.55, true)]).toEqual([true, true, true]);
    expect(comes(5)).toBe(false);
    expect(pictureComes({ file: join(folder, 'mono.wav'), container: 'wav', seconds: 0, fromKey: false })).toBe(false);
    expect(probeByLibrary(join(folder, 'is not there.mov'))).toBeNull();
    // As ffprobe is: no playlist leads it elsewhere.
    execFileSync('sh', ['-c', `printf '#EXTM3U\\n#EXTINF:1,\\navc long.mp4\\n' > '${join(folder, 'list.mov')}'`]);
    expect(probeByLibrary(join(folder, 'list.mov'))).toBeNull();
  });
});
