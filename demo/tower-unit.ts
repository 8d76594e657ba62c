/**
 * A small second unit of the same documentary, in the belfry: cards as cameras and recorders write them, without timecode
 * or reel, with names counted anew on each card, and lists from other systems that name them by what they had.
 */
import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type { OtioObject } from '../src/core/interchange/otio/otio-types';
import {
  clipDocument,
  externalReference,
  formatOtio,
  rationalTime,
  timelineDocument,
  timeRange,
  trackDocument,
} from '../src/core/interchange/otio/otio-writer';
import { nominalFps, rate } from '../src/core/time/rate';
import { appendIxml, ffmpeg, picture } from './make-media';

const SIZE = '320x180';

interface Shot {
  readonly path: string;
  readonly label: string;
  readonly seconds: number;
  readonly hue: number;
  readonly sound: boolean;
}

const shot = (path: string, label: string, hue: number, seconds = 4, sound = true): Shot => ({ path, label, hue, seconds, sound });

export const TOWER_SHOTS: readonly Shot[] = [
  shot('CARD_T1/DCIM/100TOWER/C0001.MP4', 'T1 stairs', 200),
  shot('CARD_T1/DCIM/100TOWER/C0002.MP4', 'T1 beams', 30),
  shot('CARD_T1/DCIM/100TOWER/C0003.MP4', 'T1 swallow', 90),
  shot('CARD_T2/DCIM/100TOWER/C0001.MP4', 'T2 hoist', 20),
  shot('CARD_T2/DCIM/100TOWER/C0002.MP4', 'T2 clapper', 330),
  shot('ROPE_CAM/ROPE0007.MP4', 'rope 1', 140),
  shot('ROPE_CAM/ROPE0007_2.MP4', 'rope 2', 150, 3),
  shot('ROPE_CAM/TOWER_BELL_WIDE.MP4', 'bell wide', 45),
  shot('RECORDER/TAKE0003/TAKE0003.MOV', 'ringer', 280, 4, false),
];

/** Files that stand beside the media; every stem but one is another than that of its master. */
const PAPERS: readonly (readonly [string, string])[] = [
  ['CARD_T1/DCIM/100TOWER/C0001M01.XML', '<Clip><Name>C0001</Name></Clip>\n'],
  ['CARD_T1/DCIM/100TOWER/C0002M01.XML', '<Clip><Name>C0002</Name></Clip>\n'],
  ['CARD_T2/DCIM/100TOWER/C0001M01.XML', '<Clip><Name>C0001</Name></Clip>\n'],
  ['RECORDER/TAKE0003/TAKE0003.IDX', 'TAKE0003 picture and sound\n'],
];

const PHONE = 'PHONE/VID_20260316_101500.mp4';
const AFTERNOON = 14 * 3600 * 48_000;

/** Sound of the recorder: one file of four channels, and one take of two files. */
const SOUNDS = [
  { path: 'SOUND/T0012.WAV', channels: 4, seconds: 20, tone: 196, tags: { TAPE: 'BELFRY', SCENE: '12', TAKE: '1', FAMILY_UID: 'BH-T0012' }, start: AFTERNOON },
  { path: 'SOUND/T0013_1.WAV', channels: 1, seconds: 15, tone: 165, tags: { TAPE: 'BELFRY', SCENE: '12', TAKE: '2', FAMILY_UID: 'BH-T0013' }, start: AFTERNOON + 300 * 48_000 },
  { path: 'SOUND/T0013_2.WAV', channels: 1, seconds: 15, tone: 247, tags: { TAPE: 'BELFRY', SCENE: '12', TAKE: '2', FAMILY_UID: 'BH-T0013' }, start: AFTERNOON + 300 * 48_000 },
  { path: 'RECORDER/TAKE0003/TAKE0003.WAV', channels: 2, seconds: 4, tone: 220, tags: {}, start: null },
] as const; // prettier-ignore

