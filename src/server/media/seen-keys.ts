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

/** A packet of a key frame: the how manieth it is, and when its picture is shown; null where that is not told. */
export interface KeyPacket {
  readonly at: number;
  readonly seconds: number | null;
}

/**
 * From one key frame to the next as they are shown: of an open group pictures that come before its key frame lie behind it
 *. Where times are not told, as they lie. `rate`: frames a second; 0 where it is not known.
 */
export function framesBetween(first: KeyPacket, next: KeyPacket, rate: number): number {
  const shown = first.seconds === null || next.seconds === null ? 0 : Math.round((next.seconds - first.seconds) * rate);
  return shown > 1 ? shown : next.at - first.at;
}
