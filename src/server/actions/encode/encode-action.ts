import type { EncodeStep } from '../../../core/planning/plan/step';
import { madeIds } from '../../../core/planning/proxies/rendition-changes';
import type { Action } from '../action';
import { inspectFile } from '../made/look-at';
import { fileMade } from '../made/made-by';
import { encodeFile } from './encode';

export const encodeAction: Action<EncodeStep> = {
  execute: encodeFile,
  // Encoding takes the processor, not the disk.
  occupies: () => ['encoder'],
  inspect: inspectFile,
  halfMade: ({ to }) => to!,
  made: fileMade,
  // A step that did not come to its end may have linked what it made.
  undoHalf: ({ step, ordinal, pending }, runId) =>
    pending === null ? [] : [{ type: 'renditions-away', renditionIds: madeIds(step, { runId, ordinal }) } as never],
};
