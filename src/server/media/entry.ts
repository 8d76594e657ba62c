/** Where a file is entered so that the picture which is asked for comes first. */
import type { EncodeSource } from './encode-arguments';
import { inputArguments, runTool } from './ffmpeg';

const LONGEST_MS = 60_000;
/** Where a format cannot be entered at a frame, decoding begins so many seconds before it. */
const LEADS = [4, 40];
/** Streams without an index: entered in the middle they may begin with another picture than was asked for, and say nothing. */
const UNINDEXED = new Set(['mpegts', 'mpeg', 'asf', 'flv', 'rm']);
/** Of those, formats whose timestamps may restart: ffmpeg counts from where reading begins unless it seeks. */
const COUNTED_ANEW = new Set(['mpegts', 'mpeg']);

/** Seconds before a picture at which decoding begins, as they are tried one after the other. */
export function leadsInto({ facts }: EncodeSource, isSure = false): readonly number[] {
  return isSure || UNINDEXED.has(facts.container) ? LEADS : [0, ...LEADS];
}

/** Where in a file the picture is read that is shown at `at` seconds: what is sought, and what is passed over from there. */
export function entryAt(
  { facts }: EncodeSource,
  at: number,
  delaySeconds: number,
  leadSeconds: number,
): { readonly seek: number; readonly skip: number } {
  const seek = Math.max(0, at + delaySeconds - leadSeconds);
  const delay = seek === 0 && COUNTED_ANEW.has(facts.container) ? 0 : delaySeconds;
  return { seek, skip: Math.max(0, at + delay - seek) };
}

/** By how long the first picture comes after the begin of the file: streams need not begin together. 0 where that is not told. */
export async function pictureDelay({ path, facts }: EncodeSource, signal: AbortSignal): Promise<number> {
  if (facts.sequence) return 0;
  const input = inputArguments(path, facts.container);
  const args = ['-select_streams', 'V:0', '-show_entries', 'stream=start_time:format=start_time', '-of', 'json', ...input];
  const result = await runTool('ffprobe', args, { signal, timeLimitMs: LONGEST_MS });
  try {
    const { streams, format } = JSON.parse(result.stdout) as { streams?: { start_time?: string }[]; format?: { start_time?: string } };
    const delay = Number(streams?.[0]?.start_time) - Number(format?.start_time);
    return Number.isFinite(delay) ? delay : 0;
  } catch {
    return 0;
  }
}
