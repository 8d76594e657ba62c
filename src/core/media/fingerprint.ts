/**
 * The sampled fingerprint: SHA-256 over the size in bytes (as decimal text) and up to three samples of the content.
 * Cheap enough for every file of a stocktake; equal size and samples prove a match for relinking, while copies
 * are always compared by a checksum of every byte.
 */
export const SAMPLE_BYTES = 65_536;

/** Where the samples lie: the begin, the middle and the end; one sample for a file no larger than three. Half-open. */
export function fingerprintSamples(sizeBytes: number): { offset: number; length: number }[] {
  if (sizeBytes <= SAMPLE_BYTES * 3) return sizeBytes === 0 ? [] : [{ offset: 0, length: sizeBytes }];
  const middle = Math.floor(sizeBytes / 2 - SAMPLE_BYTES / 2);
  return [0, middle, sizeBytes - SAMPLE_BYTES].map((offset) => ({ offset, length: SAMPLE_BYTES }));
}
