/**
 * The sampled fingerprint: SHA-256 over the size in bytes (as decimal text) and up to three samples of the content.
 * Cheap enough for every file of a stocktake; equal size and samples prove a match for relinking, while copies
 * are always compared by a checksum of every byte.
 */
export const SAMPLE_BYTES = 65_536;

/** Where the samples lie: the begin, the middle and the end; one sample for a file no larger than three. Half-open. */
export function fingerprintSamples(sizeBytes: number, sampleBytes = SAMPLE_BYTES): { offset: number; length: number }[] {
  if (sizeBytes <= sampleBytes * 3) return sizeBytes === 0 ? [] : [{ offset: 0, length: sizeBytes }];
  const middle = Math.floor(sizeBytes / 2 - sampleBytes / 2);
  return [0, middle, sizeBytes - sampleBytes].map((offset) => ({ offset, length: sampleBytes }));
}

/** Samples of one frame of a sequence are smaller: there are many frames. */
export const FRAME_SAMPLE_BYTES = 16_384;
/** Up to so many frames every one is sampled; of longer sequences some are. */
export const MOST_FRAMES_SAMPLED_ALL = 1_000;
const FRAMES_SAMPLED_OF_MORE = 200;

/** Which of `count` frames are sampled, by their index: first and last always. */
export function sampledFrames(count: number): number[] {
  if (count <= MOST_FRAMES_SAMPLED_ALL) return Array.from({ length: count }, (_, index) => index);
  const step = (count - 1) / (FRAMES_SAMPLED_OF_MORE - 1);
  return Array.from({ length: FRAMES_SAMPLED_OF_MORE }, (_, index) => Math.round(index * step));
}

/** Fingerprints of sequences say in front of the hash whether every frame was sampled. */
export const ALL_FRAMES = 'frames:';
export const SOME_FRAMES = 'some-frames:';

/** Whether two fingerprints are equal; null where they were made in different ways and cannot be compared. */
export function comparePrints(a: string | null, b: string | null): boolean | null {
  if (a === null || b === null || printKind(a) !== printKind(b)) return null;
  return a === b;
}

/** Whether an equal fingerprint proves equal content: not where only some frames were looked at. */
export function canProve(print: string, isSequence: boolean): boolean {
  return printKind(print) === (isSequence ? ALL_FRAMES : '');
}

function printKind(print: string): string {
  return print.slice(0, print.indexOf(':') + 1);
}
