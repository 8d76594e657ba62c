/** From the address in a timeline to a place on a shelf, plugged in or not. */
import { readAddress, sameName, type MediaAddress } from '../../core/interchange/otio/target-url';
import type { MediaReference } from '../../core/project/timeline';
import { folderOf, joinPath, type Item, type Place } from '../../core/media/item';
import type { Catalogue } from '../catalogue/catalogue';
import type { Places } from '../stock/mounts';

export class AddressBook {
  private readonly shelves;
  private readonly items = new Map<string, Map<string, Item>>();

  constructor(
    private readonly catalogue: Catalogue,
    private readonly mounts: Places,
    private readonly folder: Place | null,
  ) {
    this.shelves = catalogue.shelves.list();
  }

  /** Where a reference points, as far as a known shelf can be told; null otherwise. */
  placeOf(reference: MediaReference): Place | null {
    if (reference.sequence) {
      const folder = this.placeOfAddress(readAddress(reference.sequence.folderUrl), true);
      return folder ? this.sequenceIn(folder, reference) : null;
    }
    return reference.url ? this.placeOfAddress(readAddress(reference.url)) : null;
  }

  itemAt(place: Place): Item | null {
    return this.itemsOf(place.shelfId).get(place.path.normalize('NFC')) ?? null;
  }

  /** Every item of the shelf that a place is on. */
  itemsBeside(place: Place): Item[] {
    return [...this.itemsOf(place.shelfId).values()];
  }

  private placeOfAddress(address: MediaAddress | null, isFolder = false): Place | null {
    if (!address) return null;
    if (!address.absolute) return this.relative(address, isFolder);
    const mounted = address.volume
      ? null
      : this.mounts.placeOf(
          `/${address.segments.join('/')}`,
          this.shelves.map((shelf) => shelf.id),
        );
    if (mounted) return mounted;
    // Not under a mount of this machine: a folder in the address that bears the name of a shelf is that shelf.
    for (let index = address.segments.length - (isFolder ? 1 : 2); index >= 0; index--) {
      const shelf = this.shelves.find((entry) => sameName(entry.name, address.segments[index]!));
      if (shelf) return { shelfId: shelf.id, path: address.segments.slice(index + 1).join('/') };
    }
    return null;
  }

  private relative(address: MediaAddress, isFolder: boolean): Place | null {
    if (!this.folder) return null;
    const names = this.folder.path === '' ? [] : this.folder.path.split('/');
    for (const segment of address.segments) {
      if (segment !== '..') names.push(segment);
      else if (names.pop() === undefined) return null;
    }
    const place = { shelfId: this.folder.shelfId, path: names.join('/') };
    // A bare name (a list's SOURCE FILE) says where the file is only if it stands there.
    return isFolder || address.segments.length > 1 || this.itemAt(place) ? place : null;
  }

  /** The sequence in a folder that holds the frames a reference names. */
  private sequenceIn(folder: Place, reference: MediaReference): Place {
    const { prefix, suffix, padding, startNumber } = reference.sequence!;
    for (const item of this.itemsOf(folder.shelfId).values()) {
      const own = item.facts.sequence;
      if (
        own &&
        folderOf(item.place.path) === folder.path &&
        sameName(own.prefix, prefix) &&
        own.suffix === suffix &&
        own.padding === padding &&
        startNumber >= own.firstNumber &&
        startNumber <= own.lastNumber
      )
        return item.place;
    }
    const last = startNumber + (reference.availableDuration?.value ?? 1) - 1;
    const pad = (number: number) => String(number).padStart(padding, '0');
    return { shelfId: folder.shelfId, path: joinPath(folder.path, `${prefix}[${pad(startNumber)}-${pad(last)}]${suffix}`) };
  }

  /** Items of a shelf by their path in composed form. */
  private itemsOf(shelfId: string): Map<string, Item> {
    const known = this.items.get(shelfId);
    if (known) return known;
    const made = new Map(this.catalogue.items.onShelf(shelfId).map((item) => [item.place.path.normalize('NFC'), item]));
    this.items.set(shelfId, made);
    return made;
  }
}
