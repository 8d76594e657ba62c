import type { CheckStep } from '../../../core/planning/plan/step';
import { ownShelf, type Action } from '../action';
import { inspectRead } from '../made/look-at';
import { checkFile } from './check';
import { decodeFile } from './decode';

export const checkAction: Action<CheckStep> = {
  execute: (step, context) => (step.decode ? decodeFile(step, context) : checkFile(step, context)),
  occupies: (step) => (step.decode ? [ownShelf(step), 'encoder'] : [ownShelf(step)]),
  // A sequence bears the name of no file; what was decoded was unchanged until its last frame.
  inspect: (step, outcome, places) => (step.decode ? Promise.resolve({ is: 'whole', outcome: null }) : inspectRead(step.from!, outcome, places)),
};
