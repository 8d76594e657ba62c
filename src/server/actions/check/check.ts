import type { CheckStep } from '../../../core/planning/plan/step';
import { fileName } from '../../../core/media/item';
import { identify } from '../../stock/identify';
import { runCopy } from '../../files/copy-files';
import { StepFailure, StepStopped } from '../../errors/explain-error';
import { checkUnchanged } from '../made/precondition';
import type { Executor } from '../step-context';
import { enterChecksum, rotWords } from '../../stock/checksums';

/** Reads a file to its end and compares its checksum, or enters it. */
export const checkFile: Executor<CheckStep> = async (step, context) => {
  const path = context.places.resolve(step.from!);
  const identity = await identify(path);
  const result = await runCopy({ write: null, target: path, control: context.control });
  if (result.stopped) throw new StepStopped();
  await checkUnchanged(path, identity, fileName(step.from!.path));
  const was = await enterChecksum(step.from!, identity, result.sha256, context);
  if (step.sha256 === null) {
    if (was) throw new StepFailure(rotWords(fileName(step.from!.path), was.at));
    return { bytes: result.bytes, sha256: result.sha256, identity, checked: 'read whole, SHA-256 entered' };
  }
  if (result.sha256 !== step.sha256)
    throw new StepFailure(
      `${fileName(step.from!.path)} is not what the manifest says: it was altered or damaged. Copy the crate again from where it came.`,
    );
  return { bytes: result.bytes, sha256: result.sha256, identity, checked: 'SHA-256 equals the manifest' };
};
