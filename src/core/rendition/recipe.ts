/** How one rendition is made of its source: all that the encoder is told. */
import type { Rate } from '../time/rate';
import type { BurnIn } from './burn-in';
import type { PresetId } from './presets';

export interface Recipe {
  readonly presetId: PresetId;
  readonly width: number;
  readonly height: number;
  /** Rate of a sequence, which has none of its own; null for files, which keep theirs. */
  readonly sequenceRate: Rate | null;
  readonly burnIn: BurnIn | null;
  /** Name of the clip, for the burn-in. */
  readonly clipName: string;
}

/** What the catalogue keeps of a rendition that was made here, or linked here. */
export interface Made {
  /** Null: made elsewhere. */
  readonly presetId: PresetId | null;
  readonly burnIn: boolean;
  /** Content of the source that it was made of. */
  readonly sourcePrint: string | null;
  /** When it was made, or linked. */
  readonly at: string;
}
