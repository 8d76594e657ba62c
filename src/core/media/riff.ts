/**
 * Cutting WAV on the sample while every chunk is kept, and what a chunk says of the samples is put right. Sources: the
 * RIFF/WAVE layout (fact, cue, adtl, smpl); EBU Tech 3285 (bext: TimeReference is 8 bytes little-endian at offset 338
 * and counts samples since midnight); EBU Tech 3306 (RF64, ds64); ITU-R BS.2088 (BW64). Elements of iXML by name as
 * they stand in files (the iXML specification): TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_HI and _LO, BWF_TIME_REFERENCE_HIGH
 * and _LOW.
 */

export interface RiffChunk {
  readonly id: string;
  /** Offset of the chunk's data (after its 8-byte header) in the file. */
  readonly offset: number;
  readonly size: number;
}

export type Segment =
  { readonly type: 'bytes'; readonly bytes: Uint8Array } | { readonly type: 'range'; readonly offset: number; readonly length: number };

export interface WavHeader {
  /** RIFF, RF64 or BW64. */
  readonly form: string;
  readonly chunks: readonly RiffChunk[];
  /** Bytes of one sample of all channels (nBlockAlign of `fmt `). */
  readonly blockAlign: number;
  /** Contents of the chunks that speak of samples, by the chunk's offset. */
  readonly contents: ReadonlyMap<number, Uint8Array>;
}

export const BEXT_TIME_REFERENCE_OFFSET = 338;
const LARGEST_RIFF = 0xffff_ffff;

/** Chunks whose content must be known for a cut. */
export const TELLING_CHUNKS: readonly string[] = ['bext', 'fact', 'cue ', 'LIST', 'smpl', 'iXML'];
/** Chunks that would be wrong after a cut and can be made anew by any tool: sizes, padding, peaks, checksums of all samples. */
const LEFT_OUT = new Set(['ds64', 'JUNK', 'levl', 'MD5 ', 'md5 ']);

/**
 * Segments that make the new file when written one after the other: samples [start, end) of `header`'s data, all
 * other chunks in their order. A result above 4 GB becomes RF64 (or stays BW64). Null when there is no data chunk or
 * it holds fewer samples.
 */
export function cutWav(header: WavHeader, start: number, end: number): Segment[] | null {
  const body: Segment[] = [];
  let bodyBytes = 4;
  let dataBytes: number | null = null;
  const cues = cuesKept(header, start, end);
  for (const chunk of header.chunks) {
    if (LEFT_OUT.has(chunk.id)) continue;
    if (chunk.id === 'data') {
      if (dataBytes !== null || (end - start) * header.blockAlign <= 0 || end * header.blockAlign > chunk.size) return null;
      dataBytes = (end - start) * header.blockAlign;
      bodyBytes += put(body, chunk.id, { type: 'range', offset: chunk.offset + start * header.blockAlign, length: dataBytes });
      continue;
    }
    const content = header.contents.get(chunk.offset);
    const changed = content ? changedChunk(chunk.id, content, start, end, cues) : undefined;
    if (changed === null) continue;
    const part: Segment = changed ? { type: 'bytes', bytes: changed } : { type: 'range', offset: chunk.offset, length: chunk.size };
    bodyBytes += put(body, chunk.id, part);
  }
  if (dataBytes === null) return null;
  return bodyBytes <= LARGEST_RIFF ? [riffHead('RIFF', bodyBytes), ...body] : largeWav(header, body, bodyBytes, dataBytes);
}

/** A chunk's header, content and padding; gives the bytes they take. */
function put(body: Segment[], id: string, content: Segment): number {
  const length = content.type === 'bytes' ? content.bytes.length : content.length;
  body.push({ type: 'bytes', bytes: chunkHeader(id, Math.min(length, LARGEST_RIFF)) }, content);
  if (length % 2 === 1) body.push({ type: 'bytes', bytes: new Uint8Array(1) });
  return 8 + length + (length % 2);
}

function riffHead(form: string, bytes: number): Segment {
  const head = new Uint8Array(12);
  head.set(chunkHeader(form, bytes));
  head.set(new TextEncoder().encode('WAVE'), 8);
  return { type: 'bytes', bytes: head };
}

const DS64_BYTES = 28;

