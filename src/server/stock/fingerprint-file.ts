import { createHash } from 'node:crypto';
import { open } from 'node:fs/promises';
import { fingerprintSamples } from '../../core/media/fingerprint';

/** The sampled fingerprint of a file, as lowercase hex. Reads at most three samples. Throws what the file system says. */
export async function fingerprintFile(path: string, sizeBytes: number): Promise<string> {
  const hash = createHash('sha256').update(String(sizeBytes));
  const file = await open(path, 'r');
  try {
    for (const { offset, length } of fingerprintSamples(sizeBytes)) {
      const buffer = Buffer.alloc(length);
      let done = 0;
      while (done < length) {
        const { bytesRead } = await file.read(buffer, done, length - done, offset + done);
        if (bytesRead === 0) break;
        done += bytesRead;
      }
      hash.update(buffer.subarray(0, done));
    }
  } finally {
    await file.close();
  }
  return hash.digest('hex');
}
