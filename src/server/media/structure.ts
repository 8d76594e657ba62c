/**
 * Whether a file of media is whole as far as its own structure tells: its boxes and chunks end where it ends, its index is
 * there, its first and last pictures decode, and no stretch of zeros lies where pictures should be. Sources: ISO/IEC
 * 14496-12, 4.2 (boxes of MP4 and QuickTime); RIFF/WAVE with EBU Tech 3306 (sizes); SMPTE ST 377-1, 7.1 (partition packs of
 * MXF: the footer's offset); SMPTE ST 268-1, table 1 (size of a DPX file); ISO/IEC 10918-1, B.1.1.3 (end of a JPEG); the PNG
 * specification, 11.2.5 (IEND).
 */
import { open, type FileHandle } from 'node:fs/promises';
import { isIntraFrame } from '../../core/media/codec-traits';
import type { MediaFacts, SequenceFacts } from '../../core/media/item';
import { frameName, presentNumbers } from '../../core/media/image-sequence';
import { frameToTimecode } from '../../core/time/timecode';
import { rateAsNumber } from '../../core/time/rate';
import { formatBytes, formatCount, plural } from '../../core/words/figures';
import { pictureComesFast } from './reader/media-reader';
import { inputArguments, LOOK_ARGUMENTS, LOOK_MEMORY_BYTES, runTool } from './ffmpeg';

/** Names of what is read here as media: such a file that cannot be read is damaged, any other is none of ours. */
const MEDIA_NAMES = /\.(mov|mp4|m4v|m4a|mxf|mkv|webm|avi|mpe?g|m2?ts|dv|wav|w64|aiff?|flac|mp3|ogg|caf|png|jpe?g|dpx|exr|tiff?|bmp|gif|psd)$/i;
const LOOK_MS = 60_000;

/** A file as the stocktake met it; `facts` is null where it could not be read as media. */
export interface Looked {
  readonly file: string;
  readonly sizeBytes: number;
  readonly facts: MediaFacts | null;
  readonly sequence: SequenceFacts | null;
  /** Sizes of the frames of a sequence, in the order of their numbers. */
  readonly frameBytes: readonly number[];
}

/** What is wrong with it, in a sentence; null where nothing is seen, or it is no media. Throws the file system's errors. */
export async function damageOf({ file, sizeBytes, facts, sequence, frameBytes }: Looked): Promise<string | null> {
  if (!MEDIA_NAMES.test(file) || facts?.kind === 'other') return null;
  if (sequence) return damageOfFrames(file, sequence, frameBytes);
  if (sizeBytes === 0) return 'It is empty: 0 bytes.';
  const disk = await open(file, 'r');
  try {
    const read = reader(disk);
    const broken = await brokenStructure(file, read, sizeBytes, facts);
    if (broken) return broken;
    if (facts === null) return (await isZeros(read, sizeBytes)) ? 'It holds nothing but zeros.' : 'It cannot be opened as media.';
    if (facts.kind !== 'video') return null;
    return (await undecodable(file, facts)) ?? (await zeroedStretch(file, read, sizeBytes, facts));
  } finally {
    await disk.close();
  }
}

type Read = (offset: number, length: number) => Promise<Buffer>;

function reader(disk: FileHandle): Read {
  return async (offset, length) => {
    const buffer = Buffer.alloc(length);
    const { bytesRead } = await disk.read(buffer, 0, length, offset);
    return buffer.subarray(0, bytesRead);
  };
}

