/** Reading the chunk list of a WAV file. */
import { open } from 'node:fs/promises';
import { TELLING_CHUNKS, type RiffChunk, type WavHeader } from '../../core/media/riff';

const LARGEST_TEXT_BYTES = 1_000_000;

/** Null when the file is no RIFF, RF64 or BW64, or has no usable format chunk. At most 4096 chunks are read. */
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
    if ((form !== 'RIFF' && form !== 'RF64' && form !== 'BW64') || head.toString('latin1', 8, 12) !== 'WAVE') return null;
    const chunks: RiffChunk[] = [];
    let wideDataSize: number | null = null;
    let blockAlign = 0;
    const contents = new Map<number, Uint8Array>();
    for (let offset = 12; offset + 8 <= size && chunks.length < 4096;) {
      const header = await read(offset, 8);
      const id = header.toString('latin1', 0, 4);
      let length = header.readUInt32LE(4);
      // In RF64 the true size of the data stands in ds64 (EBU Tech 3306).
      if (id === 'data' && length === 0xffff_ffff && wideDataSize !== null) length = wideDataSize;
      const chunk = { id, offset: offset + 8, size: Math.min(length, size - offset - 8) };
      if (id === 'ds64' && chunk.size >= 16) wideDataSize = Number((await read(chunk.offset, 16)).readBigUInt64LE(8));
      if (id === 'fmt ' && chunk.size >= 14) blockAlign = (await read(chunk.offset, 14)).readUInt16LE(12);
      if (TELLING_CHUNKS.includes(id) && chunk.size <= LARGEST_TEXT_BYTES)
        contents.set(chunk.offset, new Uint8Array(await read(chunk.offset, chunk.size)));
      chunks.push(chunk);
      offset += 8 + length + (length % 2);
    }
    return blockAlign > 0 ? { form, chunks, blockAlign, contents } : null;
  } finally {
    await file.close();
  }
}

/** Text of a chunk (iXML and the like); empty when there is none. */
export async function readWavText(path: string, chunkId: string): Promise<string> {
  const header = await readWavHeader(path);
  const chunk = header?.chunks.find((entry) => entry.id === chunkId);
  return Buffer.from((chunk && header?.contents.get(chunk.offset)) ?? []).toString('utf8');
}
