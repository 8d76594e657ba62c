/** How one rendition is made of its source: all that the encoder is told. */
import type { MediaFacts } from '../media/item';
import type { Rate } from '../time/rate';
import type { BurnIn } from './burn-in';
import type { PresetId } from './presets';

export interface Recipe {
  readonly presetId: PresetId;
  /** Steps better (above 0) or smaller (below) than the preset; absent: as it is. */
  readonly quality?: number;
  /** Absent: as the source has it. */
  readonly sound?: SoundWish;
  readonly width: number;
  readonly height: number;
  /** Rate of a sequence, which has none of its own; null for files, which keep theirs. */
  readonly sequenceRate: Rate | null;
  readonly burnIn: BurnIn | null;
  /** Runs of frames (from 0, both ends inclusive) that are missing in the source and say so; the one before is held beneath. */
  readonly slates?: readonly (readonly [first: number, last: number])[];
  /** Name of the clip, for the burn-in. */
  readonly clipName: string;
}

/** All channels, or the first two. */
export const SOUND_WISHES = ['all', 'two'] as const;
export type SoundWish = (typeof SOUND_WISHES)[number];

/** Whether it gets fewer channels than its source has. */
export function hasFewerChannels({ audio }: Pick<MediaFacts, 'audio'>, { sound }: Pick<Recipe, 'sound'>): boolean {
  return sound === 'two' && audio.reduce((sum, track) => sum + track.channels, 0) > 2;
}

/** What the catalogue keeps of a rendition that was made here, or linked here. */
export interface Made {
  /** Null: made elsewhere. */
  readonly presetId: PresetId | null;
  readonly burnIn: boolean;
  /** It has fewer channels of sound than its source, as was asked for. */
  readonly fewerChannels?: boolean;
  /** Content of the source that it was made of. */
  readonly sourcePrint: string | null;
  /** When it was made, or linked. */
  readonly at: string;
  /** Bits of the pictures whose place it took under an edit, where that is known. */
  readonly insteadOfDepth?: number;
}