async function brokenStructure(file: string, read: Read, sizeBytes: number, facts: MediaFacts | null): Promise<string | null> {
  const head = await read(0, 16);
  const text = head.toString('latin1');
  if (/^(RIFF|RF64|BW64)....WAVE/s.test(text)) return brokenWave(read, sizeBytes);
  if (/^FORM....AIF[FC]/s.test(text)) return head.readUInt32BE(4) === 0xffff_ffff ? null : cutOff(head.readUInt32BE(4) + 8, sizeBytes);
  if (/^....(ftyp|moov|mdat|wide|free|skip)/s.test(text)) return brokenBoxes(read, sizeBytes, facts === null);
  if (head.subarray(0, 13).equals(MXF_PARTITION)) return brokenMxf(read, sizeBytes);
  if (text.startsWith('SDPX') || text.startsWith('XPDS')) return suspectDpx(file, read, sizeBytes, facts);
  if (head.length >= 2 && head.readUInt16BE(0) === 0xffd8) return (await endsAsJpeg(read, sizeBytes)) ? null : 'It is cut off: its end is missing.';
  if (text.startsWith('\x89PNG')) return (await endsWith(read, sizeBytes, Buffer.from('IEND'))) ? null : 'It is cut off: its end is missing.';
  return null;
}

function cutOff(stated: number, sizeBytes: number): string | null {
  return stated <= sizeBytes ? null : `It is cut off: ${formatBytes(sizeBytes)} of ${formatBytes(stated)} are there.`;
}

const MOST_BOXES = 10_000;

async function brokenBoxes(read: Read, sizeBytes: number, isUnread: boolean): Promise<string | null> {
  let hasIndex = false;
  for (let offset = 0, count = 0; offset + 8 <= sizeBytes && count < MOST_BOXES; count++) {
    const header = await read(offset, 16);
    const type = header.toString('latin1', 4, 8);
    // What follows the last box is padding of the drive or the camera.
    if (!/^[\x20-\x7e\xa9]{4}$/.test(type)) break;
    const short = header.readUInt32BE(0);
    const length = short === 1 && header.length >= 16 ? Number(header.readBigUInt64BE(8)) : short === 0 ? sizeBytes - offset : short;
    if (length < 8) break;
    hasIndex ||= type === 'moov' || type === 'moof';
    if (offset + length > sizeBytes) return hasIndex ? cutOff(offset + length, sizeBytes) : 'It is cut off, and its index (moov) is missing.';
    offset += length;
  }
  return isUnread && !hasIndex ? 'Its index (moov) is missing: the recording or the copy did not come to its end.' : null;
}

async function brokenWave(read: Read, sizeBytes: number): Promise<string | null> {
  let wide: number | null = null;
  let align = 0;
  for (let offset = 12, count = 0; offset + 8 <= sizeBytes && count < 4096; count++) {
    const header = await read(offset, 8);
    const id = header.toString('latin1', 0, 4);
    const stated = header.readUInt32LE(4);
    if (id === 'fmt ') align = (await read(offset + 8, 14)).readUInt16LE(12);
    if (id === 'ds64') wide = Number((await read(offset + 16, 8)).readBigUInt64LE(0));
    if (id === 'data') {
      // Written as a stream, its length was never put in.
      if (stated === 0xffff_ffff && wide === null) return null;
      const length = stated === 0xffff_ffff ? wide! : stated;
      const there = sizeBytes - offset - 8;
      if (length <= there) return null;
      const samples = (bytes: number) => formatCount(Math.floor(bytes / Math.max(1, align)));
      return `It is cut off: ${samples(there)} of ${samples(length)} samples are there.`;
    }
    offset += 8 + stated + (stated % 2);
  }
  return 'It is cut off: there is no sound in it.';
}

/** Key of a partition pack up to its kind. */
const MXF_PARTITION = Buffer.from('060e2b34020501010d01020101', 'hex');

async function brokenMxf(read: Read, sizeBytes: number): Promise<string | null> {
  const pack = await read(0, 128);
  const ber = pack[16]!;
  const value = 17 + (ber >= 0x80 ? ber & 0x7f : 0);
  if (value + 32 > pack.length) return null;
  const footer = Number(pack.readBigUInt64BE(value + 24));
  if (footer === 0) return null;
  if (footer + 16 > sizeBytes) return cutOff(footer + 16, sizeBytes);
  return (await read(footer, 13)).equals(MXF_PARTITION) ? null : 'Its footer is not where it says: bytes are missing or were overwritten.';
}

