import type { CopyStep } from '../../../core/planning/plan/step';
import { ownShelf, type Action } from '../action';
import { inspectFile } from '../made/look-at';
import { fileMade } from '../made/made-by';
import { copyFile } from './copy';

export const copyAction: Action<CopyStep> = {
  execute: copyFile,
  occupies: (step) => [ownShelf(step)],
  inspect: inspectFile,
  halfMade: ({ to }) => to!,
  twin: ({ twin }) => twin ?? null,
  made: fileMade,
};
