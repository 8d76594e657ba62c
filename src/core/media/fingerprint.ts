/**
 * The sampled fingerprint: SHA-256 over the size in bytes (as decimal text) and samples spread over the whole file, with
 * how many of them tell anything. Cheap enough for every file of a stocktake. Equal prints are a proof only where
 * enough of their samples carry information and no other file is known to share them; a file that is read whole is
 * known byte for byte. Copies are always compared by a checksum of every byte.
 */
export const SAMPLE_BYTES = 16_384;
const SAMPLES = 14;
/** Samples of one frame of a sequence are fewer: there are many frames. */
export const FRAME_SAMPLES = 3;

/**
 * Where the samples lie: at both ends, and between them at places that depend on the size. One sample for a file that
 * is no larger than all of them together. Half-open, in order.
 */
export function fingerprintSamples(sizeBytes: number, count = SAMPLES, sampleBytes = SAMPLE_BYTES): { offset: number; length: number }[] {
  if (sizeBytes <= sampleBytes * count) return sizeBytes === 0 ? [] : [{ offset: 0, length: sizeBytes }];
  const spacing = (sizeBytes - sampleBytes) / (count - 1);
  return Array.from({ length: count }, (_, index) => {
    if (index === count - 1) return { offset: sizeBytes - sampleBytes, length: sampleBytes };
    const shift = index === 0 ? 0 : (mixed(sizeBytes, index) - 0.5) * (spacing / 2);
    return { offset: Math.floor(index * spacing + shift), length: sampleBytes };
  });
}

/** From 0 to below 1, the same for the same numbers: samples do not fall into step with what repeats in a file. */
function mixed(sizeBytes: number, index: number): number {
  const value = Math.imul((sizeBytes % 4_294_967_291) ^ Math.imul(index, 0x9e3779b1), 0x85ebca6b) >>> 0;
  return ((value ^ (value >>> 13)) >>> 0) / 2 ** 32;
}

const WINDOW_BYTES = 8;
const FEWEST_WINDOWS = 64;

/**
 * Whether a sample tells files apart: silence, black, padding and whatever repeats do not. Of all runs of eight bytes
 * those with a certain hash are looked at (the same ones wherever they stand): most of them must be there only once.
 */
export function carriesInformation(sample: Uint8Array): boolean {
  const leaving = LEAVING;
  const { length } = sample;
  let looked = 0;
  let met = 0;
  let hash = 0;
  const table = length > SAMPLE_BYTES ? new Int32Array(2 * length) : MET.fill(0);
  for (let at = 0; at < length; at++) {
    hash = (Math.imul(hash, 0x01000193) + sample[at]! + 1) | 0;
    // The byte that leaves the window, by the factor it has come to.
    if (at >= WINDOW_BYTES) hash = (hash - Math.imul(sample[at - WINDOW_BYTES]! + 1, leaving)) | 0;
    if (at < WINDOW_BYTES - 1) continue;
    const spread = Math.imul(hash ^ (hash >>> 15), 0x2c1b3c6d);
    if ((spread & 0xf000) !== 0) continue;
    looked++;
    // What is empty in the table is written as 0; a hash that is 0 stands as a number that no other can be.
    const mark = spread === 0 ? 0x1000 : spread;
    let place = (spread >>> 16) % table.length;
    while (table[place] !== 0 && table[place] !== mark) place = (place + 1) % table.length;
    if (table[place] === 0) {
      table[place] = mark;
      met++;
    }
  }
  return looked >= FEWEST_WINDOWS && met * 2 >= looked;
}

/** Hashes met in a sample: there is room for one of every window. */
const MET = new Int32Array(2 * SAMPLE_BYTES);

const LEAVING = Array.from({ length: WINDOW_BYTES }).reduce<number>((factor) => Math.imul(factor, 0x01000193), 1);

/** Up to so many frames every one is sampled; of longer sequences some are. */
export const MOST_FRAMES_SAMPLED_ALL = 1_000;
const FRAMES_SAMPLED_OF_MORE = 200;

/** Which of `count` frames are sampled, by their index: first and last always. */
export function sampledFrames(count: number): number[] {
  if (count <= MOST_FRAMES_SAMPLED_ALL) return Array.from({ length: count }, (_, index) => index);
  const step = (count - 1) / (FRAMES_SAMPLED_OF_MORE - 1);
  return Array.from({ length: FRAMES_SAMPLED_OF_MORE }, (_, index) => Math.round(index * step));
}

/** How a print was made, in front of it: of a file, of all frames of a sequence, of some of them. Earlier versions had other words. */
export type PrintKind = '2' | 'frames2' | 'some-frames2';

/** How much of what was sampled tells anything; `all` where every byte was read. */
export type Telling = 'all' | { readonly informative: number; readonly samples: number };

export function formatPrint(kind: PrintKind, hash: string, telling: Telling): string {
  return `${kind}:${hash}:${telling === 'all' ? 'all' : `${telling.informative}/${telling.samples}`}`;
}

/** Null for a print of an earlier version. */
export function readPrint(print: string): { readonly kind: PrintKind; readonly hash: string; readonly telling: Telling } | null {
  const found = /^(2|frames2|some-frames2):([^:]*):(?:(all)|(\d+)\/(\d+))$/.exec(print);
  if (!found) return null;
  const [, kind, hash, all, informative, samples] = found;
  return { kind: kind as PrintKind, hash: hash!, telling: all ? 'all' : { informative: Number(informative), samples: Number(samples) } };
}

/** Whether two fingerprints are equal; null where they were made in different ways and cannot be compared. */
export function comparePrints(a: string | null, b: string | null): boolean | null {
  if (a === null || b === null || printKind(a) !== printKind(b)) return null;
  return a === b;
}

const FEWEST_TELLING = 4;

/**
 * Whether an equal fingerprint can prove equal content: not one of an earlier version, not where only some frames were
 * looked at, and not where too few samples tell anything.
 */
export function canProve(print: string, isSequence: boolean): boolean {
  const read = readPrint(print);
  if (!read || read.kind !== (isSequence ? 'frames2' : '2')) return false;
  const { telling } = read;
  return telling === 'all' || (telling.informative >= FEWEST_TELLING && telling.informative * 2 >= telling.samples);
}

/** Whether an equal fingerprint is an equal file, byte for byte. */
export function isOfEveryByte(print: string): boolean {
  return readPrint(print)?.telling === 'all';
}

function printKind(print: string): string {
  return print.slice(0, print.indexOf(':') + 1);
}
