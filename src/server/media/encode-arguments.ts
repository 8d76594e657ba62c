/** The ffmpeg command that makes a light copy or a mezzanine: every frame of its source, at its times, in another size and codec. */
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { frameName } from '../../core/media/image-sequence';
import type { MediaFacts, SequenceFacts } from '../../core/media/item';
import { colouredPictures, colourTags, isRgb, scalerColours } from '../../core/rendition/colours';
import type { BurnIn, BurnLine } from '../../core/rendition/burn-in';
import { AAC_BITS_PER_CHANNEL, optionsAt, presetOf, soundCodec } from '../../core/rendition/presets';
import { hasFewerChannels, type Recipe } from '../../core/rendition/recipe';
import { formatRate, type Rate } from '../../core/time/rate';
import { fileArgument, inputArguments } from './ffmpeg';

/** What a picture is read from: a file, or the folder of numbered frames. */
export interface EncodeSource {
  readonly path: string;
  readonly facts: MediaFacts;
}

const FONT = '@fontsource-variable/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-wght-normal.woff2';

export function encodeArguments(source: EncodeSource, target: string, recipe: Recipe, burnFiles: ReadonlyMap<string, string>): string[] {
  const { facts } = source;
  const preset = presetOf(recipe.presetId);
  const fewer = hasFewerChannels(facts, recipe);
  const label = facts.startTimecode !== null && facts.steadyRate !== false ? ['-timecode', facts.startTimecode] : [];
  return [
    ...sourceArguments(source, recipe),
    '-map',
    '0:V:0',
    ...(fewer ? firstTwo(facts) : ['-map', '0:a?']),
    '-vf',
    `${heldPositions(facts)}${pictureFilter(facts, recipe, burnFiles)}`,
    '-fps_mode',
    'passthrough',
    '-c:v',
    preset.encoder,
    ...optionsAt(preset, recipe.quality ?? 0),
    '-pix_fmt',
    preset.pixelFormat,
    ...(facts.video ? colourTags(facts.video) : []),
    ...(fewer
      ? ['-ac', '2', ...soundOf(soundCodec(preset, 2), 2, 0)]
      : facts.audio.flatMap(({ channels }, index) => soundOf(soundCodec(preset, channels), channels, index))),
    '-map_metadata',
    '-1',
    ...label,
    ...(facts.reel ? ['-metadata:s:v:0', `reel_name=${facts.reel}`] : []),
    '-movflags',
    '+write_colr',
    '-f',
    'mov',
    '-y',
    fileArgument(target),
  ];
}

/** A capture into AVI may leave out pictures that were lost: the one before each stays, so that every position has one. */
function heldPositions({ container, steadyRate, rate, sequence }: MediaFacts): string {
  return container === 'avi' && steadyRate && rate && !sequence ? `fps=fps=${formatRate(rate)}:start_time=0,` : '';
}

/** Its first two channels: the first track mixed to two, or two tracks of one channel side by side. */
function firstTwo({ audio }: MediaFacts): string[] {
  const isMono = audio[0]?.channels === 1 && audio[1]?.channels === 1;
  return isMono ? ['-filter_complex', '[0:a:0][0:a:1]amerge=inputs=2[sound]', '-map', '[sound]'] : ['-map', '0:a:0'];
}

function soundOf(codec: string, channels: number, index: number): string[] {
  const bits = codec === 'aac' ? [`-b:a:${index}`, String(channels * AAC_BITS_PER_CHANNEL)] : [];
  return [`-c:a:${index}`, codec, ...bits];
}

/** The source as ffmpeg reads it; of a sequence all its frames at their rate. */
export function sourceArguments({ path, facts }: EncodeSource, { sequenceRate }: Pick<Recipe, 'sequenceRate'>): string[] {
  const { sequence } = facts;
  if (!sequence) return [...decoderOf(facts), ...inputArguments(path, facts.container)];
  const frames = String(sequence.lastNumber - sequence.firstNumber + 1);
  return [...sequenceArguments(path, sequence, sequenceRate!, sequence.firstNumber), '-frames:v', frames];
}

/** Alpha of VP8 and VP9 is known to one of their decoders alone. */
function decoderOf({ video }: MediaFacts): string[] {
  const decoder = video?.alpha ? { vp8: 'libvpx', vp9: 'libvpx-vp9' }[video.codec] : undefined;
  return decoder ? ['-c:v', decoder] : [];
}

/** Numbered frames in a folder, from one on. */
export function sequenceArguments(folder: string, sequence: SequenceFacts, rate: Rate, from: number): string[] {
  return [
    ...['-protocol_whitelist', 'file,pipe', '-f', 'image2', '-pattern_type', 'sequence', '-framerate', formatRate(rate)],
    ...['-start_number', String(from), '-i', fileArgument(join(folder, framePattern(sequence)))],
  ];
}

