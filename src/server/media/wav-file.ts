/** Reading the chunk list of a WAV file. */
import { open } from 'node:fs/promises';
import type { RiffChunk, WavHeader } from '../../core/media/riff';

/** Null when the file is no RIFF, RF64 or has no usable format chunk. At most 4096 chunks are read. */
export async function readWavHeader(path: string): Promise<WavHeader | null> {
  const file = await open(path, 'r');
  try {
    const { size } = await file.stat();
    const read = async (offset: number, length: number) => {
      const buffer = Buffer.alloc(length);
      const { bytesRead } = await file.read(buffer, 0, length, offset);
      return buffer.subarray(0, bytesRead);
    };
    const head = await read(0, 12);
    const form = head.toString('latin1', 0, 4);
    if ((form !== 'RIFF' && form !== 'RF64') || head.toString('latin1', 8, 12) !== 'WAVE') return null;
    const chunks: RiffChunk[] = [];
    let wideDataSize: number | null = null;
    let blockAlign = 0;
    let bext: Uint8Array | null = null;
    for (let offset = 12; offset + 8 <= size && chunks.length < 4096;) {
      const header = await read(offset, 8);
      const id = header.toString('latin1', 0, 4);
      let length = header.readUInt32LE(4);
      // In RF64 the true size of the data stands in ds64 (EBU Tech 3306).
      if (id === 'data' && length === 0xffff_ffff && wideDataSize !== null) length = wideDataSize;
      const chunk = { id, offset: offset + 8, size: Math.min(length, size - offset - 8) };
      if (id === 'ds64' && chunk.size >= 16) wideDataSize = Number((await read(chunk.offset, 16)).readBigUInt64LE(8));
      if (id === 'fmt ' && chunk.size >= 14) blockAlign = (await read(chunk.offset, 14)).readUInt16LE(12);
      if (id === 'bext' && chunk.size <= 1_000_000) bext = new Uint8Array(await read(chunk.offset, chunk.size));
      chunks.push(chunk);
      offset += 8 + length + (length % 2);
    }
    return blockAlign > 0 ? { chunks, blockAlign, bext } : null;
  } finally {
    await file.close();
  }
}

const LARGEST_TEXT_BYTES = 1_000_000;

/** Text of a chunk (iXML and the like); empty when there is none. */
export async function readWavText(path: string, chunkId: string): Promise<string> {
  const chunk = (await readWavHeader(path))?.chunks.find((entry) => entry.id === chunkId);
  if (!chunk || chunk.size > LARGEST_TEXT_BYTES) return '';
  const file = await open(path, 'r');
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(chunk.size), 0, chunk.size, chunk.offset);
    return buffer.toString('utf8', 0, bytesRead);
  } finally {
    await file.close();
  }
}
