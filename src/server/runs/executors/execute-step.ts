import type { Step } from '../../../core/planning/plan/step';
import type { StepOutcome } from '../../catalogue/runs';
import type { StepContext } from '../step-context';
import { checkFile } from './check';
import { copyFile } from './copy';
import { decodeFile } from './decode';
import { encodeFile } from './encode';
import { copyFrames } from './frames';
import { changeCatalogue } from './link';
import { moveFile } from './move';
import { removeFile } from './remove';
import { trimFile } from './trim';
import { writeFile } from './write';

/** Does a step; see the executor of its action. Rejects with what the user is told of it. */
export function executeStep(step: Step, context: StepContext): Promise<StepOutcome> {
  switch (step.action) {
    case 'copy':
      return copyFile(step, context);
    case 'trim':
      return trimFile(step, context);
    case 'frames':
      return copyFrames(step, context);
    case 'write':
      return writeFile(step, context);
    case 'check':
      return step.decode ? decodeFile(step, context) : checkFile(step, context);
    case 'remove':
      return removeFile(step, context);
    case 'move':
      return moveFile(step, context);
    case 'encode':
      return encodeFile(step, context);
    case 'link':
      return changeCatalogue(step, context);
  }
}
