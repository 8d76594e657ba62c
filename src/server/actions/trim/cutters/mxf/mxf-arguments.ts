/** The ffmpeg command that cuts an intra-frame MXF file on the frame without re-encoding. */
import { partTimecode } from '../../../../../core/planning/package/package-layout';
import type { MediaFacts } from '../../../../../core/media/item';
import { frameToMicroseconds } from '../../../../../core/time/convert';
import { frames, type FrameRange } from '../../../../../core/time/range';
import { fileArgument, inputArguments } from '../../../../media/ffmpeg';

/** Item frames [range.start, range.end) of `source` into `target`; picture and sound are interleaved frame by frame, and copied so. */
export function mxfArguments(source: string, target: string, range: FrameRange, facts: MediaFacts): string[] {
  const rate = facts.rate!;
  const timecode = partTimecode(facts, range.start);
  return [
    '-ss', `${frameToMicroseconds(range.start, rate)}us`, ...inputArguments(source, facts.container),
    '-t', `${frameToMicroseconds(frames(range), rate)}us`,
    '-map', '0:v:0', '-map', '0:a?', '-c', 'copy',
    ...(timecode ? ['-timecode', timecode] : []),
    ...(facts.reel ? ['-metadata', `reel_name=${facts.reel}`] : []),
    '-f', 'mxf', '-y', fileArgument(target),
  ]; // prettier-ignore
}
