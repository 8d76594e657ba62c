import { isUntouched } from '../../../core/media/identity';
import { frameName, presentNumbers } from '../../../core/media/image-sequence';
import { fileName, folderOf, joinPath } from '../../../core/media/item';
import type { CheckStep } from '../../../core/planning/plan/step';
import { plural } from '../../../core/words/figures';
import { StepFailure } from '../../errors/explain-error';
import { framesSum } from '../../stock/checksums';
import { identityOfFrames, identify } from '../../stock/identify';
import { StepStopped } from '../../errors/explain-error';
import { hashOf } from '../made/hash-of';
import type { Executor } from '../step-context';

/** Every frame of a sequence is read to its end; what all of them hold is entered where the stock lists it. */
export const readFrames: Executor<CheckStep> = async (step, context) => {
  const { shelfId, path } = step.from!;
  const sequence = step.frames!;
  const known = context.catalogue.items.at(step.from!);
  const paths = presentNumbers(sequence).map((number) => context.places.resolve({ shelfId, path: joinPath(folderOf(path), frameName(sequence, number)) })); // prettier-ignore
  const asTheyStand = async () => identityOfFrames(await Promise.all(paths.map(identify)));
  const mustBeKnown = async () => {
    if (!known?.identity || !isUntouched(known.identity, await asTheyStand()))
      throw new StepFailure(`${fileName(path)} is not as the last stocktake saw it. Look for changes on its shelf, then make a new plan.`);
  };
  await mustBeKnown();
  const sums: string[] = [];
  for (const frame of paths) {
    if (context.signal.aborted) throw new StepStopped();
    sums.push(await hashOf(frame, context));
  }
  await mustBeKnown();
  await context.change(() => context.catalogue.items.recordFrames(step.from!, framesSum(sequence, sums)));
  return { bytes: step.expectedBytes, checked: `${plural(sums.length, 'frame')} read whole, SHA-256 of all entered` };
};
