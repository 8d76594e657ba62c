import type { CopyStep } from '../../../core/planning/plan';
import { fileName } from '../../../core/media/item';
import { runCopy } from '../../workers/pool';
import { StepStopped } from '../explain-error';
import { checkPrecondition, makeFile, type Executor } from '../step-context';

/** A whole file, hashed while it is written and read back. Times are kept. */
export const copyFile: Executor<CopyStep> = async (step, context) => {
  const source = context.mounts.resolve(step.from!);
  await checkPrecondition(source, step.mustHold, fileName(step.from!.path));
  return makeFile(step.to!, step.expectedBytes, context, async (part) => {
    const result = await runCopy({ write: { source, segments: 'all', keepTimes: true }, target: part, control: context.control });
    if (result.stopped) throw new StepStopped();
    return { bytes: result.bytes, sha256: result.sha256, checked: 'read back, SHA-256 equal' };
  });
};
