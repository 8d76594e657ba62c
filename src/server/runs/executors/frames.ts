import { existsSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import type { FramesStep } from '../../../core/planning/plan';
import { joinPath } from '../../../core/media/item';
import { runCopy } from '../../workers/pool';
import { StepStopped } from '../explain-error';
import { preparePart, publish } from '../safe-write';
import type { Executor, StepContext } from '../step-context';

/** Numbered frames, each copied and read back. Frames that an interrupted try left are compared, not copied again. */
export const copyFrames: Executor<FramesStep> = async (step, context) => {
  const files: { name: string; bytes: number; sha256: string }[] = [];
  for (const name of step.names) {
    if (context.signal.aborted) throw new StepStopped();
    files.push({ name, ...(await copyFrame(step, name, context)) });
  }
  return { bytes: files.reduce((sum, file) => sum + file.bytes, 0), files, checked: `${files.length} frames read back, SHA-256 equal` };
};

async function copyFrame(step: FramesStep, name: string, context: StepContext): Promise<{ bytes: number; sha256: string }> {
  const source = context.mounts.resolve({ shelfId: step.from!.shelfId, path: joinPath(step.from!.path, name) });
  const target = context.mounts.resolve({ shelfId: step.to!.shelfId, path: joinPath(step.to!.path, name) });
  if (existsSync(target)) {
    const [a, b] = [
      await runCopy({ write: null, target: source, control: context.control }),
      await runCopy({ write: null, target, control: context.control }),
    ];
    if (a.sha256 !== b.sha256) throw Object.assign(new Error(target), { code: 'EEXIST' });
    return b;
  }
  const part = await preparePart(target, context.runId, context.ordinal);
  try {
    const result = await runCopy({ write: { source, segments: 'all', keepTimes: true }, target: part, control: context.control });
    if (result.stopped) throw new StepStopped();
    await publish(part, target);
    return result;
  } finally {
    await rm(part, { force: true }).catch(() => undefined);
  }
}