/** Names of frames as the reader of numbered pictures wants them: a percent sign of their own is doubled. */
function framePattern(sequence: SequenceFacts): string {
  const { prefix, suffix } = sequence;
  const digits = frameName(sequence, sequence.firstNumber).length - prefix.length - suffix.length;
  const escaped = (text: string) => text.replaceAll('%', '%%');
  return `${escaped(prefix)}%${sequence.padding > 0 ? `0${digits}` : ''}d${escaped(suffix)}`;
}

/** Size, fields and what is burned in; the same for what it is compared with, but for the last. */
export function pictureFilter(facts: MediaFacts, recipe: Recipe, burnFiles: ReadonlyMap<string, string>): string {
  const { width, height } = recipe;
  const fields = facts.video?.interlaced && height < (facts.video.height ?? 0) ? ['bwdif=mode=send_frame:deint=all'] : [];
  const { video } = facts;
  const scale = `scale=${width}:${height}:flags=bicubic${video ? scalerColours(video) : ''}`;
  // Red, green and blue become luma in the scaler, which knows by which matrix, and nowhere behind it.
  const coded = video && isRgb(video) ? [`format=${presetOf(recipe.presetId).pixelFormat}`] : [];
  return [
    ...fields,
    scale,
    ...coded,
    ...slateFilters(recipe),
    ...burnFilters(facts, recipe, burnFiles),
    ...(video ? [colouredPictures(video)] : []),
  ].join(',');
}

/** Over pictures that are missing: a dark band across the middle that says so. */
function slateFilters({ slates, height }: Recipe): string[] {
  if (!slates || slates.length === 0) return [];
  const font = createRequire(import.meta.url).resolve(FONT);
  const shown = slates.map(([first, last]) => `between(n,${first},${last})`).join('+');
  const size = Math.max(8, Math.round(height / 10));
  return [
    `drawbox=x=0:y=ih*3/8:w=iw:h=ih/4:color=black:t=fill:enable='${shown}'`,
    `drawtext=fontfile='${escapeFilter(font)}':text='picture missing':fontsize=${size}:fontcolor=white:x=(w-tw)/2:y=(h-th)/2:enable='${shown}'`,
  ];
}

const LINE_SHARE = 1 / 18;

/** Each line of its own, one under the other; texts come from files, so that no sign in them is an order. */
function burnFilters(facts: MediaFacts, { burnIn, height, sequenceRate }: Recipe, files: ReadonlyMap<string, string>): string[] {
  if (!burnIn) return [];
  const size = Math.max(8, Math.round(height * LINE_SHARE));
  const font = createRequire(import.meta.url).resolve(FONT);
  const lines = burnLines(burnIn);
  return lines.map((line, index) => {
    const step = Math.round(size * 1.35);
    const y = burnIn.where === 'top' ? size + index * step : `h-${(lines.length - index) * step + Math.round(size / 2)}`;
    const style = `fontfile='${escapeFilter(font)}':fontsize=${size}:fontcolor=white@${burnIn.opacity}:box=1:boxcolor=black@${(burnIn.opacity * 0.55).toFixed(2)}:boxborderw=${Math.max(2, Math.round(size / 5))}:x=${size}:y=${y}`;
    if (line === 'timecode' && facts.startTimecode !== null) {
      const rate = facts.rate ?? sequenceRate!;
      return `drawtext=timecode='${facts.startTimecode.replaceAll(':', '\\:').replaceAll(';', '\\;')}':rate=${formatRate(rate)}:tc24hmax=1:${style}`;
    }
    if (line === 'frame') return `drawtext=text='frame %{n}':start_number=0:${style}`;
    return `drawtext=textfile='${escapeFilter(files.get(line) ?? '')}':expansion=none:${style}`;
  });
}

/** Lines in the order in which they stand. */
function burnLines({ lines, text }: BurnIn): (BurnLine | 'text')[] {
  const order: readonly BurnLine[] = ['clip', 'timecode', 'reel', 'frame'];
  return [...order.filter((line) => lines.includes(line)), ...(text.trim() === '' ? [] : (['text'] as const))];
}

/** What stands in the files of the lines. A line of which nothing is known says so. */
export function burnTexts({ reel, startTimecode }: MediaFacts, { burnIn, clipName }: Recipe): Map<string, string> {
  const out = new Map<string, string>();
  for (const line of burnIn ? burnLines(burnIn) : []) {
    if (line === 'clip') out.set(line, clipName);
    if (line === 'reel') out.set(line, `reel ${reel ?? 'unknown'}`);
    if (line === 'timecode' && startTimecode === null) out.set(line, 'no timecode');
    if (line === 'text') out.set(line, burnIn!.text);
  }
  return out;
}

/** Inside quotes of a filter: only the quote itself, backslashes and colons mean something. */
function escapeFilter(path: string): string {
  return path.replaceAll('\\', '\\\\').replaceAll("'", "'\\''").replaceAll(':', '\\:');
}
