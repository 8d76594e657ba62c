/** Numbered frames of which some are missing, as one that has them all: the one before stands in the place of each. */
import { mkdtemp, rm, symlink } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { frameName, missingFrames } from '../../core/media/image-sequence';
import type { EncodeSource } from './encode-arguments';

/** `close` takes away what stands for them. */
export interface HeldFrames {
  readonly source: EncodeSource;
  readonly close: () => Promise<void>;
}

/** Links stand for the frames: a reader of numbered pictures ends where a number is missing. */
export async function withHeldFrames(source: EncodeSource): Promise<HeldFrames> {
  const { sequence } = source.facts;
  if (!sequence || missingFrames(sequence) === 0) return { source, close: () => Promise.resolve() };
  const folder = await mkdtemp(join(tmpdir(), 'mill-frames-'));
  const close = () => rm(folder, { recursive: true, force: true });
  try {
    let [held, gap] = [sequence.firstNumber, 0];
    for (let number = sequence.firstNumber; number <= sequence.lastNumber; number++) {
      while (gap < sequence.missingRuns.length && sequence.missingRuns[gap]![1] < number) gap++;
      const run = sequence.missingRuns[gap];
      if (!run || number < run[0]) held = number;
      await symlink(resolve(source.path, frameName(sequence, held)), join(folder, frameName(sequence, number)));
    }
  } catch (error) {
    await close();
    throw error;
  }
  const facts = { ...source.facts, sequence: { ...sequence, missingRuns: [] } };
  return { source: { path: folder, facts }, close };
}