/** As another system wrote it: reels cut to eight letters or none at all, names with and without their endings. */
export const TOWER_CUT = `TITLE: TOWER CUT
FCM: NON-DROP FRAME

001  CARD_T1  V     C        00:00:01:00 00:00:02:10 01:00:00:00 01:00:01:10
* FROM CLIP NAME: C0001.MP4
002  CARD_T2  V     C        00:00:00:12 00:00:02:12 01:00:01:10 01:00:03:10
* FROM CLIP NAME: C0001.MP4
003  AX       V     C        00:00:01:00 00:00:02:00 01:00:03:10 01:00:04:10
* FROM CLIP NAME: C0002.MP4
004  CARD_T1  V     C        00:00:00:00 00:00:01:20 01:00:04:10 01:00:06:05
* FROM CLIP NAME: C0003
005  TOWER_BE V     C        01:00:00:10 01:00:02:00 01:00:06:05 01:00:07:20
* FROM CLIP NAME: TOWER_BELL_WIDE.MP4
006  ROPE0007 V     C        00:00:01:00 00:00:02:00 01:00:07:20 01:00:08:20
* FROM CLIP NAME: ROPE0007.MP4
007  ROPE0007 V     C        00:00:00:05 00:00:01:05 01:00:08:20 01:00:09:20
* FROM CLIP NAME: ROPE0007_2.MP4
008  TAKE0003 B     C        00:00:00:10 00:00:03:10 01:00:09:20 01:00:12:20
* FROM CLIP NAME: TAKE0003
009  AX       AA    C        14:00:05:00 14:00:08:00 01:00:00:00 01:00:03:00
* FROM CLIP NAME: T0012.WAV
010  AX       AA    C        14:05:02:00 14:05:06:00 01:00:03:00 01:00:07:00
* FROM CLIP NAME: T0013
011  AX       V     C        00:00:00:10 00:00:02:00 01:00:12:20 01:00:14:10
* FROM CLIP NAME: VID_20260316_101500.mp4
012  CARD_T9  V     C        00:00:01:00 00:00:02:00 01:00:14:10 01:00:15:10
* FROM CLIP NAME: C0002.MP4
013  AX       V     C        00:00:01:00 00:00:02:00 01:00:15:10 01:00:16:10
* FROM CLIP NAME: C0009.MP4
`;

/** Cameras that run at rates of their own, with timecode. */
const OTHER_RATES = [
  { path: 'FILM_CAM/FILM0007.MOV', label: 'film', hue: 25, at: rate(24_000, 1001), hour: 10, seconds: 30 },
  { path: 'SLOW_CAM/SLOW0003.MOV', label: 'slow', hue: 260, at: rate(50), hour: 11, seconds: 8 },
] as const;

/** A list of 25 whose system counts every source in its own frames: the film at 24, the slow one at 50 a second. */
export const RINGING = `TITLE: RINGING
FCM: NON-DROP FRAME

001  FILM0007 V     C        10:00:21:00 10:00:25:00 01:00:00:00 01:00:04:00
* FROM CLIP NAME: FILM0007.MOV
002  SLOW0003 V     C        11:00:01:25 11:00:05:25 01:00:04:00 01:00:08:00
* FROM CLIP NAME: SLOW0003.MOV
003  FILM0007 V     C        10:00:10:20 10:00:12:08 01:00:08:00 01:00:09:13
* FROM CLIP NAME: FILM0007.MOV
004  AX       V     C        00:00:01:00 00:00:02:10 01:00:09:13 01:00:10:23
* FROM CLIP NAME: ROPE0007.MP4
005  AX       V     C        00:00:00:10 00:00:01:10 01:00:10:23 01:00:11:23
* FROM CLIP NAME: ROPE0007_2.MP4
`;

const PAL = rate(25);

