import { createHash } from 'node:crypto';
import { open } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { carriesInformation, fingerprintSamples, formatPrint, FRAME_SAMPLES, sampledFrames, type Telling } from '../../core/media/fingerprint';
import { unpackIdentity } from '../../core/media/identity';
import { frameName, presentNumbers } from '../../core/media/image-sequence';
import type { SequenceFacts } from '../../core/media/item';

/** The sampled fingerprint of a file (see core/media/fingerprint.ts). Throws what the file system says. */
export async function fingerprintFile(path: string, sizeBytes: number): Promise<string> {
  const { hash, telling } = await samplesOf(path, sizeBytes);
  return formatPrint('2', hash, telling);
}

async function samplesOf(path: string, sizeBytes: number, count?: number): Promise<{ hash: string; telling: Telling }> {
  const hash = createHash('sha256').update(String(sizeBytes));
  const samples = fingerprintSamples(sizeBytes, count);
  let informative = 0;
  const file = await open(path, 'r');
  try {
    for (const { offset, length } of samples) {
      const buffer = Buffer.alloc(length);
      let done = 0;
      while (done < length) {
        const { bytesRead } = await file.read(buffer, done, length - done, offset + done);
        if (bytesRead === 0) break;
        done += bytesRead;
      }
      const sample = buffer.subarray(0, done);
      hash.update(sample);
      if (samples.length > 1 && carriesInformation(sample)) informative++;
    }
  } finally {
    await file.close();
  }
  return { hash: hash.digest('hex'), telling: samples.length <= 1 ? 'all' : { informative, samples: samples.length } };
}

/**
 * The fingerprint of a sequence: its numbers, the size of every frame, and samples of all of them (of a very long one,
 * of some, and it says so). A frame tells something when one of its samples does. `firstFile`: path of its first frame;
 * `frames`: packed identity of each frame.
 */
export async function fingerprintSequence(firstFile: string, facts: SequenceFacts, frames: readonly string[]): Promise<string> {
  const numbers = presentNumbers(facts);
  const sizes = frames.map((frame) => unpackIdentity(frame).sizeBytes);
  const hash = createHash('sha256').update(JSON.stringify([facts.firstNumber, facts.lastNumber, facts.missingRuns, sizes]));
  const sampled = sampledFrames(numbers.length);
  let informative = 0;
  let isWhole = true;
  for (const index of sampled) {
    const frame = await samplesOf(join(dirname(firstFile), frameName(facts, numbers[index]!)), sizes[index] ?? 0, FRAME_SAMPLES);
    hash.update(frame.hash);
    if (frame.telling === 'all') continue;
    isWhole = false;
    if (frame.telling.informative > 0) informative++;
  }
  const isAll = sampled.length === numbers.length;
  const telling = isAll && isWhole ? 'all' : { informative, samples: sampled.length };
  return formatPrint(isAll ? 'frames2' : 'some-frames2', hash.digest('hex'), telling);
}
