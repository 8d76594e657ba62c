import { existsSync } from 'node:fs';
import { rmdir, unlink } from 'node:fs/promises';
import { dirname } from 'node:path';
import type { RemoveStep } from '../../../core/planning/plan';
import { fileName } from '../../../core/media/item';
import { runCopy } from '../../workers/pool';
import { StepFailure, StepStopped } from '../explain-error';
import type { Executor } from '../step-context';

/** Removes a file only while it is, byte for byte, what an earlier run made; folders left empty go with it. */
export const removeFile: Executor<RemoveStep> = async (step, context) => {
  const path = context.mounts.resolve(step.from!);
  if (!existsSync(path)) return { bytes: 0, checked: 'was gone already' };
  const now = await runCopy({ write: null, target: path, control: context.control });
  if (now.stopped) throw new StepStopped();
  if (now.sha256 !== step.sha256) throw new StepFailure(`${fileName(step.from!.path)} was changed since the run made it; it is left where it is.`);
  await unlink(path);
  const root = context.mounts.rootOf(step.from!.shelfId);
  for (let folder = dirname(path); root !== null && folder !== root && folder.startsWith(root); folder = dirname(folder)) {
    if (
      !(await rmdir(folder).then(
        () => true,
        () => false,
      ))
    )
      break;
  }
  return { bytes: now.bytes, sha256: now.sha256, checked: 'compared before it was removed' };
};
