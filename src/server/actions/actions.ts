/** The table of actions: everything that is done to a file or to the catalogue is found through it. */
import type { Step } from '../../core/planning/plan/step';
import type { Action, ActionTable } from './action';
import { checkAction } from './check/check-action';
import { copyAction } from './copy/copy-action';
import { encodeAction } from './encode/encode-action';
import { framesAction } from './frames/frames-action';
import { linkAction } from './link/link-action';
import { moveAction } from './move/move-action';
import { stockAction } from './stock/stock-action';
import { removeAction } from './remove/remove-action';
import { trimAction } from './trim/trim-action';
import { writeAction } from './write/write-action';
import { StepFailure } from '../errors/explain-error';

export const ACTIONS: ActionTable = {
  copy: copyAction,
  trim: trimAction,
  frames: framesAction,
  write: writeAction,
  check: checkAction,
  stock: stockAction,
  remove: removeAction,
  move: moveAction,
  encode: encodeAction,
  link: linkAction,
};

/** Journals of later versions may hold what this one cannot do: such a step fails, and no other. */
function unknownAction(name: string): Action<Step> {
  return {
    execute: () => Promise.reject(new StepFailure(`This version of Mill Shelf cannot do "${name}".`)),
    occupies: () => ['own'],
  };
}

export function isKnownAction({ action }: Pick<Step, 'action'>, table: ActionTable = ACTIONS): boolean {
  return action in table;
}

/** What does a step. */
export function actionOf(step: Pick<Step, 'action'>, table: ActionTable = ACTIONS): Action<Step> {
  return (table[step.action] as unknown as Action<Step> | undefined) ?? unknownAction(step.action);
}
