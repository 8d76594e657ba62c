/** The ffmpeg command that cuts an intra-frame MOV file on the frame without re-encoding. */
import { partTimecode } from '../../../../../core/planning/package/package-layout';
import type { MediaFacts } from '../../../../../core/media/item';
import { floorToRate, frameToMicroseconds } from '../../../../../core/time/convert';
import { frames, type FrameRange } from '../../../../../core/time/range';
import { fileArgument, inputArguments } from '../../../../media/ffmpeg';

/**
 * Item frames [range.start, range.end) of `source` into `target`. Picture packets are copied; the picture input ends
 * half a frame early, so that rounding cannot let one more in. PCM sound is cut on the sample from a second input
 * that starts on a whole second, and written as the same PCM, which is bit-identical.
 */
export function trimArguments(source: string, target: string, range: FrameRange, facts: MediaFacts): string[] {
  const rate = facts.rate!;
  const start = `${frameToMicroseconds(range.start, rate)}us`;
  const count = frames(range);
  const timecode = partTimecode(facts, range.start);
  const label = timecode ? ['-timecode', timecode] : [];
  const pictureLength = `${frameToMicroseconds(2 * count - 1, { num: rate.num * 2, den: rate.den })}us`;
  return [
    '-ss', start, '-t', pictureLength, ...inputArguments(source, facts.container),
    ...soundInput(source, range, facts),
    '-map', '0:v:0', '-c:v', 'copy',
    ...soundOutput(range, facts),
    '-map_metadata', '0', '-movflags', '+write_colr+use_metadata_tags', ...label,
    ...(facts.reel ? ['-metadata:s:v:0', `reel_name=${facts.reel}`] : []),
    '-f', 'mov', '-y', fileArgument(target),
  ]; // prettier-ignore
}

/** Whole second at or before a second ahead of the part. */
function soundSeekSeconds(range: FrameRange, facts: MediaFacts): number {
  return Math.max(0, floorToRate(range.start, facts.rate!, { num: 1, den: 1 }) - 1);
}

function soundInput(source: string, range: FrameRange, facts: MediaFacts): string[] {
  return facts.audio.length === 0 ? [] : ['-ss', String(soundSeekSeconds(range, facts)), ...inputArguments(source, facts.container)];
}

function soundOutput(range: FrameRange, facts: MediaFacts): string[] {
  const ahead = soundSeekSeconds(range, facts);
  return facts.audio.flatMap((sound, index) => {
    const samples = { num: sound.sampleRate, den: 1 };
    const first = floorToRate(range.start, facts.rate!, samples) - ahead * sound.sampleRate;
    const last = floorToRate(range.end, facts.rate!, samples) - ahead * sound.sampleRate;
    return [
      '-map',
      `1:a:${index}`,
      `-c:a:${index}`,
      sound.codec,
      `-filter:a:${index}`,
      `atrim=start_sample=${first}:end_sample=${last},asetpts=PTS-STARTPTS`,
    ];
  });
}
