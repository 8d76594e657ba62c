/** Makes the files of the production with ffmpeg. Each picture bears its name and running timecode. */
import { createWriteStream, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import PQueue from 'p-queue';
import yazl from 'yazl';
import { rate } from '../src/core/time/rate';
import { frameToTimecode } from '../src/core/time/timecode';
import { complaint, runTool } from '../src/server/media/ffmpeg';
import {
  BUNDLE_SHOTS,
  CARD,
  GRADED,
  LOWER_THIRD,
  PICTURES,
  SEQUENCE,
  SHOOT_DAYS,
  SOUNDS,
  STILLS,
  type PictureFile,
  type SoundFile,
} from './media-script';

const FONT = '/usr/share/fonts/truetype/dejavu/DejaVuSansMono.ttf';
const SIZE = '640x360';
const PAL = rate(25);

export async function ffmpeg(args: readonly string[]): Promise<void> {
  const result = await runTool('ffmpeg', [...args]);
  if (result.exitCode !== 0) throw new Error(`ffmpeg failed: ${complaint(result.stderr)}\n${args.join(' ')}`);
}

/** A warm gradient of the clip's own hue that moves slowly, with name and timecode burnt in. */
export function picture(label: string, hue: number, start: number, size = SIZE, at = PAL): string {
  const fps = `${at.num}/${at.den}`;
  const timecode = frameToTimecode(start, at, false).replaceAll(':', '\\:');
  const colour = (lightness: number) => hex(hue, lightness);
  const text = (what: string, y: string, big: number) =>
    `drawtext=fontfile=${FONT}:${what}:x=(w-tw)/2:y=${y}:fontsize=${big}:fontcolor=white:box=1:boxcolor=black@0.45:boxborderw=8`;
  return [
    `gradients=s=160x90:r=${fps}:c0=${colour(0.16)}:c1=${colour(0.62)}:x0=0:y0=0:x1=160:y1=90:nb_colors=2:speed=0.012:seed=${hue + 1},scale=${size.replace('x', ':')}:flags=bilinear`,
    text(`text='${label}'`, 'h*0.36', 34),
    text(`timecode='${timecode}':timecode_rate=${fps}`, 'h*0.62', 30),
  ].join(',');
}

function hex(hue: number, lightness: number): string {
  const saturation = 0.55 * Math.min(lightness, 1 - lightness);
  const channel = (shift: number) => {
    const k = (shift + hue / 30) % 12;
    return Math.round(255 * (lightness - saturation * Math.max(-1, Math.min(k - 3, 9 - k, 1)))).toString(16).padStart(2, '0'); // prettier-ignore
  };
  return `0x${channel(0)}${channel(8)}${channel(4)}`;
}

/** Day on which what lies in a folder was shot; null for what was not. */
function shootDay(path: string): string | null {
  return SHOOT_DAYS.find(([folder]) => path.startsWith(`${folder}/`))?.[1] ?? null;
}

export async function makePicture(file: PictureFile, target: string): Promise<void> {
  mkdirSync(dirname(target), { recursive: true });
  const label = file.start === null ? [] : ['-timecode', frameToTimecode(file.start, PAL, false)];
  const seconds = String(file.frames / 25);
  const video = ['-f', 'lavfi', '-i', picture(file.label, file.hue, file.start ?? 0)];
  const sound = ['-f', 'lavfi', '-i', `sine=frequency=${180 + file.hue}:sample_rate=48000:duration=${seconds}`];
  const day = shootDay(file.path);
  const shot = day === null ? [] : ['-metadata', `creation_time=${day}T10:00:00Z`];
  const common = ['-frames:v', String(file.frames), ...shot, '-fflags', '+bitexact', '-y', `file:${target}`];
  const reel = file.reel ? ['-metadata:s:v:0', `reel_name=${file.reel}`] : [];
  switch (file.make) {
    case 'rdd36':
    case 'rdd36-silent':
      return ffmpeg([
        ...video,
        ...(file.make === 'rdd36' ? [...sound, '-map', '0:v', '-map', '1:a'] : []),
        '-c:v',
        'prores',
        '-profile:v',
        '0',
        '-pix_fmt',
        'yuv422p10le',
        '-c:a',
        'pcm_s24le',
        '-ac',
        '2',
        '-t',
        seconds,
        ...label,
        ...reel,
        ...common,
      ]);
    case 'rdd36-alpha':
      return ffmpeg([
        '-f',
        'lavfi',
        '-i',
        `color=black@0.0:s=${SIZE}:r=25,format=yuva444p10le,drawtext=fontfile=${FONT}:text='BRONZE HOUR':x=(w-tw)/2:y=(h-th)/2:fontsize=64:fontcolor=0xE8C27A`,
        '-c:v',
        'prores_ks',
        '-profile:v',
        '4',
        '-pix_fmt',
        'yuva444p10le',
        ...common,
      ]);
    case 'h264':
      return ffmpeg([
        ...video,
        ...sound,
        '-map',
        '0:v',
        '-map',
        '1:a',
        '-c:v',
        'libx264',
        '-preset',
        'veryfast',
        '-g',
        '50',
        '-bf',
        '2',
        '-crf',
        '20',
        '-pix_fmt',
        'yuv420p',
        '-c:a',
        'aac',
        '-t',
        seconds,
        ...label,
        ...common,
      ]);
    case 'hevc-hlg':
      return ffmpeg([
        ...video,
        '-map',
        '0:v',
        '-c:v',
        'libx265',
        '-preset',
        'ultrafast',
        '-x265-params',
        'log-level=error:keyint=50',
        '-pix_fmt',
        'yuv420p10le',
        '-color_primaries',
        'bt2020',
        '-color_trc',
        'arib-std-b67',
        '-colorspace',
        'bt2020nc',
        '-tag:v',
        'hvc1',
        ...common,
      ]);
    case 'vc3-mxf':
      return ffmpeg([
        ...video,
        ...sound,
        '-map',
        '0:v',
        '-map',
        '1:a',
        '-c:v',
        'dnxhd',
        '-profile:v',
        'dnxhr_lb',
        '-pix_fmt',
        'yuv422p',
        '-c:a',
        'pcm_s16le',
        '-t',
        seconds,
        ...label,
        '-metadata',
        `reel_name=${file.reel}`,
        '-f',
        'mxf',
        ...common,
      ]);
  }
}

export async function makeSound(file: SoundFile, target: string): Promise<void> {
  mkdirSync(dirname(target), { recursive: true });
  const day = shootDay(file.path);
  const bext =
    file.timeReference === null
      ? []
      : [
          '-write_bext',
          '1',
          '-metadata',
          `time_reference=${file.timeReference}`,
          '-metadata',
          'description=Bronze Hour location sound',
          ...(day === null ? [] : ['-metadata', `origination_date=${day}`]),
        ];
  // A struck tone that dies away every few seconds, so that places in it can be told apart by ear.
  const bell = `aevalsrc='0.5*exp(-1.2*mod(t,3))*sin(2*PI*${file.tone}*t)+0.2*exp(-2*mod(t,3))*sin(2*PI*${Math.round(file.tone * 2.76)}*t)':s=48000:d=${file.seconds}`;
  await ffmpeg(['-f', 'lavfi', '-i', bell, '-c:a', 'pcm_s24le', ...bext, '-fflags', '+bitexact', '-y', `file:${target}`]);
  if (file.reel) appendIxml(target, { TAPE: file.reel });
}

/** What a camera writes beside its pictures. */
function putPaper(target: string): void {
  mkdirSync(dirname(target), { recursive: true });
  writeFileSync(target, 'Card D07, formatted in camera.\n');
}

/** Recorders tell the camera's reel, and more, in an iXML chunk: put behind the others, the size of the RIFF made to match. */
export function appendIxml(path: string, tags: Readonly<Record<string, string>>): void {
  const told = Object.entries(tags).map(([name, value]) => `<${name}>${value}</${name}>`).join(''); // prettier-ignore
  const text = `<?xml version="1.0" encoding="UTF-8"?><BWFXML><IXML_VERSION>1.61</IXML_VERSION><PROJECT>Bronze Hour</PROJECT>${told}</BWFXML>`;
  const body = Buffer.from(text.length % 2 === 0 ? text : `${text} `, 'utf8');
  const header = Buffer.alloc(8);
  header.write('iXML', 0, 'latin1');
  header.writeUInt32LE(body.length, 4);
  const wav = readFileSync(path);
  wav.writeUInt32LE(wav.readUInt32LE(4) + header.length + body.length, 4);
  writeFileSync(path, Buffer.concat([wav, header, body]));
}

/** A small bundle with a timeline and two files of its own. */
export async function makeBundle(target: string, timeline: string): Promise<void> {
  const file = new yazl.ZipFile();
  file.addBuffer(Buffer.from(timeline, 'utf8'), 'content.otio');
  file.addBuffer(Buffer.from('1.0.0', 'utf8'), 'version.txt');
  for (const shot of BUNDLE_SHOTS) {
    const made = join(dirname(target), `.${shot.path}`);
    await makePicture(shot, made);
    file.addBuffer(readFileSync(made), `media/${shot.path}`, { compress: false });
    rmSync(made);
  }
  file.end();
  await pipeline(file.outputStream, createWriteStream(target));
}

async function makeStill(target: string, label: string, hue: number): Promise<void> {
  mkdirSync(dirname(target), { recursive: true });
  await ffmpeg(['-f', 'lavfi', '-i', picture(label, hue, 0, '1280x720'), '-frames:v', '1', '-q:v', '3', '-y', `file:${target}`]);
}

async function makeLowerThird(target: string): Promise<void> {
  mkdirSync(dirname(target), { recursive: true });
  await ffmpeg([
    '-f',
    'lavfi',
    '-i',
    `color=black@0.0:s=1280x720,format=rgba,drawbox=x=80:y=560:w=560:h=90:color=0x1f5e54@0.85:t=fill,drawtext=fontfile=${FONT}:text='The founder':x=110:y=585:fontsize=40:fontcolor=white`,
    '-frames:v',
    '1',
    '-y',
    `file:${target}`,
  ]);
}

async function makeSequence(folder: string): Promise<void> {
  mkdirSync(folder, { recursive: true });
  const { prefix, suffix, first, count, hue } = SEQUENCE;
  await ffmpeg([
    '-f',
    'lavfi',
    '-i',
    picture('pour v003', hue, 0, '320x180'),
    '-frames:v',
    String(count),
    '-pix_fmt',
    'gbrp10be',
    '-start_number',
    String(first),
    '-y',
    `file:${join(folder, `${prefix}%04d${suffix}`)}`,
  ]);
}

const LUT = `TITLE "Foundry warm"\nLUT_3D_SIZE 2\n${[0, 1].flatMap((b) => [0, 1].flatMap((g) => [0, 1].map((r) => `${Math.min(1, r * 1.0 + 0.02).toFixed(3)} ${(g * 0.97).toFixed(3)} ${(b * 0.9).toFixed(3)}`))).join('\n')}\n`;

/** All files, below one folder a drive. */
export async function makeMedia(driveFolder: (drive: string) => string): Promise<void> {
  const queue = new PQueue({ concurrency: 2 });
  for (const file of [...PICTURES, ...GRADED]) void queue.add(() => makePicture(file, join(driveFolder(file.drive), file.path)));
  for (const file of SOUNDS) void queue.add(() => makeSound(file, join(driveFolder(file.drive), file.path)));
  for (const paper of CARD.papers) putPaper(join(driveFolder(CARD.drive), CARD.folder, paper));
  for (const still of STILLS) void queue.add(() => makeStill(join(driveFolder(still.drive), still.path), still.label, still.hue));
  void queue.add(() => makeLowerThird(join(driveFolder(LOWER_THIRD.drive), LOWER_THIRD.path)));
  void queue.add(() => makeSequence(join(driveFolder(SEQUENCE.drive), SEQUENCE.folder)));
  await new Promise<void>((resolve, reject) => {
    queue.on('error', reject);
    void queue.onIdle().then(resolve);
  });
  const raid = driveFolder('STUDIO-RAID');
  mkdirSync(join(raid, 'Looks'), { recursive: true });
  writeFileSync(join(raid, 'Looks/foundry_warm.cube'), LUT);
  writeFileSync(join(driveFolder('TRAVEL-SSD'), 'read me.txt'), 'Travel drive of the Bronze Hour edit. Keep dry.\n');
}
