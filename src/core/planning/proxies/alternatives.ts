/** What the same clips would take in other presets and sizes: as the sheet reckons it, by what samples of the largest of them measured. */
import { placeKey, type Item } from '../../media/item';
import { sizeOf, type PictureSize } from '../../rendition/picture-size';
import { PRESETS, presetFor, presetOf, type PresetId } from '../../rendition/presets';
import type { Rate } from '../../time/rate';
import { pixelsOf, rateOf, secondsFor, type Machine } from './pace';
import { expectedBytes, uprightOf } from './rendition-load';
import type { ProxySettings } from './settings';

export interface Alternative {
  readonly presetId: PresetId;
  readonly size: PictureSize;
  /** Presets that its sources really get. */
  readonly gets: readonly PresetId[];
  /** Whether a sample of each of them was made: what it takes is no guess. */
  readonly isMeasured: boolean;
  readonly bytes: number;
  /** Null where one of its presets was never used here. */
  readonly seconds: number | null;
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

/** The source of which samples are made: the one with most pixels. */
export function sampleOf(items: readonly Item[]): Item | null {
  const pixels = ({ facts }: Item) => uprightOf(facts).width * uprightOf(facts).height * (facts.durationFrames ?? 0);
  return items.reduce<Item | null>((most, item) => (most === null || pixels(item) > pixels(most) ? item : most), null);
}

/** `items`: sources that get one as things are asked for. Null where there are none. */
export function alternativesOf(items: readonly Item[], settings: ProxySettings, projectRate: Rate, machine: Machine): Alternatives | null {
  const own = [...new Map(items.map((item) => [placeKey(item.place), item])).values()];
  const largest = sampleOf(own);
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
    all: presets.flatMap(({ id }) => sizes.map((size) => alternative(own, largest, { ...settings, presetId: id, size }, projectRate, machine))),
  };
}

function alternative(items: readonly Item[], largest: Item, settings: ProxySettings, projectRate: Rate, machine: Machine): Alternative {
  const { presetId, size, quality, sound } = settings;
  const loads = items.map(({ facts }) => {
    const { preset } = presetFor(presetId, facts);
    const picture = sizeOf(uprightOf(facts), size);
    const rate = rateOf(machine, largest, preset.id, settings);
    return {
      presetId: preset.id,
      pixels: pixelsOf(facts, picture),
      pace: rate.secondsPerPixel,
      bytes: expectedBytes(facts, preset, picture, facts.rate ?? projectRate, quality, sound, rate.bytesPerPixel),
    };
  });
  const gets = [...new Set(loads.map((load) => load.presetId))];
  return {
    presetId,
    size,
    gets,
    isMeasured: gets.every((id) => rateOf(machine, largest, id, settings).bytesPerPixel !== null),
    bytes: loads.reduce((sum, { bytes }) => sum + bytes, 0),
    seconds: secondsFor(loads),
  };
}
