import type { TrimStep } from '../../../core/planning/plan/step';
import { ownShelf, type Action } from '../action';
import { inspectFile } from '../made/look-at';
import { fileMade } from '../made/made-by';
import { trimFile } from './trim';

export const trimAction: Action<TrimStep> = {
  execute: trimFile,
  // It writes, and what proves the cut takes a processor.
  occupies: (step) => [ownShelf(step), 'encoder'],
  inspect: inspectFile,
  halfMade: ({ to }) => to!,
  made: fileMade,
};
