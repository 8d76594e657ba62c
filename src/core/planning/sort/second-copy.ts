/** A second copy of everything that is copied, on another shelf, made in the same read. */
import { isWithin } from '../../naming/within';
import { fileName, joinPath, type Place } from '../../media/item';
import { stops, warns, type Finding } from '../../words/finding';
import type { CopyStep, FramesStep } from '../plan/step';
import type { SortSettings } from './settings';
import type { SortInput } from './sort-input';

/** Where the second copy of a path at the destination goes; null where none is wanted. */
export function secondPlace(path: string, { destination, second, action }: SortSettings): Place | null {
  if (!destination || !second || action !== 'copy') return null;
  const below = destination.path === '' ? path : path.slice(destination.path.length + 1);
  return { shelfId: second.shelfId, path: joinPath(second.path, below) };
}

/** Every copy with its twin behind it. */
export function withTwins(steps: readonly (CopyStep | FramesStep)[], settings: SortSettings): (CopyStep | FramesStep)[] {
  return steps.flatMap((step) => {
    const twin = secondPlace(step.to!.path, settings);
    return twin
      ? [
          { ...step, twin },
          { ...step, to: twin, reason: `second copy, ${step.reason}` },
        ]
      : [step];
  });
}

/** What speaks against the second destination besides what speaks against any. `root`: the project's own folder. */
export function secondFindings(input: SortInput, settings: SortSettings, root: string): Finding[] {
  const { destination, second } = settings;
  if (!destination || !second) return [];
  const [own, other] = [joinPath(destination.path, root), joinPath(second.path, root)];
  const meets = second.shelfId === destination.shelfId && (isWithin(own, other) || isWithin(other, own));
  if (meets) return [stops('second-meets-first', 'The second copy would go into the first.', 'Choose another shelf for it.')];
  const disk = input.volumes.get(second.shelfId);
  const isOneDisk = second.shelfId === destination.shelfId || (disk !== undefined && disk === input.volumes.get(destination.shelfId));
  return isOneDisk
    ? [warns('second-same-disk', `Both copies go to one disk: ${nameOf(input, second)} would be lost together with the first.`, 'Choose a shelf on another disk.')] // prettier-ignore
    : [];
}

function nameOf({ shelves }: SortInput, { shelfId, path }: Place): string {
  const shelf = shelves.find(({ id }) => id === shelfId)?.name ?? 'the second';
  return path === '' ? shelf : `${fileName(path)} on ${shelf}`;
}