function otherMachine(): OtioObject {
  const cut = (name: string, url: string, start: number, length: number) => clipDocument(name, timeRange(start, length, PAL), externalReference(url, name, timeRange(0, 100, PAL))); // prettier-ignore
  return timelineDocument('Tower teaser', rationalTime(0, PAL), [
    trackDocument('V1', 'Video', [
      cut('Stairs', 'file:///D:/Belfry/CARD_T1/C0003.MP4', 20, 50),
      cut('Bell', 'file:///D:/Belfry/rope%20cam/TOWER_BELL_WIDE.MP4', 10, 60),
      cut('Rope', 'D:\\Belfry\\rope cam\\ROPE0007.MP4', 0, 40),
    ]),
  ]);
}

export async function makeTowerUnit(folder: string): Promise<void> {
  const at = (path: string) => {
    const target = join(folder, path);
    mkdirSync(dirname(target), { recursive: true });
    return target;
  };
  for (const { path, label, hue, seconds, sound } of TOWER_SHOTS) await makeShot(at(path), picture(label, hue, 0, SIZE), seconds, sound ? hue : null);
  for (const { path, channels, seconds, tone, tags, start } of SOUNDS) {
    const wave = Array.from({ length: channels }, (_, index) => `0.4*exp(-1.2*mod(t,3))*sin(2*PI*${tone * (index + 1)}*t)`).join('|');
    const bext = start === null ? [] : ['-write_bext', '1', '-metadata', `time_reference=${start}`];
    await ffmpeg([
      '-f',
      'lavfi',
      '-i',
      `aevalsrc='${wave}':s=48000:d=${seconds}`,
      '-c:a',
      'pcm_s24le',
      ...bext,
      '-fflags',
      '+bitexact',
      '-y',
      `file:${at(path)}`,
    ]);
    if (Object.keys(tags).length > 0) appendIxml(at(path), tags);
  }
  // Pictures that come when they come, as a phone writes them.
  await ffmpeg(['-f', 'lavfi', '-i', `${picture('phone', 110, 0, SIZE)},select='lt(mod(n,9),7)'`, '-t', '4', '-vsync', 'vfr', '-c:v', 'libx264', '-preset', 'veryfast', '-pix_fmt', 'yuv420p', '-fflags', '+bitexact', '-y', `file:${at(PHONE)}`]); // prettier-ignore
  for (const { path, label, hue, at: own, hour, seconds } of OTHER_RATES)
    await ffmpeg(['-f', 'lavfi', '-i', picture(label, hue, hour * 3600 * nominalFps(own), SIZE, own), '-t', String(seconds), '-timecode', `${hour}:00:00:00`, '-c:v', 'libx264', '-preset', 'veryfast', '-g', '25', '-pix_fmt', 'yuv420p', '-fflags', '+bitexact', '-y', `file:${at(path)}`]); // prettier-ignore
  for (const [path, text] of PAPERS) writeFileSync(at(path), text);
  writeFileSync(at('Lists/tower_cut.edl'), TOWER_CUT);
  writeFileSync(at('Lists/ringing.edl'), RINGING);
  writeFileSync(at('Lists/tower_teaser.otio'), formatOtio(otherMachine()));
}

function makeShot(target: string, video: string, seconds: number, tone: number | null): Promise<void> {
  const sound = tone === null ? [] : ['-f', 'lavfi', '-i', `sine=frequency=${180 + tone}:sample_rate=48000:duration=${seconds}`];
  const maps = tone === null ? ['-map', '0:v'] : ['-map', '0:v', '-map', '1:a', '-c:a', 'aac'];
  return ffmpeg(['-f', 'lavfi', '-i', video, ...sound, ...maps, '-c:v', 'libx264', '-preset', 'veryfast', '-g', '25', '-pix_fmt', 'yuv420p', '-frames:v', String(seconds * 25), '-t', String(seconds), '-fflags', '+bitexact', '-y', `file:${target}`]); // prettier-ignore
}
