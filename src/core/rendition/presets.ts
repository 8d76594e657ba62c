/** How light copies and mezzanines are encoded. The names are our own; each says what its pictures keep. */
import type { MediaFacts, VideoFacts } from '../media/item';
import { oneOrMany } from '../words/figures';

export const PRESET_IDS = ['courier', 'pocket', 'thread', 'veil', 'bench', 'bench-veil'] as const;
export type PresetId = (typeof PRESET_IDS)[number];

export interface Preset {
  readonly id: PresetId;
  readonly name: string;
  readonly about: string;
  readonly for: 'proxy' | 'mezzanine';
  /** As ffmpeg calls it; what it writes by its libavcodec name. */
  readonly encoder: string;
  readonly codec: string;
  readonly bitDepth: 8 | 10 | 12;
  readonly alpha: boolean;
  readonly isIntra: boolean;
  readonly pixelFormat: string;
  /** Sound as it is on the tape, or small: tracks of more than two channels stay PCM. */
  readonly sound: 'pcm' | 'aac';
  /** Options of the encoder. */
  readonly options: readonly string[];
  /** What a picture of ordinary film takes; noise takes more. For the first guess of sizes only. */
  readonly bitsPerPixel: number;
}

export const PRESETS: readonly Preset[] = [
  {
    id: 'courier',
    name: 'Courier',
    about: 'light intra-frame, 10-bit: plays anywhere at once',
    for: 'proxy',
    encoder: 'prores_ks',
    codec: 'prores',
    bitDepth: 10,
    alpha: false,
    isIntra: true,
    pixelFormat: 'yuv422p10le',
    sound: 'pcm',
    options: ['-profile:v', '0', '-vendor', 'mlsf'],
    bitsPerPixel: 0.9,
  },
  {
    id: 'pocket',
    name: 'Pocket',
    about: 'small long-GOP, 8-bit: for laptops and the web',
    for: 'proxy',
    encoder: 'libx264',
    codec: 'h264',
    bitDepth: 8,
    alpha: false,
    isIntra: false,
    pixelFormat: 'yuv420p',
    sound: 'aac',
    options: ['-preset', 'veryfast', '-crf', '23', '-g', '25', '-bf', '0'],
    bitsPerPixel: 0.12,
  },
  {
    id: 'thread',
    name: 'Thread',
    about: 'smallest, 10-bit long-GOP: keeps high dynamic range, takes long to make',
    for: 'proxy',
    encoder: 'libx265',
    codec: 'hevc',
    bitDepth: 10,
    alpha: false,
    isIntra: false,
    pixelFormat: 'yuv420p10le',
    sound: 'aac',
    options: ['-preset', 'fast', '-crf', '25', '-tag:v', 'hvc1', '-x265-params', 'log-level=error:bframes=0:keyint=50'],
    bitsPerPixel: 0.07,
  },
  {
    id: 'veil',
    name: 'Veil',
    about: 'intra-frame with alpha',
    for: 'proxy',
    encoder: 'prores_ks',
    codec: 'prores',
    bitDepth: 10,
    alpha: true,
    isIntra: true,
    pixelFormat: 'yuva444p10le',
    sound: 'pcm',
    options: ['-profile:v', '4', '-vendor', 'mlsf', '-qscale:v', '11'],
    bitsPerPixel: 2.6,
  },
  {
    id: 'bench',
    name: 'Bench',
    about: 'full quality, intra-frame, 10-bit: easy to decode',
    for: 'mezzanine',
    encoder: 'prores_ks',
    codec: 'prores',
    bitDepth: 10,
    alpha: false,
    isIntra: true,
    pixelFormat: 'yuv422p10le',
    sound: 'pcm',
    options: ['-profile:v', '3', '-vendor', 'mlsf'],
    bitsPerPixel: 3.6,
  },
  {
    id: 'bench-veil',
    name: 'Bench with alpha',
    about: 'full quality, intra-frame, with alpha',
    for: 'mezzanine',
    encoder: 'prores_ks',
    codec: 'prores',
    bitDepth: 12,
    alpha: true,
    isIntra: true,
    pixelFormat: 'yuva444p10le',
    sound: 'pcm',
    options: ['-profile:v', '4', '-vendor', 'mlsf'],
    bitsPerPixel: 5.3,
  },
];

