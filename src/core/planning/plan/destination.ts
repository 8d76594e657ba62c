/** Where new files go: room, rights and names. */
import { asks, stops, type Finding, type Hindrance } from '../../words/finding';
import type { CodeOf } from '../../words/finding-codes';
import { formatBytes } from '../../words/figures';
import type { ShelfFill } from './plan';
import type { ShelfSnapshot } from './snapshot';
import type { Step } from './step';

/** Bytes the steps will put on each shelf. */
export function shelfFills(steps: readonly Step[], shelves: readonly ShelfSnapshot[]): ShelfFill[] {
  const adds = new Map<string, number>();
  for (const step of steps) {
    if (!step.to || step.action === 'link') continue;
    adds.set(step.to.shelfId, (adds.get(step.to.shelfId) ?? 0) + step.expectedBytes);
  }
  return shelves
    .filter((shelf) => adds.has(shelf.id))
    .map((shelf) => ({
      shelfId: shelf.id,
      name: shelf.name,
      capacityBytes: shelf.capacityBytes,
      freeBytes: shelf.freeBytes,
      addsBytes: adds.get(shelf.id)!,
    }));
}

/** Problems of settings that are merely not made yet. */
const NOT_YET = ['no-destination', 'no-folder-name', 'no-crate-name', 'no-timeline'] as const satisfies readonly CodeOf<'asks'>[];
type NotYet = (typeof NOT_YET)[number];

function isNotYet(code: string): code is NotYet {
  return (NOT_YET as readonly string[]).includes(code);
}

/** Why nothing can be written as it stands. */
export type Blocking = Hindrance<NotYet | CodeOf<'stops'>>;

/** What keeps a plan from running, as a finding. */
export function blockedBy(problem: Blocking | null): Finding[] {
  if (!problem) return [];
  const { code, message, hint } = problem;
  return [isNotYet(code) ? asks(code, message, hint) : stops(code, message, hint)];
}

type OfDestination = 'no-destination' | 'destination-gone' | 'destination-unplugged' | 'destination-read-only' | 'destination-full';

/** Why nothing can be written to `shelfId`, or null. `less`: what else the sheet offers to make them take less room. */
export function destinationProblem(
  shelves: readonly ShelfSnapshot[],
  shelfId: string,
  needsBytes: number,
  less: string,
): Hindrance<OfDestination> | null {
  const shelf = shelves.find((entry) => entry.id === shelfId);
  if (!shelf && shelfId !== '') return { code: 'destination-gone', message: 'The shelf they would go to is not on the list any more.', hint: 'Choose another shelf, or put it on the list again.' }; // prettier-ignore
  if (!shelf) return { code: 'no-destination', message: 'No destination is chosen.', hint: 'Choose the shelf the new files go to.' };
  if (!shelf.attached)
    return { code: 'destination-unplugged', message: `${shelf.name} is not plugged in.`, hint: 'Plug it in or choose another shelf.' };
  if (!shelf.writable)
    return { code: 'destination-read-only', message: `${shelf.name} cannot be written to.`, hint: 'Change its permissions or choose another shelf.' };
  // Where the file system does not tell, a write that finds no room says so.
  if (shelf.freeBytes !== null && needsBytes > shelf.freeBytes) {
    return {
      code: 'destination-full',
      message: `${shelf.name} has too little room: ${formatBytes(needsBytes)} needed, ${formatBytes(shelf.freeBytes)} free.`,
      hint: `Choose another shelf${less}.`,
    };
  }
  return null;
}

/** The name in a path that hides a file from every stocktake; null when there is none. */
export function hiddenName(path: string): string | null {
  return path.split('/').find((name) => name.startsWith('.')) ?? null;
}

/** Why nothing may be put below `path`, or null: stocktakes pass over hidden folders. */
export function hiddenProblem(path: string): Hindrance<'hidden-folder'> | null {
  const name = hiddenName(path);
  if (name === null) return null;
  return {
    code: 'hidden-folder',
    message: `"${name}" begins with a dot and is hidden: stocktakes pass over it, so what goes there would count as missing.`,
    hint: 'Choose a folder whose name does not begin with a dot.',
  };
}
