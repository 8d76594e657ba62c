import { createHash } from 'node:crypto';
import { open } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { ALL_FRAMES, FRAME_SAMPLE_BYTES, fingerprintSamples, sampledFrames, SAMPLE_BYTES, SOME_FRAMES } from '../../core/media/fingerprint';
import { unpackIdentity } from '../../core/media/identity';
import { frameName, presentNumbers } from '../../core/media/image-sequence';
import type { SequenceFacts } from '../../core/media/item';

/** The sampled fingerprint of a file, as lowercase hex. Reads at most three samples. Throws what the file system says. */
export async function fingerprintFile(path: string, sizeBytes: number, sampleBytes = SAMPLE_BYTES): Promise<string> {
  const hash = createHash('sha256').update(String(sizeBytes));
  const file = await open(path, 'r');
  try {
    for (const { offset, length } of fingerprintSamples(sizeBytes, sampleBytes)) {
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

/**
 * The fingerprint of a sequence: its numbers, the size of every frame, and samples of all of them (of a very long one,
 * of some, and it says so). `firstFile`: path of its first frame; `frames`: packed identity of each frame.
 */
export async function fingerprintSequence(firstFile: string, facts: SequenceFacts, frames: readonly string[]): Promise<string> {
  const numbers = presentNumbers(facts);
  const sizes = frames.map((frame) => unpackIdentity(frame).sizeBytes);
  const hash = createHash('sha256').update(JSON.stringify([facts.firstNumber, facts.lastNumber, facts.missingRuns, sizes]));
  const sampled = sampledFrames(numbers.length);
  for (const index of sampled)
    hash.update(await fingerprintFile(join(dirname(firstFile), frameName(facts, numbers[index]!)), sizes[index] ?? 0, FRAME_SAMPLE_BYTES));
  return `${sampled.length === numbers.length ? ALL_FRAMES : SOME_FRAMES}${hash.digest('hex')}`;
}
