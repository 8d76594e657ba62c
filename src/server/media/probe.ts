/** What a file is, by ffprobe, as the core's facts. */
import type { AudioFacts, ExtraTracks, ItemKind, MediaFacts, SequenceFacts, VideoFacts } from '../../core/media/item';
import { parseRate, type Rate } from '../../core/time/rate';
import { parseTimecode } from '../../core/time/timecode';
import { readWavText } from './wav-file';
import { elementText, readXml } from './xml';
import { localDay } from '../../core/time/local-day';
import type { Probe, ProbeStream } from './probe-answer';
import { keyFramesIn } from './key-frames';
import { probeFast } from './reader/media-reader';
import { complaint, inputArguments, LOOK_ARGUMENTS, LOOK_MEMORY_BYTES, MOST_PIXELS, runTool } from './ffmpeg';

export class ProbeError extends Error {}

const PROBE_MS = 60_000;
/** Counting reads the whole file. */
const COUNT_MS = 1_800_000;

const STILL_FORMATS = /(_pipe|image2|gif|^psd)/;
const NOT_MEDIA = /\.(txt|cube|3dl|look|csv|pdf|xml|md|html?|json|otio|edl|srt|sha256|zip|tar|docx?)$/i;

/** Facts of a file that is no media. */
export function otherFacts(path: string): MediaFacts {
  const extension = /\.([A-Za-z0-9]+)$/.exec(path)?.[1]?.toLowerCase() ?? '';
  return {
    kind: 'other',
    container: extension || 'file',
    rate: null,
    durationFrames: null,
    startFrame: null,
    startTimecode: null,
    dropFrame: false,
    reel: null,
    video: null,
    audio: [],
    sequence: null,
  };
}

/** Throws ProbeError, with a sentence, for a media file that cannot be read. Texts and tables are `other`, no error. */
export async function probeFacts(file: string, sequence: SequenceFacts | null): Promise<MediaFacts> {
  if (NOT_MEDIA.test(file)) return otherFacts(file);
  const facts = await factsIn(file, await probeOf(file), sequence);
  const keyFrames = await keyFramesIn(file, facts);
  return keyFrames === null ? facts : { ...facts, keyFrames };
}

/** Like `probeFacts` for a movie, and the delay of its picture as `pictureDelay` gives it. */
export async function probeTimed(file: string): Promise<{ readonly facts: MediaFacts; readonly delay: number }> {
  const probe = await probeOf(file);
  return { facts: await factsIn(file, probe, null), delay: delayIn(probe) };
}

/** By how many seconds the first picture comes after the begin of the file; 0 where that is not told. */
function delayIn({ streams, format }: Probe): number {
  const picture = streams?.find((stream) => stream.codec_type === 'video' && stream.disposition?.attached_pic !== 1);
  const delay = Number(picture?.start_time) - Number(format?.start_time);
  return Number.isFinite(delay) ? delay : 0;
}

/** The facts of a file by what was told of it. */
export async function factsIn(file: string, probe: Probe, sequence: SequenceFacts | null): Promise<MediaFacts> {
  const video = probe.streams?.find((stream) => stream.codec_type === 'video' && stream.disposition?.attached_pic !== 1);
  const format = probe.format?.format_name ?? '';
  const needsCount = video && !sequence && !STILL_FORMATS.test(format) && video.nb_frames === undefined && frameCountByLength(video) === null;
  const facts = { ...factsOf(needsCount ? await ffprobe(file, true) : probe, sequence), ...shootTags(probe) };
  const shown = video && facts.kind === 'video' && isCutByEditList(video, facts.container) ? await shownFrames(file) : null;
  if (shown !== null && facts.durationFrames !== null && shown < facts.durationFrames)
    return { ...facts, durationFrames: shown, storedFrames: facts.durationFrames };
  if (facts.kind === 'audio' && facts.rate === null) throw new ProbeError('Its sample rate cannot be told.');
  return format === 'wav' ? { ...facts, ...(await recordingTags(file)) } : facts;
}