function brokenDpx(head: Buffer, sizeBytes: number): string | null {
  if (head.length < 20) return cutOff(2048, sizeBytes);
  const stated = head.toString('latin1', 0, 4) === 'SDPX' ? head.readUInt32BE(16) : head.readUInt32LE(16);
  return stated === 0 || stated === 0xffff_ffff ? null : cutOff(stated, sizeBytes);
}

/** A header may state another size than there is: it counts where the picture does not come out either. */
async function suspectDpx(file: string, read: Read, sizeBytes: number, facts: MediaFacts | null): Promise<string | null> {
  const broken = brokenDpx(await read(0, 24), sizeBytes);
  return broken === null || (facts !== null && (await framesFrom(file, facts, 0, 1)) !== 0) ? null : broken;
}

/** Its end stands near the end of the file, or before a movie that a phone has put behind the picture. */
async function endsAsJpeg(read: Read, sizeBytes: number): Promise<boolean> {
  const end = Buffer.from([0xff, 0xd9]);
  if (await endsWith(read, sizeBytes, end)) return true;
  if (sizeBytes > LARGEST_JPEG) return true;
  const all = await read(0, sizeBytes);
  const last = all.lastIndexOf(end);
  return last >= 0 && all.subarray(last, last + 65_536).includes('ftyp');
}

/** Larger ones are not looked through. */
const LARGEST_JPEG = 64 * 1024 * 1024;

/** Whether the sign stands near the end: some writers put something after it. */
async function endsWith(read: Read, sizeBytes: number, sign: Buffer): Promise<boolean> {
  const from = Math.max(0, sizeBytes - 65_536);
  return (await read(from, sizeBytes - from)).includes(sign);
}

/** Frames that are empty, or shorter than the header of the first one says of all. */
async function damageOfFrames(first: string, sequence: SequenceFacts, frameBytes: readonly number[]): Promise<string | null> {
  const numbers = presentNumbers(sequence);
  const empty = numbers.filter((_, index) => frameBytes[index] === 0);
  if (empty[0] !== undefined)
    return `${plural(empty.length, 'frame is', 'frames are')} empty (0 bytes), the first is ${frameName(sequence, empty[0])}.`;
  if (!/\.dpx$/i.test(first)) return null;
  const disk = await open(first, 'r');
  try {
    const head = await reader(disk)(0, 24);
    const short = numbers.filter((_, index) => brokenDpx(head, frameBytes[index] ?? 0) !== null);
    // Where all are, their header says something else.
    return short[0] !== undefined && short.length < numbers.length
      ? `${plural(short.length, 'frame is', 'frames are')} cut off, the first is ${frameName(sequence, short[0])}.`
      : null;
  } finally {
    await disk.close();
  }
}

/** Containers in which a moment is found by an index: in others a picture that does not come says nothing. */
const INDEXED = new Set(['mov', 'mxf', 'matroska']);

/**
 * Frames that come out from `seconds` on: at most `most`, or those of a time of `length` seconds. Null where the tool came to no end. `isFast`:
 * from the key frame before, without the pictures between.
 */
async function framesFrom(
  file: string,
  facts: MediaFacts,
  seconds: number,
  most: number,
  length: number | null = null,
  isFast = false,
): Promise<number | null> {
  const at = seconds > 0 ? [...(isFast ? ['-noaccurate_seek'] : []), '-ss', seconds.toFixed(6)] : [];
  const input = inputArguments(file, facts.container);
  const show = [
    '-map',
    '0:V:0',
    '-an',
    '-sn',
    '-dn',
    '-frames:v',
    String(most),
    ...(length === null ? [] : ['-t', length.toFixed(6)]),
    '-fps_mode',
    'passthrough',
    '-f',
    'framecrc',
    '-',
  ];
  const result = await runTool('ffmpeg', [...LOOK_ARGUMENTS, ...at, ...input, ...show], {
    timeLimitMs: LOOK_MS,
    mostMemoryBytes: LOOK_MEMORY_BYTES,
    inBackground: true,
  });
  if (result.wasEnded || /Cannot allocate|not on whitelist|max pixel|Decoder .* not found|Unknown decoder|Decoding requested, but no decoder/i.test(result.stderr)) return null; // prettier-ignore
  return result.stdout.split('\n').filter((line) => /^0,/.test(line)).length;
}

