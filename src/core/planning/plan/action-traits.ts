/** What is told of steps by their action alone, where thousands are looked through. */
import type { Step } from './step';

interface ActionTraits {
  /** A file stands at its `to` when it is done. */
  readonly leavesFile: boolean;
  /** The bytes of its source stand at its `to` afterwards, all of them or a part. */
  readonly takes: 'whole' | 'part' | null;
  /** Its source goes. */
  readonly moves: boolean;
}

const NOTHING: ActionTraits = { leavesFile: false, takes: null, moves: false };

export const ACTION_TRAITS: Readonly<Record<Step['action'], ActionTraits>> = {
  copy: { leavesFile: true, takes: 'whole', moves: false },
  trim: { leavesFile: true, takes: 'part', moves: false },
  frames: { leavesFile: true, takes: 'whole', moves: false },
  move: { leavesFile: true, takes: 'whole', moves: true },
  encode: { leavesFile: true, takes: null, moves: false },
  write: { leavesFile: true, takes: null, moves: false },
  check: NOTHING,
  stock: NOTHING,
  remove: NOTHING,
  link: NOTHING,
};

/** Nothing is told of an action that is not known here. */
export function traitsOf(action: Step['action']): ActionTraits {
  return Object.hasOwn(ACTION_TRAITS, action) ? ACTION_TRAITS[action] : NOTHING;
}

/** Names of the actions of which it holds. */
export function actionsThat(holds: (traits: ActionTraits) => boolean): Step['action'][] {
  return (Object.keys(ACTION_TRAITS) as Step['action'][]).filter((action) => holds(ACTION_TRAITS[action]));
}