/** What a recorder's WAV says in its iXML chunk (ffprobe does not tell it). */
async function recordingTags(file: string): Promise<Partial<Pick<MediaFacts, 'reel' | 'materialId' | 'scene' | 'take'>>> {
  const document = readXml(await readWavText(file, 'iXML'));
  const [reel, family, scene, take] = ['TAPE', 'FAMILY_UID', 'SCENE', 'TAKE'].map((name) => shortTag(elementText(document, name)));
  return { ...(reel ? { reel } : {}), ...(family ? { materialId: family } : {}), ...(scene ? { scene } : {}), ...(take ? { take } : {}) };
}

const LONGEST_TAG = 200;

function shortTag(text: string | null | undefined): string | null {
  const tag = text?.trim() ?? '';
  return tag !== '' && tag.length <= LONGEST_TAG ? tag : null;
}

/** When it was recorded, by the clock of this machine, and by which camera. */
function shootTags(probe: Probe): Partial<Pick<MediaFacts, 'recordedOn' | 'camera'>> {
  const tags = [probe.format?.tags, ...(probe.streams ?? []).map((stream) => stream.tags)].filter((entry) => entry !== undefined);
  const first = (...names: string[]) => names.flatMap((name) => tags.map((entry) => shortTag(entry[name]))).find((tag) => tag !== null) ?? null;
  const recordedOn = dayOf(first('creation_time')) ?? dayOf(first('date'));
  const camera = first('com.apple.quicktime.model', 'camera', 'model');
  return { ...(recordedOn ? { recordedOn } : {}), ...(camera ? { camera } : {}) };
}

/** The day of a moment or a date, as 2026-05-04; null for what is neither, and for times before there were such files. */
function dayOf(text: string | null): string | null {
  if (text === null || !/^\d{4}-\d{2}-\d{2}/.test(text)) return null;
  const moment = /T/.test(text) ? new Date(text) : null;
  if (moment && Number.isNaN(moment.getTime())) return null;
  const day = moment ? localDay(moment) : text.slice(0, 10);
  return day >= '1990' ? day : null;
}

/** By the library where it can tell, else by ffprobe. */
async function probeOf(file: string): Promise<Probe> {
  return (await probeFast(file)) ?? ffprobe(file, false);
}

export async function ffprobe(file: string, countPackets: boolean): Promise<Probe> {
  const show = ['-print_format', 'json', '-show_format', '-show_streams', ...(countPackets ? ['-count_packets'] : [])];
  const limits = { timeLimitMs: countPackets ? COUNT_MS : PROBE_MS, mostMemoryBytes: LOOK_MEMORY_BYTES, inBackground: true };
  const result = await runTool('ffprobe', [...show, ...LOOK_ARGUMENTS, ...inputArguments(file)], limits);
  if (/max pixel count|Picture size \S+ is invalid/i.test(result.stderr)) throw new ProbeError(`Its picture has more than ${MOST_PIXELS} pixels.`);
  if (/not on whitelist/i.test(result.stderr)) throw new ProbeError('This format is not read here.');
  if (result.exitCode !== 0) throw new ProbeError(`It cannot be read as media: ${complaint(result.stderr)}.`);
  const probe = JSON.parse(result.stdout || '{}') as Probe;
  if (!probe.streams || probe.streams.length === 0) throw new ProbeError('There is no picture and no sound in it.');
  return probe;
}

function factsOf(probe: Probe, sequence: SequenceFacts | null): MediaFacts {
  const streams = probe.streams ?? [];
  const format = probe.format?.format_name ?? '';
  const picture = streams.find((stream) => stream.codec_type === 'video' && stream.disposition?.attached_pic !== 1);
  const audio = streams.filter((stream) => stream.codec_type === 'audio').map(audioFacts);
  const video = picture ? videoFacts(picture) : null;
  const kind: ItemKind = sequence ? 'sequence' : video ? (STILL_FORMATS.test(format) ? 'still' : 'video') : audio.length > 0 ? 'audio' : 'other';
  const base = {
    kind,
    container: containerName(format),
    video,
    audio,
    sequence,
    reel: reelOf(probe),
    materialId: materialOf(probe),
    extraTracks: extraTracks(streams),
    steadyRate: picture === undefined || picture.r_frame_rate === picture.avg_frame_rate,
  };
  if (kind === 'sequence' && sequence) {
    return {
      ...base,
      rate: null,
      durationFrames: sequence.lastNumber - sequence.firstNumber + 1,
      startFrame: null,
      startTimecode: null,
      dropFrame: false,
    };
  }
  if (kind === 'still' || kind === 'other')
    return { ...base, rate: null, durationFrames: null, startFrame: null, startTimecode: null, dropFrame: false };
  if (kind === 'audio') return { ...base, ...soundTiming(streams, probe) };
  return { ...base, ...pictureTiming(picture!, probe) };
}

