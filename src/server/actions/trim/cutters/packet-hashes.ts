/** Hashes of picture packets: equal between a source and a part of it when nothing was re-encoded or shifted. */
import type { Rate } from '../../../../core/time/rate';
import { parseRate } from '../../../../core/time/rate';
import { frameToMicroseconds } from '../../../../core/time/convert';
import type { FrameRange } from '../../../../core/time/range';
import { CutUnproven } from './cutter';
import { complaint, inputArguments, runTool } from '../../../media/ffmpeg';

/** How packets are read as they stand. */
interface Packets {
  readonly container: string;
  /** What the reader of the container is told. */
  readonly plain: readonly string[];
}

/** MD5 of the packet of each item frame in `range`, by frame number, found by its timestamp, not by counting. */
export async function packetHashes(
  path: string,
  { container, plain }: Packets,
  range: FrameRange,
  rate: Rate,
  signal?: AbortSignal,
): Promise<Map<number, string>> {
  const before = Math.max(0, range.start - Math.ceil(rate.num / rate.den));
  const length = frameToMicroseconds(range.end - before + 2, rate);
  const args = [
    '-copyts',
    '-ss',
    `${frameToMicroseconds(before, rate)}us`,
    '-t',
    `${length}us`,
    ...plain,
    ...inputArguments(path, container),
    '-map',
    '0:v:0',
    '-c',
    'copy',
    '-f',
    'framehash',
    '-hash',
    'md5',
    '-',
  ];
  const result = await runTool('ffmpeg', args, signal ? { signal } : {});
  if (result.exitCode !== 0) throw new CutUnproven(`its packets could not be compared: ${complaint(result.stderr)}`);
  return readFrameHashes(result.stdout, range, rate);
}

/** Reads framehash output; frames outside `range` are left out. */
export function readFrameHashes(text: string, range: FrameRange, rate: Rate): Map<number, string> {
  const base = parseRate(/^#tb 0: (\S+)$/m.exec(text)?.[1] ?? '') ?? { num: 1, den: rate.num };
  const hashes = new Map<number, string>();
  for (const line of text.split('\n')) {
    const match = /^0,\s*-?\d+,\s*(-?\d+),\s*\d+,\s*\d+,\s*([0-9a-f]+)/.exec(line);
    if (!match) continue;
    // Timestamp to the nearest frame: containers round it to their own clock.
    const frame = Math.round((Number(match[1]) * base.num * rate.num) / (base.den * rate.den));
    if (frame >= range.start && frame < range.end) hashes.set(frame, match[2]!);
  }
  return hashes;
}

/** Throws CutUnproven with the first frame that differs unless `cut` holds exactly the packets of `range` of `source`. */
export async function provePart(source: string, cut: string, packets: Packets, range: FrameRange, rate: Rate, signal?: AbortSignal): Promise<number> {
  const length = range.end - range.start;
  const [expected, found] = [
    await packetHashes(source, packets, range, rate, signal),
    await packetHashes(cut, packets, { start: 0, end: length + 10 }, rate, signal),
  ];
  if (found.size !== length) throw new CutUnproven(`the cut has ${found.size} frames instead of ${length}`);
  for (let frame = 0; frame < length; frame++) {
    if (expected.get(range.start + frame) !== found.get(frame))
      throw new CutUnproven(`frame ${frame} of the cut differs from frame ${range.start + frame} of the source`);
  }
  return length;
}
