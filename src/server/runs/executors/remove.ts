import { unlink } from 'node:fs/promises';
import type { RemoveStep } from '../../../core/planning/plan/step';
import { isSameObject, isUntouched } from '../../../core/media/identity';
import { standingAt } from '../../stock/identify';
import { runCopy } from '../../workers/pool';
import type { StepOutcome } from '../../catalogue/runs';
import { StepStopped } from '../explain-error';
import { flushFolder } from '../folders';
import type { Executor } from '../step-context';
import { dirname } from 'node:path';

function left(why: string): StepOutcome {
  return { bytes: 0, left: true, checked: `left where it is: ${why}` };
}

/** Removes a file only while it is the very file an earlier run made, byte for byte. The stock knows at once. */
export const removeFile: Executor<RemoveStep> = async (step, context) => {
  const path = context.places.resolve(step.from!);
  const gone = () => context.change(() => context.catalogue.items.markRemoved(step.from!, new Date().toISOString()));
  const standing = standingAt(path);
  if (!standing) {
    await gone();
    return { bytes: 0, checked: 'was gone already' };
  }
  if (step.made && !isSameObject(step.made, standing)) return left('another file was put in its place since');
  if (step.sha256 === null && !(step.made && isUntouched(standing, step.made))) return left('it was changed since the plan was made');
  const now = await runCopy({ write: null, target: path, control: context.control });
  if (now.stopped) throw new StepStopped();
  const still = standingAt(path);
  if ((step.sha256 !== null && now.sha256 !== step.sha256) || !still || !isSameObject(standing, still) || still.modifiedNs !== standing.modifiedNs)
    return left(step.mustHold ? 'it was changed since the plan was made' : 'it was changed since the run made it');
  context.places.resolve(step.from!);
  await unlink(path);
  await gone();
  await flushFolder(dirname(path));
  return {
    bytes: now.bytes,
    sha256: now.sha256,
    checked: step.sha256 === null ? 'untouched since the stocktake, then removed' : 'compared before it was removed',
  };
};