/** How far quality goes below and above a preset. */
export const QUALITY_STEPS = { least: -2, most: 2 } as const;

/**
 * Options of a preset at another quality, as its encoder counts it: three steps of the constant rate factor of H.264 and
 * HEVC a step (six are about twice the bytes: common practice); profiles of the intra-frame codec, which are its qualities,
 * from its smallest to its largest without alpha.
 */
export function optionsAt({ options, encoder, alpha }: Preset, quality: number): readonly string[] {
  if (quality === 0) return options;
  const at = options.indexOf('-crf');
  if (at >= 0) return options.map((option, index) => (index === at + 1 ? String(Number(option) - 3 * quality) : option));
  if (encoder !== 'prores_ks' || alpha) return options;
  const profile = Math.max(0, Math.min(3, Number(options[1]) + quality));
  return options.map((option, index) => (index === 1 ? String(profile) : option));
}

/** What pictures take at another quality, against the preset: for first guesses. */
export function bytesShare({ options, encoder, alpha }: Preset, quality: number): number {
  if (options.includes('-crf')) return 2 ** (quality / 2);
  if (encoder !== 'prores_ks' || alpha) return 1;
  const own = Number(options[1]);
  return PROFILE_SHARES[Math.max(0, Math.min(3, own + quality))]! / PROFILE_SHARES[own]!;
}

/** Target rates of its four profiles at 1920 × 1080 and 29.97 frames a second, in Mbit/s; from memory. */
const PROFILE_SHARES: readonly number[] = [45, 102, 147, 220];

export function presetOf(id: PresetId): Preset {
  return PRESETS.find((preset) => preset.id === id)!;
}

/** Transfer functions of high dynamic range, as ffmpeg names them: PQ and HLG (ITU-R BT.2100). */
const HIGH_RANGE: ReadonlySet<string> = new Set(['smpte2084', 'arib-std-b67']);

export function isHighRange({ colorTransfer }: VideoFacts): boolean {
  return HIGH_RANGE.has(colorTransfer ?? '');
}

/** The preset that a source gets where another was asked for, and why; the one asked for where nothing of it would be lost. */
export function presetFor(wanted: PresetId, facts: MediaFacts): { readonly preset: Preset; readonly why: string | null } {
  const asked = presetOf(wanted);
  const { video } = facts;
  if (!video) return { preset: asked, why: null };
  const instead = (id: PresetId, why: string) => ({ preset: presetOf(id), why });
  if (video.alpha && !asked.alpha) return instead(asked.for === 'mezzanine' ? 'bench-veil' : 'veil', `alpha is lost in ${asked.name}`);
  if (asked.bitDepth === 8 && isHighRange(video)) return instead('thread', `high dynamic range goes wrong in 8 bits`);
  if (asked.bitDepth === 8 && video.bitDepth > 8) return instead('thread', `${video.bitDepth}-bit pictures band in 8 bits`);
  return { preset: asked, why: null };
}

/** Whether a source is easy to decode at full quality already: a mezzanine of it would only take room. */
export function isMezzanineGrade({ video, kind }: MediaFacts, isIntra: boolean): boolean {
  return kind === 'sequence' || (video !== null && isIntra);
}

/** Bits a second of one channel of sound. */
export const AAC_BITS_PER_CHANNEL = 80_000;

/** How a track of sound is written. */
export function soundCodec({ sound }: Preset, channels: number): 'aac' | 'pcm_s16le' {
  return sound === 'aac' && channels <= 2 ? 'aac' : 'pcm_s16le';
}

/** Which presets of the same kind, that keep as much, can be made here instead, in a sentence. `installed`: encoders there are; null where that cannot be told. */
export function remainWords(missing: Preset, installed: ReadonlySet<string> | null): string {
  const names = PRESETS.filter(
    (own) =>
      own.for === missing.for &&
      own.bitDepth >= missing.bitDepth &&
      (own.alpha || !missing.alpha) &&
      own.encoder !== missing.encoder &&
      installed?.has(own.encoder),
  ).map(({ name }) => name);
  if (names.length > 0) return `${oneOrMany(names.length, 'This preset remains', 'These presets remain')}: ${names.join(', ')}.`;
  return installed ? 'No preset of this kind remains: install an ffmpeg that has it.' : 'Choose another preset, or install an ffmpeg that has it.';
}
