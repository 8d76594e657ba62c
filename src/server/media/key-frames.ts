/** Whether every frame of a movie stands alone, or how far its key frames are apart: read, not known by the codec's name. */
import { isMaybeIntra } from '../../core/media/codec-traits';
import type { KeyFrames, MediaFacts } from '../../core/media/item';
import { rateAsNumber } from '../../core/time/rate';
import { inputArguments, LOOK_ARGUMENTS, LOOK_MEMORY_BYTES, runTool } from './ffmpeg';
import { keyFramesFast } from './reader/media-reader';
import { FRAMES_LOOKED_AT, framesBetween, MOST_GROUP_PACKETS, type KeyPacket, type SeenKeys } from './seen-keys';

const LOOK_MS = 60_000;

/** Null where the codec has no frames between key frames, or it could not be told. */
export async function keyFramesIn(file: string, facts: MediaFacts): Promise<KeyFrames | null> {
  if (facts.kind !== 'video' || !facts.video || !isMaybeIntra(facts.video)) return null;
  const seen = (await keyFramesFast(file, facts.container)) ?? (await keyFramesByFfprobe(file, facts));
  // Marked as key frames, all of them, and yet made from others: a container that says so says nothing.
  return seen === null || (seen.spacing === 1 && !seen.picturesAlone) ? null : { spacing: seen.spacing };
}

/** As the library tells it; null where ffprobe tells nothing. */
export async function keyFramesByFfprobe(file: string, facts: MediaFacts): Promise<SeenKeys | null> {
  const look = async (entries: string, intervals: string): Promise<string[] | null> => {
    const show = ['-select_streams', 'V:0', '-show_entries', entries, '-of', 'csv=p=0', '-read_intervals', intervals];
    const limits = { timeLimitMs: LOOK_MS, mostMemoryBytes: LOOK_MEMORY_BYTES, inBackground: true };
    const { stdout, exitCode } = await runTool('ffprobe', [...show, ...LOOK_ARGUMENTS, ...inputArguments(file, facts.container)], limits);
    return exitCode === 0 ? stdout.split('\n').filter((line) => line !== '') : null;
  };
  const isKey = (line: string) => line.includes('K');
  const first = await look('packet=flags', `%+#${FRAMES_LOOKED_AT}`);
  if (first === null || first.length === 0) return null;
  if (!first.every(isKey)) {
    const packets = (await look('packet=pts_time,flags', `%+#${MOST_GROUP_PACKETS}`)) ?? [];
    const keys = packets.flatMap((line, at): KeyPacket[] => (isKey(line) ? [{ at, seconds: /^-?[\d.]+/.test(line) ? parseFloat(line) : null }] : []));
    const next = keys.findIndex(({ at }, index) => index > 0 && at > index);
    const rate = facts.rate ? rateAsNumber(facts.rate) : 0;
    return { spacing: next < 0 ? null : framesBetween(keys[next - 1]!, keys[next]!, rate), picturesAlone: false };
  }
  const seconds = facts.durationFrames !== null && facts.rate ? facts.durationFrames / rateAsNumber(facts.rate) : 0;
  const middle = seconds < 2 ? '' : `,${(seconds / 2).toFixed(3)}%+#${FRAMES_LOOKED_AT}`;
  const types = await look('frame=pict_type', `%+#${FRAMES_LOOKED_AT}${middle}`);
  return types === null ? null : { spacing: 1, picturesAlone: types.length > 0 && types.every((type) => type.startsWith('I')) };
}
