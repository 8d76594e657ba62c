/** What a browser plays as it is; for everything else a small preview is made. */
import type { AudioFacts, MediaFacts } from './item';

/** Of pictures in MP4 and QuickTime: 8 bits, a quarter of the colour; what has more is not played everywhere. */
const PICTURES: Readonly<Record<string, readonly string[]>> = { h264: ['yuv420p', 'yuvj420p'], vp8: ['yuv420p'], vp9: ['yuv420p'], av1: ['yuv420p'] };
const SOUND = new Set(['aac', 'mp3', 'opus', 'vorbis', 'flac']);
const FILES: Readonly<Record<string, string>> = { mov: 'video/mp4', webm: 'video/webm', matroska: 'video/webm' };
const SOUND_FILES: Readonly<Record<string, string>> = { wav: 'audio/wav', mp3: 'audio/mpeg', flac: 'audio/flac', ogg: 'audio/ogg' };

/** Media type under which a browser plays the file itself; null where it needs a preview. */
export function mediaTypeOf({
  kind,
  container,
  video,
  audio,
  sequence,
}: Pick<MediaFacts, 'kind' | 'container' | 'video' | 'audio' | 'sequence'>): string | null {
  if (kind === 'audio') {
    const isPcm = container === 'wav' && audio.every(({ codec, channels }) => /^pcm_(s16|s24|s32|f32)le$/.test(codec) && channels <= 2);
    return isPcm || (container !== 'wav' && audio.every(isPlayed)) ? (SOUND_FILES[container] ?? null) : null;
  }
  if (kind !== 'video' || sequence || !video) return null;
  // Browsers play the first sound track alone: several need to be mixed.
  const isHeard = audio.length === 0 || (audio.length === 1 && audio.every(isPlayed) && audio[0]!.channels <= 2);
  return isHeard && PICTURES[video.codec]?.includes(video.pixelFormat) ? (FILES[container] ?? null) : null;
}

function isPlayed({ codec }: AudioFacts): boolean {
  return SOUND.has(codec);
}

/** A preview holds so much of its item, from the first frame on: seconds. */
export const PREVIEW_SECONDS = 600;
