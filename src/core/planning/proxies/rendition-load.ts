/** How much a rendition takes, before any of it is made. */
import type { MediaFacts } from '../../media/item';
import type { Picture } from '../../rendition/picture-size';
import { AAC_BITS_PER_CHANNEL, bytesShare, soundCodec, type Preset } from '../../rendition/presets';
import { hasFewerChannels, type SoundWish } from '../../rendition/recipe';
import { framesToSeconds } from '../../time/convert';
import type { Rate } from '../../time/rate';

/** What stands around pictures and sound in a file; a sample has it in it. */
const AROUND_BYTES = 20_000;

/** As it is shown: a phone held upright writes its picture lying. */
export function uprightOf({ video }: MediaFacts): Picture {
  const { width = 0, height = 0, rotation = 0 } = video ?? {};
  return rotation % 180 === 0 ? { width, height } : { width: height, height: width };
}

/** Pictures by what a sample took of a pixel, else by what the preset usually takes; sound exactly. */
export function expectedBytes(
  facts: MediaFacts,
  preset: Preset,
  size: Picture,
  rate: Rate,
  quality: number,
  wish: SoundWish,
  measured: number | null,
): number {
  const frames = facts.durationFrames ?? 0;
  const picture = frames * size.width * size.height * (measured ?? (preset.bitsPerPixel * bytesShare(preset, quality)) / 8);
  return Math.round(picture + soundBytes(facts, preset, wish, framesToSeconds(frames, rate)) + (measured === null ? AROUND_BYTES : 0));
}

export function soundBytes({ audio }: Pick<MediaFacts, 'audio'>, preset: Preset, wish: SoundWish, seconds: number): number {
  const bitsOf = ({ channels, sampleRate }: MediaFacts['audio'][number]) =>
    channels * (soundCodec(preset, channels) === 'aac' ? AAC_BITS_PER_CHANNEL : sampleRate * 16);
  const tracks = hasFewerChannels({ audio }, { sound: wish }) ? audio.slice(0, 1).map((track) => ({ ...track, channels: 2 })) : audio;
  return tracks.reduce((sum, track) => sum + (bitsOf(track) / 8) * seconds, 0);
}