/** Above 4 GB the sizes stand in a ds64 chunk, the first of all (EBU Tech 3306, 3). */
function largeWav(header: WavHeader, body: readonly Segment[], bodyBytes: number, dataBytes: number): Segment[] {
  const ds64 = new Uint8Array(8 + DS64_BYTES);
  ds64.set(chunkHeader('ds64', DS64_BYTES));
  const view = new DataView(ds64.buffer);
  view.setBigUint64(8, BigInt(bodyBytes + ds64.length), true);
  view.setBigUint64(16, BigInt(dataBytes), true);
  view.setBigUint64(24, BigInt(dataBytes / header.blockAlign), true);
  const sized = body.map((segment, index) => {
    const next = body[index + 1];
    const isDataHeader = segment.type === 'bytes' && next?.type === 'range' && next.length === dataBytes && textOf(segment.bytes, 0, 4) === 'data';
    return isDataHeader ? { type: 'bytes' as const, bytes: chunkHeader('data', LARGEST_RIFF) } : segment;
  });
  return [riffHead(header.form === 'BW64' ? 'BW64' : 'RF64', LARGEST_RIFF), { type: 'bytes', bytes: ds64 }, ...sized];
}

function chunkHeader(id: string, size: number): Uint8Array {
  const bytes = new Uint8Array(8);
  bytes.set(new TextEncoder().encode(id.padEnd(4).slice(0, 4)));
  new DataView(bytes.buffer).setUint32(4, size, true);
  return bytes;
}

function textOf(bytes: Uint8Array, start: number, end: number): string {
  return String.fromCharCode(...bytes.subarray(start, end));
}

/** The chunk as it must be after the cut; undefined when it stays, null when it goes. */
function changedChunk(id: string, content: Uint8Array, start: number, end: number, cues: ReadonlySet<number>): Uint8Array | null | undefined {
  switch (id) {
    case 'bext':
      return moveTimeReference(content, start);
    case 'fact':
      return withUint32(content, 0, Math.min(end - start, LARGEST_RIFF));
    case 'cue ':
      return cutCues(content, start, cues);
    case 'LIST':
      return textOf(content, 0, 4) === 'adtl' ? cutLabels(content, cues) : undefined;
    case 'smpl':
      return cutLoops(content, start, end);
    case 'iXML':
      return moveTextTimes(content, start);
    default:
      return undefined;
  }
}

function withUint32(bytes: Uint8Array, offset: number, value: number): Uint8Array {
  const out = bytes.slice();
  if (out.length >= offset + 4) new DataView(out.buffer).setUint32(offset, value, true);
  return out;
}

function moveTimeReference(bext: Uint8Array, samples: number): Uint8Array {
  const out = bext.slice();
  if (out.length < BEXT_TIME_REFERENCE_OFFSET + 8) return out;
  const view = new DataView(out.buffer);
  view.setBigUint64(BEXT_TIME_REFERENCE_OFFSET, BigInt.asUintN(64, view.getBigUint64(BEXT_TIME_REFERENCE_OFFSET, true) + BigInt(samples)), true);
  return out;
}

const CUE_BYTES = 24;

/** Identifiers of the cue points that lie in the part. A point counts samples in its last field (dwSampleOffset). */
function cuesKept(header: WavHeader, start: number, end: number): ReadonlySet<number> {
  const kept = new Set<number>();
  for (const chunk of header.chunks) {
    const content = chunk.id === 'cue ' ? header.contents.get(chunk.offset) : undefined;
    if (!content) continue;
    for (const point of cuePoints(content)) {
      const sample = point.getUint32(20, true);
      if (sample >= start && sample < end) kept.add(point.getUint32(0, true));
    }
  }
  return kept;
}

function cuePoints(content: Uint8Array): DataView[] {
  if (content.length < 4) return [];
  const count = Math.min(new DataView(content.buffer, content.byteOffset).getUint32(0, true), Math.floor((content.length - 4) / CUE_BYTES));
  return Array.from({ length: count }, (_, index) => new DataView(content.buffer, content.byteOffset + 4 + index * CUE_BYTES, CUE_BYTES));
}

function cutCues(content: Uint8Array, start: number, kept: ReadonlySet<number>): Uint8Array | null {
  const points = cuePoints(content).filter((point) => kept.has(point.getUint32(0, true)));
  if (points.length === 0) return null;
  const out = new Uint8Array(4 + points.length * CUE_BYTES);
  const view = new DataView(out.buffer);
  view.setUint32(0, points.length, true);
  points.forEach((point, index) => {
    const at = 4 + index * CUE_BYTES;
    out.set(new Uint8Array(point.buffer, point.byteOffset, CUE_BYTES), at);
    const position = point.getUint32(4, true);
    view.setUint32(at + 4, Math.max(0, position - start), true);
    view.setUint32(at + 20, point.getUint32(20, true) - start, true);
  });
  return out;
}

