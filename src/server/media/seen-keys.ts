/** Key frames as they were seen at the begin of a movie, and how far is looked. */
export interface SeenKeys {
  /** Frames from the first key frame to the next, as packets are marked; null where it did not come soon. */
  readonly spacing: number | null;
  /** Whether each of the first pictures, and of some in the middle, was decoded by itself. */
  readonly picturesAlone: boolean;
}

/** At the begin, and again in the middle. */
export const FRAMES_LOOKED_AT = 24;
/** Groups of pictures that are longer, or larger, are told as long. */
export const MOST_GROUP_PACKETS = 300;
export const MOST_GROUP_BYTES = 16_000_000;
