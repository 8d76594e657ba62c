/** How long encoding takes, by what this machine took for it before. */
import type { MediaFacts } from '../../media/item';
import type { Picture } from '../../rendition/picture-size';
import type { PresetId } from '../../rendition/presets';
import { uprightOf } from './rendition-load';

/** Seconds a pixel that is read or written, by preset; presets that were never used have none. */
export type Paces = ReadonlyMap<PresetId, number>;

/** What is known of the machine that encodes. */
export interface Machine {
  readonly paces: Paces;
  /** Encoders of its ffmpeg; null where that cannot be told. */
  readonly encoders: ReadonlySet<string> | null;
}

export const UNKNOWN_MACHINE: Machine = { paces: new Map(), encoders: null };

/** Pixels of all frames, as they are read and as they are written. */
export function pixelsOf(facts: MediaFacts, { width, height }: Picture): number {
  const source = uprightOf(facts);
  return (facts.durationFrames ?? 0) * (source.width * source.height + width * height);
}

/** Seconds for all of it; null where one of the presets was never used here. */
export function secondsFor(loads: readonly { readonly presetId: PresetId; readonly pixels: number }[], paces: Paces): number | null {
  let seconds = 0;
  for (const { presetId, pixels } of loads) {
    const pace = paces.get(presetId);
    if (pace === undefined) return null;
    seconds += pace * pixels;
  }
  return loads.length === 0 ? null : seconds;
}