/** Labels, notes and lengths (labl, note, ltxt) of the cue points that are kept; all else in the list stays. */
function cutLabels(content: Uint8Array, kept: ReadonlySet<number>): Uint8Array | null {
  const view = new DataView(content.buffer, content.byteOffset, content.length);
  const pieces: Uint8Array[] = [];
  for (let at = 4; at + 8 <= content.length;) {
    const size = Math.min(view.getUint32(at + 4, true), content.length - at - 8);
    const next = at + 8 + size + (size % 2);
    const ofCue = ['labl', 'note', 'ltxt'].includes(textOf(content, at, at + 4)) && size >= 4;
    if (!ofCue || kept.has(view.getUint32(at + 8, true))) pieces.push(content.subarray(at, Math.min(next, content.length)));
    at = next;
  }
  return pieces.length === 0 ? null : joined([content.subarray(0, 4), ...pieces]);
}

const SMPL_HEAD_BYTES = 36;
const LOOP_BYTES = 24;

/** Loops of the sampler chunk count samples from the first, both ends inclusive; those not wholly inside go. */
function cutLoops(content: Uint8Array, start: number, end: number): Uint8Array {
  if (content.length < SMPL_HEAD_BYTES) return content;
  const view = new DataView(content.buffer, content.byteOffset, content.length);
  const count = Math.min(view.getUint32(28, true), Math.floor((content.length - SMPL_HEAD_BYTES) / LOOP_BYTES));
  const loops: Uint8Array[] = [];
  for (let index = 0; index < count; index++) {
    const at = SMPL_HEAD_BYTES + index * LOOP_BYTES;
    const [first, last] = [view.getUint32(at + 8, true), view.getUint32(at + 12, true)];
    if (first < start || last >= end) continue;
    const moved = content.slice(at, at + LOOP_BYTES);
    const own = new DataView(moved.buffer);
    own.setUint32(8, first - start, true);
    own.setUint32(12, last - start, true);
    loops.push(moved);
  }
  const rest = content.subarray(SMPL_HEAD_BYTES + count * LOOP_BYTES);
  return joined([withUint32(content.subarray(0, SMPL_HEAD_BYTES), 28, loops.length), ...loops, rest]);
}

function joined(pieces: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(pieces.reduce((sum, piece) => sum + piece.length, 0));
  let at = 0;
  for (const piece of pieces) {
    out.set(piece, at);
    at += piece.length;
  }
  return out;
}

const TEXT_TIMES: readonly (readonly [string, string])[] = [
  ['TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_HI', 'TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_LO'],
  ['BWF_TIME_REFERENCE_HIGH', 'BWF_TIME_REFERENCE_LOW'],
];

/** The start times in an iXML text, moved; every other byte stays, in whatever encoding it is. */
function moveTextTimes(content: Uint8Array, samples: number): Uint8Array {
  let text = Array.from(content, (byte) => String.fromCharCode(byte)).join('');
  for (const [highName, lowName] of TEXT_TIMES) {
    const [high, low] = [elementAt(text, highName), elementAt(text, lowName)];
    if (!low) continue;
    const moved = (BigInt(high?.value ?? 0) << 32n) + BigInt(low.value) + BigInt(samples);
    const news = [{ ...low, value: moved & 0xffff_ffffn }, ...(high ? [{ ...high, value: moved >> 32n }] : [])];
    // From the back, so that the places before stay where they are.
    for (const { start, end, value } of news.sort((a, b) => b.start - a.start)) text = text.slice(0, start) + String(value) + text.slice(end);
  }
  return Uint8Array.from(text, (sign) => sign.charCodeAt(0));
}

/** The whole number inside the first element of that name, and where it stands. */
function elementAt(text: string, name: string): { start: number; end: number; value: number } | null {
  const open = `<${name}>`;
  const at = text.indexOf(open);
  if (at < 0) return null;
  const start = at + open.length;
  const end = text.indexOf('<', start);
  const digits = end < 0 ? '' : text.slice(start, end).trim();
  return /^\d{1,12}$/.test(digits) ? { start, end, value: Number(digits) } : null;
}
