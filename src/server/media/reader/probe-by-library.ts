/** A file's probe by the library, in the words of ffprobe. Runs in the reader's process only. */
import type { AVCodecID, AVPixelFormat } from 'node-av/constants';
import { avGetCodecName, avGetPixFmtName, Codec, type Stream } from 'node-av/lib';
import type { Probe, ProbeStream } from '../probe-answer';
import { MATRICES, PRIMARIES, TRANSFERS } from './code-points';
import { NO_TIME, openFile } from './open-file';

/** What the library's `toJSON` gives of a stream's parameters. */
interface Parameters {
  readonly codecType: number;
  readonly codecId: AVCodecID;
  readonly format: number;
  readonly profile: number;
  readonly width?: number;
  readonly height?: number;
  readonly bitsPerCodedSample: number;
  readonly bitsPerRawSample: number;
  readonly fieldOrder?: number;
  readonly colorPrimaries?: number;
  readonly colorTrc?: number;
  readonly colorSpace?: number;
  readonly sampleRate?: number;
}

const TYPES = ['video', 'audio', 'data', 'subtitle', 'attachment'];
const FIELD_ORDERS = [undefined, 'progressive', 'tt', 'bb', 'tb', 'bt'];
const ATTACHED_PICTURE = 0x400;
const DISPLAY_MATRIX = 5;
const NO_PROFILE = -99;
/** Of these the library tells what ffprobe tells, of whatever version; of others (bare streams, pictures of odd kinds) not always. */
const TOLD_ALIKE = /^(mov,|matroska|mxf|wav|w64|aiff|caf|flac|ogg|avi|mpeg|image2|png_pipe|jpeg_pipe|tiff_pipe|dpx_pipe)/;
/** Sound of which the bits of a sample are told by its name. Of other codecs that have such a number only ffprobe says it. */
const PLAIN_SOUND = /^(pcm_[suf]\d|aac|mp3|mp2|ac3|eac3|opus|vorbis|flac|alac|dts|truehd)/;

/** Null where ffprobe is to be asked: it does not open, or is of a kind about which the two may not agree. */
export function probeByLibrary(path: string): Probe | null {
  const context = openFile(path);
  if (context === null) return null;
  try {
    if (!TOLD_ALIKE.test(context.iformat?.name ?? '')) return null;
    const streams = context.streams.map(streamOf);
    if (streams.length === 0 || streams.some((stream) => stream === null)) return null;
    const { startTime, duration } = context;
    return {
      streams: streams as ProbeStream[],
      format: {
        format_name: context.iformat?.name ?? '',
        tags: context.metadata?.getAll() ?? {},
        ...(startTime === NO_TIME ? {} : { start_time: seconds(startTime, MICROSECONDS) }),
        ...(duration === NO_TIME ? {} : { duration: seconds(duration, MICROSECONDS) }),
      },
    };
  } finally {
    context.closeInputSync();
  }
}

function streamOf(stream: Stream): ProbeStream | null {
  const parameters = stream.codecpar.toJSON() as unknown as Parameters;
  const type = TYPES[parameters.codecType];
  const codec = avGetCodecName(parameters.codecId) ?? 'unknown';
  const profile = profileOf(parameters);
  if (type === undefined || profile === null || (type === 'video' && !parameters.width) || (type === 'audio' && !PLAIN_SOUND.test(codec)))
    return null;
  const picture = type === 'video' ? pictureOf(parameters, stream) : {};
  if (picture === null) return null;
  const { bitsPerRawSample } = parameters;
  return {
    codec_type: type,
    ...(codec === 'none' ? {} : { codec_name: codec }),
    ...profile,
    codec_tag_string: stream.codecpar.codecTagString ?? '',
    ...picture,
    ...(type === 'audio' ? { sample_rate: String(parameters.sampleRate ?? 0), channels: stream.codecpar.channels } : {}),
    ...(bitsPerRawSample > 0 ? { bits_per_raw_sample: String(bitsPerRawSample) } : {}),
    r_frame_rate: fraction(stream.rFrameRate),
    avg_frame_rate: fraction(stream.avgFrameRate),
    time_base: fraction(stream.timeBase),
    ...(stream.nbFrames > 0n ? { nb_frames: String(stream.nbFrames) } : {}),
    ...(stream.startTime === NO_TIME ? {} : { start_time: seconds(stream.startTime, stream.timeBase) }),
    ...(stream.duration === NO_TIME ? {} : { duration_ts: Number(stream.duration) }),
    tags: stream.metadata?.getAll() ?? {},
    disposition: { attached_pic: (stream.disposition & ATTACHED_PICTURE) === 0 ? 0 : 1 },
  };
}

function pictureOf(parameters: Parameters, stream: Stream): Partial<ProbeStream> | null {
  const { width = 0, height = 0, format, colorPrimaries = 0, colorTrc = 0, colorSpace = -1, fieldOrder = 0 } = parameters;
  const pixels = avGetPixFmtName(format as AVPixelFormat);
  // Earlier versions do not know pictures of floating numbers.
  if (pixels === null || /f(16|32)/.test(pixels)) return null;
  const field = FIELD_ORDERS[fieldOrder];
  return {
    width,
    height,
    pix_fmt: pixels,
    color_space: MATRICES[colorSpace] ?? 'unknown',
    color_transfer: TRANSFERS[colorTrc] ?? 'unknown',
    color_primaries: PRIMARIES[colorPrimaries] ?? 'unknown',
    ...(field === undefined ? {} : { field_order: field }),
    ...turnOf(stream),
  };
}

/** Null where it has a number for which this library has no name. */
function profileOf({ codecId, profile }: Parameters): Pick<ProbeStream, 'profile'> | null {
  if (profile === NO_PROFILE) return {};
  const named = Codec.findDecoder(codecId)?.profiles?.find((entry) => entry.profile === profile);
  return named?.name ? { profile: named.name } : null;
}

/** Degrees against the clock, from the matrix of the track header (ISO/IEC 14496-12, 6.2.2: 16.16 fixed point). */
function turnOf(stream: Stream): Pick<ProbeStream, 'side_data_list'> {
  const matrix = stream.codecpar.getAllCodedSideData().find(({ type }) => (type as number) === DISPLAY_MATRIX)?.data;
  if (!matrix || matrix.length < 20) return {};
  const [a, b, c, d] = [0, 4, 12, 16].map((at) => matrix.readInt32LE(at)) as [number, number, number, number];
  const [across, down] = [Math.hypot(a, c), Math.hypot(b, d)];
  if (across === 0 || down === 0) return {};
  return { side_data_list: [{ rotation: Math.round((-Math.atan2(b / down, a / across) * 180) / Math.PI) }] };
}

const MICROSECONDS = { num: 1, den: 1_000_000 };

function seconds(time: bigint, base: { readonly num: number; readonly den: number }): string {
  return ((Number(time) * base.num) / base.den).toFixed(6);
}

function fraction({ num, den }: { readonly num: number; readonly den: number }): string {
  return `${num}/${den}`;
}
