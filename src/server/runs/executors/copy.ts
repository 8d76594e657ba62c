import type { CopyStep } from '../../../core/planning/plan';
import { fileName } from '../../../core/media/item';
import { runCopy, runZip } from '../../workers/pool';
import { StepStopped } from '../explain-error';
import { checkPrecondition, makeFile, type Executor } from '../step-context';

/** A whole file, or one out of a ZIP, hashed while it is written and read back. A file's times are kept. */
export const copyFile: Executor<CopyStep> = async (step, context) => {
  const source = context.mounts.resolve(step.from!);
  await checkPrecondition(source, step.mustHold, fileName(step.from!.path));
  return makeFile(step.to!, step.expectedBytes, context, async (part) => {
    const { control } = context;
    const result = step.entry
      ? await runZip({ unpack: { source, entry: step.entry }, target: part, control })
      : await runCopy({ write: { source, segments: 'all', keepTimes: true }, target: part, control });
    if (result.stopped) throw new StepStopped();
    return { bytes: result.bytes, sha256: result.sha256, checked: step.entry ? 'CRC-32 of the bundle, read back' : 'read back, SHA-256 equal' };
  });
};
