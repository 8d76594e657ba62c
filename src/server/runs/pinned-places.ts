/** The shelves of a run: each stays where it stood when the run first asked for it, and is gone when it is not there any more. */
import { statSync } from 'node:fs';
import type { Place } from '../../core/media/item';
import { PlaceError, resolveBelow, type Places } from '../stock/mounts';

interface Pin {
  readonly root: string;
  /** Device and inode of the root: another drive under the same path is another root. */
  readonly folder: string;
}

export class PinnedPlaces implements Places {
  private readonly pins = new Map<string, Pin>();

  constructor(private readonly places: Places) {}

  rootOf(shelfId: string): string | null {
    const root = this.places.rootOf(shelfId);
    if (root === null) return null;
    const folder = folderIdentity(root);
    const pin = this.pins.get(shelfId);
    if (!pin) {
      this.pins.set(shelfId, { root, folder });
      return root;
    }
    return pin.root === root && pin.folder === folder ? root : null;
  }

  keepsSilent(shelfId: string): boolean {
    return this.places.keepsSilent(shelfId);
  }

  resolve(place: Place): string {
    const root = this.rootOf(place.shelfId);
    if (root === null && this.keepsSilent(place.shelfId)) throw new PlaceError('unplugged', 'The drive does not answer.');
    if (root === null && this.pins.has(place.shelfId) && this.places.rootOf(place.shelfId) !== null)
      throw new PlaceError('unplugged', 'The shelf is not where it was when this run began, or another drive stands in its place.');
    return resolveBelow(root, place);
  }

  volumeOf(shelfId: string): string | null {
    return this.rootOf(shelfId) === null ? null : this.places.volumeOf(shelfId);
  }

  driveOf(shelfId: string): string | null {
    return this.rootOf(shelfId) === null ? null : this.places.driveOf(shelfId);
  }

  space(root: string): ReturnType<Places['space']> {
    return this.places.space(root);
  }
}

function folderIdentity(root: string): string {
  const info = statSync(root, { bigint: true, throwIfNoEntry: false });
  return info ? `${info.dev} ${info.ino}` : 'gone';
}
