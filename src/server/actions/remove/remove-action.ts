import type { RemoveStep } from '../../../core/planning/plan/step';
import { ownShelf, type Action } from '../action';
import { removeFile } from './remove';

export const removeAction: Action<RemoveStep> = { execute: removeFile, occupies: (step) => [ownShelf(step)] };
