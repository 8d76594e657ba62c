/** Frames as small grey pictures, and sound as loudness over time: what copies are held against their sources by. */
import type { Envelope, SmallPicture } from '../../core/rendition/look-alike';
import { frameToMicroseconds } from '../../core/time/convert';
import type { Rate } from '../../core/time/rate';
import { sourceArguments, type EncodeSource } from './encode-arguments';
import { entryAt, leadsInto } from './entry';
import { complaint, inputArguments, LOOK_ARGUMENTS, runTool } from './ffmpeg';
import { StepFailure } from '../errors/explain-error';

/** Large enough to tell, where a picture has so much. */
const LARGEST = { width: 96, height: 54 };
const LONGEST_MS = 600_000;

/** What small pictures are made of. */
export interface PictureSource extends EncodeSource {
  readonly rate: Rate;
  /** See pictureDelay; null where frames do not come evenly: they are counted from the first. */
  readonly delaySeconds: number | null;
  /** Of the small pictures: no larger than what they are compared with is, whose detail is less. */
  readonly size: SmallSize;
}

export interface SmallSize {
  readonly width: number;
  readonly height: number;
}

export function smallSize({ width, height }: SmallSize): SmallSize {
  return { width: Math.min(LARGEST.width, width), height: Math.min(LARGEST.height, height) };
}

interface Wanted {
  readonly first: number;
  readonly count: number;
  /** How many there are. */
  readonly least: number;
  /** Decoded on from before, whatever is found: not every format is entered where it is asked to. */
  readonly isSure: boolean;
}

/** Frames [first, first + count), as far as there are so many. Rejects with what the tool complained of. */
export async function smallPictures(source: PictureSource, wanted: Wanted, signal: AbortSignal): Promise<SmallPicture[]> {
  let found: SmallPicture[] = [];
  for (const lead of leadsInto(source, wanted.isSure)) {
    found = await picturesFrom(source, wanted, lead, signal);
    if (found.length >= wanted.least || signal.aborted) break;
  }
  return found;
}

async function picturesFrom(source: PictureSource, { first, count }: Wanted, leadSeconds: number, signal: AbortSignal): Promise<SmallPicture[]> {
  const { rate, delaySeconds, size } = source;
  // Half a frame early: the first picture from there on is the one.
  const at = first === 0 || delaySeconds === null ? 0 : frameToMicroseconds(2 * first - 1, { num: rate.num * 2, den: rate.den }) / 1e6;
  const { seek: sought, skip } = at === 0 ? { seek: 0, skip: 0 } : entryAt(source, at, delaySeconds ?? 0, leadSeconds);
  const seek = (seconds: number) => (seconds > 0 ? ['-ss', `${Math.round(seconds * 1e6)}us`] : []);
  const input = withoutLength(sourceArguments(source, { sequenceRate: rate }));
  const args = [
    ...LOOK_ARGUMENTS, ...seek(sought), ...input, ...seek(skip), '-map', '0:V:0', '-frames:v', String(count), '-fps_mode', 'passthrough',
    '-vf', `${delaySeconds === null ? `select=gte(n\\,${first}),` : ''}scale=${size.width}:${size.height}:flags=area,format=gray`, '-f', 'rawvideo', '-',
  ]; // prettier-ignore
  const result = await runTool('ffmpeg', args, { signal, timeLimitMs: LONGEST_MS, asBytes: true });
  const bytes = Buffer.from(result.stdout, 'latin1');
  if (result.exitCode !== 0) throw new StepFailure(`It cannot be decoded: ${complaint(result.stderr)}`);
  const each = size.width * size.height;
  return Array.from({ length: Math.floor(bytes.length / each) }, (_, index) => new Uint8Array(bytes.subarray(index * each, (index + 1) * each)));
}

/** What limits the output of an encoding does not belong to an input. */
export function withoutLength(args: readonly string[]): string[] {
  const at = args.indexOf('-frames:v');
  return at < 0 ? [...args] : args.filter((_, index) => index !== at && index !== at + 1);
}

/** Samples a second and samples a block: blocks of 40 ms. */
const SAMPLE_RATE = 2000;
const BLOCK = 80;
const HEARD_SECONDS = 20;

/** Loudness of every channel, track by track, of some seconds in the middle. */
export async function soundEnvelopes({ path, facts }: EncodeSource, seconds: number, signal: AbortSignal): Promise<Envelope[]> {
  const from = Math.max(0, (seconds - HEARD_SECONDS) / 2);
  const out: Envelope[] = [];
  for (const [stream, { channels }] of facts.audio.entries()) {
    const args = ['-ss', from.toFixed(3), ...inputArguments(path, facts.container), '-map', `0:a:${stream}`, '-t', String(HEARD_SECONDS), '-ar', String(SAMPLE_RATE), '-f', 's16le', '-']; // prettier-ignore
    const result = await runTool('ffmpeg', args, { signal, timeLimitMs: LONGEST_MS, asBytes: true });
    if (result.exitCode !== 0) throw new StepFailure(`It cannot be decoded: ${complaint(result.stderr)}`);
    out.push(...envelopesOf(Buffer.from(result.stdout, 'latin1'), channels));
  }
  return out;
}

function envelopesOf(bytes: Buffer, channels: number): Envelope[] {
  const blocks = Math.floor(bytes.length / 2 / channels / BLOCK);
  return Array.from({ length: channels }, (_, channel) =>
    Array.from({ length: blocks }, (__, block) => {
      let sum = 0;
      for (let sample = 0; sample < BLOCK; sample++) sum += bytes.readInt16LE(((block * BLOCK + sample) * channels + channel) * 2) ** 2;
      // From -60 dB down it is silence.
      return Math.max(-60, 20 * Math.log10(Math.sqrt(sum / BLOCK) / 32_768 || 1e-9));
    }),
  );
}
