import type { CheckStep } from '../../../core/planning/plan/step';
import type { StepOutcome } from '../../catalogue/step-outcome';
import type { StepContext } from '../step-context';
import { ownShelf, type Action } from '../action';
import { inspectRead } from '../made/look-at';
import { checkFile } from './check';
import { decodeFile } from './decode';
import { readFrames } from './read-frames';
import { tellCopies } from './tell-copies';

export const checkAction: Action<CheckStep> = {
  execute: executorOf,
  occupies: (step) => (step.decode ? [ownShelf(step), 'encoder'] : [ownShelf(step)]),
  // Where copies stand was told of that moment. A sequence bears the name of no file; what was decoded was unchanged until its last frame.
  inspect: (step, outcome, places) =>
    step.decode || step.copies || step.frames ? Promise.resolve({ is: 'whole', outcome: null }) : inspectRead(step.from!, outcome, places),
};

function executorOf(step: CheckStep, context: StepContext): Promise<StepOutcome> {
  if (step.decode) return decodeFile(step, context);
  if (step.copies) return tellCopies(step, context);
  return step.frames ? readFrames(step, context) : checkFile(step, context);
}