function containerName(format: string): string {
  if (format.includes('mov') || format.includes('mp4')) return 'mov';
  return format.split(',')[0]!.replace(/_pipe$/, '');
}

function pictureTiming(
  picture: ProbeStream,
  probe: Probe,
): Pick<MediaFacts, 'rate' | 'durationFrames' | 'startFrame' | 'startTimecode' | 'dropFrame'> {
  const own = parseRate(picture.avg_frame_rate ?? '') ?? parseRate(picture.r_frame_rate ?? '');
  const frames = Number(picture.nb_frames ?? picture.nb_read_packets ?? frameCountByLength(picture) ?? 0) || null;
  const label =
    [picture, ...(probe.streams ?? [])].map((stream) => stream.tags?.timecode).find((text) => text) ?? probe.format?.tags?.timecode ?? null;
  const timecode = label && own ? parseTimecode(label, own) : null;
  const valid = timecode?.ok ? timecode : null;
  return {
    rate: own,
    durationFrames: frames,
    startFrame: valid?.frame ?? null,
    startTimecode: valid ? label : null,
    dropFrame: valid?.dropFrame ?? false,
  };
}

/** Whether a QuickTime or MP4 file shows less than lies in it, by a frame or more: its length is that of its edit list. */
function isCutByEditList(stream: ProbeStream, container: string): boolean {
  const [base, frames, stored] = [parseRate(stream.time_base ?? ''), parseRate(stream.avg_frame_rate ?? ''), Number(stream.nb_frames)];
  if (container !== 'mov' || !base || !frames || !(stored > 0) || stream.duration_ts === undefined) return false;
  return stored - (stream.duration_ts * base.num * frames.num) / (base.den * frames.den) >= 1;
}

/** Pictures that an edit list lets through; null where that cannot be told. The others are there to be decoded alone. */
async function shownFrames(file: string): Promise<number | null> {
  const show = ['-select_streams', 'V:0', '-show_entries', 'packet=flags', '-of', 'csv=p=0'];
  const limits = { timeLimitMs: COUNT_MS, mostMemoryBytes: LOOK_MEMORY_BYTES, inBackground: true };
  const { exitCode, stdout } = await runTool('ffprobe', [...show, ...LOOK_ARGUMENTS, ...inputArguments(file)], limits);
  if (exitCode !== 0) return null;
  return stdout.split('\n').filter((flags) => flags.trim() !== '' && !flags.includes('D')).length;
}

/** Frames from the stream's length, where it is a whole number of them. */
function frameCountByLength(stream: ProbeStream): number | null {
  const base = parseRate(stream.time_base ?? '');
  const frames = parseRate(stream.avg_frame_rate ?? '');
  if (!base || !frames || stream.duration_ts === undefined) return null;
  const count = (BigInt(stream.duration_ts) * BigInt(base.num) * BigInt(frames.num)) / (BigInt(base.den) * BigInt(frames.den));
  const rest = (BigInt(stream.duration_ts) * BigInt(base.num) * BigInt(frames.num)) % (BigInt(base.den) * BigInt(frames.den));
  return rest === 0n ? Number(count) : null;
}

function soundTiming(
  streams: readonly ProbeStream[],
  probe: Probe,
): Pick<MediaFacts, 'rate' | 'durationFrames' | 'startFrame' | 'startTimecode' | 'dropFrame'> {
  const sound = streams.find((stream) => stream.codec_type === 'audio')!;
  const samples: Rate | null = parseRate(sound.sample_rate ?? '');
  const base = parseRate(sound.time_base ?? '');
  const exact =
    samples && base && sound.duration_ts !== undefined
      ? Number((BigInt(sound.duration_ts) * BigInt(base.num) * BigInt(samples.num)) / BigInt(base.den))
      : null;
  // bext TimeReference: samples since midnight (EBU Tech 3285).
  const reference = probe.format?.tags?.time_reference ?? sound.tags?.time_reference;
  const startFrame = reference !== undefined && /^\d+$/.test(reference) ? Number(reference) : null;
  return { rate: samples, durationFrames: exact, startFrame, startTimecode: null, dropFrame: false };
}

