/**
 * Cutting WAV on the sample while every chunk is kept. Sources: the RIFF/WAVE layout; EBU Tech 3285 (bext:
 * TimeReference is 8 bytes little-endian at offset 338 and counts samples since midnight); EBU Tech 3306 (RF64).
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
  readonly chunks: readonly RiffChunk[];
  /** Bytes of one sample of all channels (nBlockAlign of `fmt `). */
  readonly blockAlign: number;
  readonly bext: Uint8Array | null;
}

export const BEXT_TIME_REFERENCE_OFFSET = 338;
const LARGEST_RIFF = 0xffff_ffff;

/**
 * Segments that make the new file when written one after the other: samples [start, end) of `header`'s data, all
 * other chunks as they were, in their order, and the time reference moved by `start`. Null when the result would
 * not fit a RIFF file or there is no data chunk.
 */
export function cutWav(header: WavHeader, start: number, end: number): Segment[] | null {
  const body: Segment[] = [];
  let bodyBytes = 4;
  for (const chunk of header.chunks) {
    if (chunk.id === 'ds64' || chunk.id === 'JUNK') continue;
    const isData = chunk.id === 'data';
    const length = isData ? (end - start) * header.blockAlign : chunk.size;
    const offset = isData ? chunk.offset + start * header.blockAlign : chunk.offset;
    if (isData && offset + length > chunk.offset + chunk.size) return null;
    body.push({ type: 'bytes', bytes: chunkHeader(chunk.id, length) });
    if (chunk.id === 'bext' && header.bext) body.push({ type: 'bytes', bytes: moveTimeReference(header.bext, start) });
    else body.push({ type: 'range', offset, length });
    if (length % 2 === 1) body.push({ type: 'bytes', bytes: new Uint8Array(1) });
    bodyBytes += 8 + length + (length % 2);
  }
  if (bodyBytes > LARGEST_RIFF || !header.chunks.some((chunk) => chunk.id === 'data')) return null;
  const head = new Uint8Array(12);
  head.set(chunkHeader('RIFF', bodyBytes));
  head.set(new TextEncoder().encode('WAVE'), 8);
  return [{ type: 'bytes', bytes: head }, ...body];
}

function chunkHeader(id: string, size: number): Uint8Array {
  const bytes = new Uint8Array(8);
  bytes.set(new TextEncoder().encode(id.padEnd(4).slice(0, 4)));
  new DataView(bytes.buffer).setUint32(4, size, true);
  return bytes;
}

function moveTimeReference(bext: Uint8Array, samples: number): Uint8Array {
  const out = bext.slice();
  if (out.length < BEXT_TIME_REFERENCE_OFFSET + 8) return out;
  const view = new DataView(out.buffer, out.byteOffset);
  view.setBigUint64(BEXT_TIME_REFERENCE_OFFSET, view.getBigUint64(BEXT_TIME_REFERENCE_OFFSET, true) + BigInt(samples), true);
  return out;
}
