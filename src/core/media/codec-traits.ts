/** What a codec lets us do: whether every frame stands alone, and so can be cut without re-encoding. */
import { whyNotCut } from './cut-rules';
import type { MediaFacts, VideoFacts } from './item';

/** Codecs (by their libavcodec names) that are intra-frame in every stream. */
const ALWAYS_INTRA = new Set([
  'prores',
  'dnxhd',
  'mjpeg',
  'dvvideo',
  'v210',
  'v410',
  'r210',
  'rawvideo',
  'png',
  'cfhd',
  'hap',
  'dpx',
  'exr',
  'tiff',
  'jpeg2000',
]);

const CODEC_NAMES: Record<string, string> = {
  prores: 'RDD 36',
  dnxhd: 'VC-3',
  h264: 'H.264',
  hevc: 'H.265',
  mjpeg: 'Motion JPEG',
  png: 'PNG',
  dpx: 'DPX',
  exr: 'EXR',
  mpeg2video: 'MPEG-2',
  cfhd: 'VC-5',
  vp9: 'VP9',
  av1: 'AV1',
  ffv1: 'FFV1',
  tiff: 'TIFF',
};

/** The codec's standard or trade name. */
export function codecName(codec: string): string {
  if (codec.startsWith('pcm_')) return `PCM ${/\d+/.exec(codec)?.[0] ?? ''}-bit`.replace('  ', ' ');
  return CODEC_NAMES[codec] ?? codec.toUpperCase();
}

/** Codecs of which every frame may stand alone, or not: it is read, not known by the name. */
const MAYBE_INTRA = new Set(['h264', 'hevc', 'mpeg1video', 'mpeg2video', 'mpeg4', 'ffv1']);

export function isAlwaysIntra(video: Pick<VideoFacts, 'codec'>): boolean {
  return ALWAYS_INTRA.has(video.codec);
}

export function isMaybeIntra(video: Pick<VideoFacts, 'codec'>): boolean {
  return MAYBE_INTRA.has(video.codec);
}

/** Every frame stands alone: by the codec, by its profile, or as its frames were read. */
export function isIntraFrame(facts: MediaFacts): boolean {
  if (!facts.video) return false;
  return isAlwaysIntra(facts.video) || /\bIntra\b/i.test(facts.video.profile ?? '') || facts.keyFrames?.spacing === 1;
}

export type CutMethod =
  | { readonly method: 'trim'; readonly exact: true }
  | { readonly method: 'frames'; readonly exact: true }
  | { readonly method: 'whole'; readonly why: string };

/** How a part can be taken out of an item without touching its picture or sound; otherwise why it is copied whole. */
export function cutMethod(facts: MediaFacts): CutMethod {
  if (facts.kind === 'sequence') return { method: 'frames', exact: true };
  if (facts.kind === 'still') return { method: 'whole', why: 'a still' };
  if (facts.kind === 'other') return { method: 'whole', why: 'no picture or sound' };
  if (facts.rate === null || facts.durationFrames === null) return { method: 'whole', why: 'its length is not known' };
  if (facts.kind === 'video' && !isIntraFrame(facts)) return { method: 'whole', why: 'long-GOP' };
  const why = whyNotCut(facts);
  return why === null ? { method: 'trim', exact: true } : { method: 'whole', why };
}