/** What is there beside the first picture track and the sound. A timecode track is carried by its label, not counted. */
function extraTracks(streams: readonly ProbeStream[]): ExtraTracks {
  const of = (type: string) => streams.filter((stream) => stream.codec_type === type);
  const covers = of('video').filter((stream) => stream.disposition?.attached_pic === 1).length;
  return {
    pictures: Math.max(0, of('video').length - covers - 1),
    covers,
    subtitles: of('subtitle').length,
    data: [...of('data'), ...of('attachment')].filter((stream) => stream.codec_tag_string !== 'tmcd').length,
  };
}

function reelOf(probe: Probe): string | null {
  const tags = [...(probe.streams ?? []).map((stream) => stream.tags), probe.format?.tags];
  const reel = tags.map((entry) => entry?.reel_name).find((text) => text !== undefined && text.trim() !== '');
  return reel?.trim() ?? null;
}

/** MXF files of one recording share the identifier of their material package. */
function materialOf(probe: Probe): string | null {
  const tags = [probe.format?.tags, ...(probe.streams ?? []).map((stream) => stream.tags)];
  const id = tags.map((entry) => entry?.material_package_umid).find((text) => text !== undefined && text.trim() !== '');
  return id?.trim() ?? null;
}

function videoFacts(stream: ProbeStream): VideoFacts {
  const format = stream.pix_fmt ?? '';
  return {
    codec: stream.codec_name ?? 'unknown',
    profile: stream.profile && stream.profile !== 'unknown' ? stream.profile : null,
    width: stream.width ?? 0,
    height: stream.height ?? 0,
    pixelFormat: format,
    bitDepth:
      Number(
        /p(9|10|12|14|16)(le|be)?$/.exec(format)?.[1] ??
          /(48|64)(le|be)$/.exec(format)?.[1]?.replace(/48|64/, '16') ??
          stream.bits_per_raw_sample ??
          8,
      ) || 8,
    // VP8 and VP9 keep it in a stream of its own, which the pixel format does not tell of.
    alpha: /^(yuva|rgba|bgra|argb|abgr|gbrap|ya\d|pal8)/.test(format) || stream.tags?.alpha_mode === '1',
    ...coloursIn(stream),
    ...turnOf(stream),
    ...(/^(tt|bb|tb|bt)$/.test(stream.field_order ?? '') ? { interlaced: true } : {}),
  };
}

/** What chunks of a PNG say of its colours depends on who reads it: they are taken as every PNG's are. */
function coloursIn(stream: ProbeStream): Pick<VideoFacts, 'colorTransfer' | 'colorPrimaries' | 'colorMatrix'> {
  if (stream.codec_name === 'png') return { colorTransfer: null, colorPrimaries: null };
  const { color_transfer: transfer, color_primaries: primaries, color_space: matrix } = stream;
  return {
    colorTransfer: transfer && transfer !== 'unknown' ? transfer : null,
    colorPrimaries: primaries && primaries !== 'unknown' ? primaries : null,
    ...(matrix && !['unknown', 'gbr', 'reserved'].includes(matrix) ? { colorMatrix: matrix } : {}),
  };
}

/** ffprobe counts against the clock. */
function turnOf({ side_data_list: list }: ProbeStream): Pick<VideoFacts, 'rotation'> {
  const degrees = (360 - (list?.find(({ rotation }) => rotation !== undefined)?.rotation ?? 0)) % 360;
  return degrees === 90 || degrees === 180 || degrees === 270 ? { rotation: degrees } : {};
}

function audioFacts(stream: ProbeStream): AudioFacts {
  const depth = Number(/pcm_[suf](\d+)/.exec(stream.codec_name ?? '')?.[1] ?? stream.bits_per_sample ?? 0);
  return {
    codec: stream.codec_name ?? 'unknown',
    channels: stream.channels ?? 0,
    sampleRate: Number(stream.sample_rate ?? 0),
    bitDepth: depth > 0 ? depth : null,
  };
}
