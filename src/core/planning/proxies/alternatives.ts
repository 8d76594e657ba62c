/** What the same clips would take in other presets and sizes, to be reckoned with what a sample of one of them measures. */
import { placeKey, type Item } from '../../media/item';
import { sizeOf, type PictureSize } from '../../rendition/picture-size';
import { PRESETS, presetFor, presetOf, type PresetId } from '../../rendition/presets';
import { framesToSeconds } from '../../time/convert';
import type { Rate } from '../../time/rate';
import { soundBytes, uprightOf } from './rendition-load';
import type { ProxySettings } from './settings';

/** Pictures that are encoded in one preset. */
export interface PictureLoad {
  readonly presetId: PresetId;
  /** Pixels of all frames that are written, and of all that are read for them. */
  readonly pixels: number;
  readonly sourcePixels: number;
}

export interface Alternative {
  readonly presetId: PresetId;
  readonly size: PictureSize;
  /** By the preset that each source really gets. */
  readonly loads: readonly PictureLoad[];
  readonly soundBytes: number;
}

/** What is encoded for a try: the largest of the sources. */
export interface SampleSource {
  readonly itemId: string;
  readonly name: string;
  readonly width: number;
  readonly height: number;
}

export interface Alternatives {
  readonly sample: SampleSource;
  readonly all: readonly Alternative[];
}

const OTHERS: readonly PictureSize[] = [
  ...[1080, 720, 540, 360].map((lines): PictureSize => ({ by: 'lines', lines })),
  ...[2, 3, 4, 6].map((share): PictureSize => ({ by: 'share', share })),
];
const MOST_SIZES = 3;

/** `items`: sources that get one as things are asked for. Null where there are none. */
export function alternativesOf(items: readonly Item[], settings: ProxySettings, projectRate: Rate): Alternatives | null {
  const own = [...new Map(items.map((item) => [placeKey(item.place), item])).values()];
  const pixelsOf = ({ facts }: Item) => uprightOf(facts).width * uprightOf(facts).height * (facts.durationFrames ?? 0);
  const largest = own.reduce<Item | null>((most, item) => (most === null || pixelsOf(item) > pixelsOf(most) ? item : most), null);
  if (!largest) return null;
  const asked = presetOf(settings.presetId);
  // The next smaller ones, said in the way that the asked one is said.
  const linesOf = (size: PictureSize) => sizeOf(uprightOf(largest.facts), size).height;
  const isAlike = ({ by }: PictureSize) => (by === 'share') === (settings.size.by === 'share');
  const smaller = OTHERS.filter((size) => isAlike(size) && linesOf(size) < linesOf(settings.size));
  const sizes = [settings.size, ...smaller].slice(0, MOST_SIZES);
  // Without alpha the presets that keep it would only take room.
  const presets = PRESETS.filter((preset) => preset.for === asked.for && (preset === asked || !preset.alpha));
  return {
    sample: { itemId: largest.id, name: largest.place.path.split('/').at(-1)!, ...uprightOf(largest.facts) },
    all: presets.flatMap(({ id }) => sizes.map((size) => alternative(own, id, size, settings, projectRate))),
  };
}

function alternative(items: readonly Item[], presetId: PresetId, size: PictureSize, settings: ProxySettings, projectRate: Rate): Alternative {
  const loads = new Map<PresetId, { pixels: number; sourcePixels: number }>();
  let sound = 0;
  for (const { facts } of items) {
    const { preset } = presetFor(presetId, facts);
    const upright = uprightOf(facts);
    const { width, height } = sizeOf(upright, size);
    const frames = facts.durationFrames ?? 0;
    const load = loads.get(preset.id) ?? { pixels: 0, sourcePixels: 0 };
    load.pixels += frames * width * height;
    load.sourcePixels += frames * upright.width * upright.height;
    loads.set(preset.id, load);
    sound += soundBytes(facts, preset, settings.sound, framesToSeconds(frames, facts.rate ?? projectRate));
  }
  return { presetId, size, loads: [...loads].map(([id, load]) => ({ presetId: id, ...load })), soundBytes: Math.round(sound) };
}

/** What a sample of a preset in a size gave. */
export interface Measured {
  readonly presetId: PresetId;
  readonly frames: number;
  /** Pixels of one picture that was written, and of its source. */
  readonly pixels: number;
  readonly sourcePixels: number;
  readonly bytes: number;
  readonly seconds: number;
}

/**
 * Bytes and seconds of an alternative: bytes go with the pixels that are written, time with those that are read and
 * written. Null where a preset that some of its sources get was not measured.
 */
export function reckon(
  { loads, soundBytes: sound }: Alternative,
  measured: readonly Measured[],
): { readonly bytes: number; readonly seconds: number } | null {
  let bytes = sound;
  let seconds = 0;
  for (const { presetId, pixels, sourcePixels } of loads) {
    const own = measured.find((one) => one.presetId === presetId);
    if (!own || own.frames === 0) return null;
    bytes += (own.bytes / (own.frames * own.pixels)) * pixels;
    seconds += (own.seconds / (own.frames * (own.pixels + own.sourcePixels))) * (pixels + sourcePixels);
  }
  return { bytes: Math.round(bytes), seconds };
}