/** Whether a picture comes, where that can be told without starting ffmpeg. */
function comes(file: string, { container }: MediaFacts, seconds: number, fromKey: boolean): Promise<boolean> {
  return pictureComesFast({ file, container, seconds, fromKey });
}

/** Whether its first or its last pictures do not come out. */
async function undecodable(file: string, facts: MediaFacts): Promise<string | null> {
  if (!(await comes(file, facts, 0, false)) && (await framesFrom(file, facts, 0, 1)) === 0) return 'None of its first pictures can be decoded.';
  const { durationFrames, rate, container } = facts;
  if (!INDEXED.has(container) || durationFrames === null || rate === null || facts.steadyRate === false || durationFrames < 2) return null;
  const seconds = durationFrames / rateAsNumber(rate);
  const isIntra = isIntraFrame(facts);
  // Of a group of pictures its key frame is enough where that comes: all the others would take seconds.
  for (const margin of isIntra ? [2.5 / rateAsNumber(rate), 1] : [0.5, 12]) {
    const [from, fromKey] = [Math.max(0, seconds - margin), !isIntra && margin < 1];
    if ((await comes(file, facts, from, fromKey)) || (await framesFrom(file, facts, from, 1, null, fromKey)) !== 0) return null;
  }
  return `Its last pictures cannot be decoded (before ${timecodeAt(facts, durationFrames - 1)}).`;
}

const LOOKS = 48;
const LOOK_BYTES = 4096;
/** In smaller files little is told by a few zeros. */
const FEWEST_BYTES = 20_000;
/** Codecs of which black is zeros. */
const MAY_BE_ZEROS = /^(rawvideo|v210|v308|v408|v410|r210|r10k|yuv4|uyvy|avui|ayuv|bitpacked|wrapped_avframe)/;

/** A stretch of zeros where pictures should be, and no pictures come out of it. Silence between pictures is zeros too. */
async function zeroedStretch(file: string, read: Read, sizeBytes: number, facts: MediaFacts): Promise<string | null> {
  const { durationFrames, rate, container } = facts;
  if (
    sizeBytes < FEWEST_BYTES ||
    MAY_BE_ZEROS.test(facts.video?.codec ?? '') ||
    !INDEXED.has(container) ||
    !durationFrames ||
    !rate ||
    facts.steadyRate === false
  )
    return null;
  const empty: number[] = [];
  for (let index = 1; index < LOOKS; index++) {
    const part = index / LOOKS;
    if ((await read(Math.floor(sizeBytes * part), Math.min(LOOK_BYTES, Math.floor(sizeBytes / LOOKS / 2)))).every((byte) => byte === 0))
      empty.push(part);
  }
  const seconds = durationFrames / rateAsNumber(rate);
  for (const part of some(empty)) {
    const at = part * seconds;
    const wanted = Math.min(Math.ceil(rateAsNumber(rate) / 2), Math.floor((seconds - at) * rateAsNumber(rate)));
    if (wanted < 4) continue;
    const found = await framesFrom(file, facts, at, wanted, wanted / rateAsNumber(rate));
    // A seek may come down a frame beside.
    if (found !== null && found < wanted - 2)
      return `Part of it was overwritten with zeros: around ${timecodeAt(facts, Math.floor(durationFrames * part))} pictures cannot be decoded.`;
  }
  return null;
}

/** A few of them, from all over. */
function some(parts: readonly number[]): number[] {
  return parts.filter((_, index) => index % Math.ceil(parts.length / 4 || 1) === 0);
}

async function isZeros(read: Read, sizeBytes: number): Promise<boolean> {
  for (let index = 0; index < 16; index++)
    if (!(await read(Math.floor((sizeBytes * index) / 16), LOOK_BYTES)).every((byte) => byte === 0)) return false;
  return true;
}

function timecodeAt({ startFrame, rate, dropFrame }: MediaFacts, frame: number): string {
  return frameToTimecode((startFrame ?? 0) + Math.max(0, frame), rate!, dropFrame);
}
