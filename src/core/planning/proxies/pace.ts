/** How long encoding takes and what room it needs, by what this machine took for it before and by samples. */
import type { Item, MediaFacts } from '../../media/item';
import { sizeOf, type Picture } from '../../rendition/picture-size';
import type { PresetId } from '../../rendition/presets';
import { uprightOf } from './rendition-load';
import type { ProxySettings } from './settings';

/** Seconds a pixel that is read or written, by preset; presets that were never used have none. */
export type Paces = ReadonlyMap<PresetId, number>;

/** What a short piece of a source took in one preset, size and quality. */
export interface SampleRate extends Picture {
  /** Content of the source: see Item. */
  readonly fingerprint: string;
  readonly presetId: PresetId;
  readonly quality: number;
  /** Of pictures alone. */
  readonly bytesPerPixel: number;
  /** Seconds a pixel that is read or written. */
  readonly secondsPerPixel: number;
}

/** What is known of the machine that encodes. */
export interface Machine {
  readonly paces: Paces;
  /** Encoders of its ffmpeg; null where that cannot be told. */
  readonly encoders: ReadonlySet<string> | null;
  readonly samples: readonly SampleRate[];
}

export const UNKNOWN_MACHINE: Machine = { paces: new Map(), encoders: null, samples: [] };

/** Pixels of all frames, as they are read and as they are written. */
export function pixelsOf(facts: MediaFacts, { width, height }: Picture): number {
  const source = uprightOf(facts);
  return (facts.durationFrames ?? 0) * (source.width * source.height + width * height);
}

/** What a pixel takes in a preset: room by a sample of `sample`, time by what was encoded before, else by the sample. Null: not known. */
export function rateOf(
  { paces, samples }: Machine,
  sample: Item | null,
  presetId: PresetId,
  { size, quality }: Pick<ProxySettings, 'size' | 'quality'>,
): { readonly bytesPerPixel: number | null; readonly secondsPerPixel: number | null } {
  const picture = sample && sizeOf(uprightOf(sample.facts), size);
  const own = samples.find(
    (one) =>
      one.fingerprint === sample?.fingerprint &&
      one.presetId === presetId &&
      one.quality === quality &&
      one.width === picture?.width &&
      one.height === picture.height,
  );
  return { bytesPerPixel: own?.bytesPerPixel ?? null, secondsPerPixel: paces.get(presetId) ?? own?.secondsPerPixel ?? null };
}

/** Seconds for all of it; null where nothing is known of one of them. */
export function secondsFor(loads: readonly { readonly pixels: number; readonly pace: number | null }[]): number | null {
  let seconds = 0;
  for (const { pixels, pace } of loads) {
    if (pace === null) return null;
    seconds += pace * pixels;
  }
  return loads.length === 0 ? null : seconds;
}
