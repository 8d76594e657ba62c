/** What the kind of a shelf forbids plans, and what it makes them warn of. */
import { KIND_TRAITS, type ShelfKind } from '../../media/shelf-kind';
import { placeKey, type Place } from '../../media/item';
import { plural } from '../../words/figures';
import { warns, type Finding } from '../../words/finding';
import { traitsOf } from './action-traits';
import type { Blocking } from './destination';
import { movedItem, type Step } from './step';

export interface KindOfShelf {
  readonly id: string;
  readonly name: string;
  readonly kind: ShelfKind;
}

/** Why a plan cannot run on shelves of these kinds; null where it can. */
export function guardedShelf(steps: readonly Step[], shelves: ReadonlyMap<string, KindOfShelf>): Blocking | null {
  for (const step of steps) {
    const [from, to] = [step.from && shelves.get(step.from.shelfId), step.to && shelves.get(step.to.shelfId)];
    const { moves, leavesFile } = traitsOf(step.action);
    if (from && (moves || step.action === 'remove') && !KIND_TRAITS[from.kind].letsGo) return refused(from, 'moved, renamed or removed');
    if (to && leavesFile && !KIND_TRAITS[to.kind].takesFiles) return refused(to, 'written');
  }
  return null;
}

function refused({ name, kind }: KindOfShelf, done: string): Blocking {
  const hint = done === 'written' ? 'Choose another shelf.' : 'Copy in place of moving, or change the kind of the shelf under Shelves first.';
  return { code: 'shelf-kind', message: `${name} is ${KIND_TRAITS[kind].called}: no file on it is ${done}.`, hint };
}

/** Files that would be on a travel drive alone. `hasCopy`: whether another copy of it is on a shelf of another kind. */
export function onlyOnTravel(steps: readonly Step[], shelves: ReadonlyMap<string, KindOfShelf>, hasCopy: (place: Place) => boolean): Finding[] {
  const isTravel = (place: Place | null) => place !== null && shelves.get(place.shelfId)?.kind === 'travel';
  const alone = new Map(
    steps.flatMap((step) => (step.action === 'move' && isTravel(step.to) && !isTravel(step.from) ? [movedItem(step, 'from')] : [])).map((place) => [placeKey(place), place]), // prettier-ignore
  );
  const left = [...alone.values()].filter((place) => !hasCopy(place)).length;
  const travel = steps.find((step) => step.action === 'move' && isTravel(step.to))?.to;
  if (left === 0 || !travel) return [];
  return [
    warns(
      'only-on-travel',
      `${plural(left, 'file')} would be on ${shelves.get(travel.shelfId)!.name} alone, and that is a travel drive.`,
      'Copy in place of moving, or make a second copy on another drive.',
    ),
  ];
}
