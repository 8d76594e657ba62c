/** From the address in a timeline to a place on a shelf, plugged in or not. */
import { readAddress, sameName, type MediaAddress } from '../../core/interchange/otio/target-url';
import type { MediaReference } from '../../core/project/timeline';
import { joinPath, placeKey, type Item, type Place } from '../../core/media/item';
import type { Catalogue } from '../catalogue/catalogue';
import { attachedRoots, placeBelow, type Places } from '../stock/mounts';

export class AddressBook {
  private readonly shelves;
  private readonly roots;
  /** What was asked before. */
  private readonly items = new Map<string, Item | null>();
  private readonly sequences = new Map<string, readonly Item[]>();

  constructor(
    private readonly catalogue: Catalogue,
    mounts: Pick<Places, 'rootOf'>,
    private readonly folder: Place | null,
  ) {
    this.shelves = catalogue.shelves.list();
    this.roots = attachedRoots(
      mounts,
      this.shelves.map(({ id }) => id),
    );
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
    const key = placeKey(place);
    const known = this.items.get(key);
    if (known !== undefined) return known;
    const found = this.catalogue.items.atComposed(place);
    this.items.set(key, found);
    return found;
  }

  /** The item that stood at a place and is gone. */
  goneAt(place: Place): Item | null {
    return this.catalogue.items.goneAt(place);
  }

  private placeOfAddress(address: MediaAddress | null, isFolder = false): Place | null {
    if (!address) return null;
    if (!address.absolute) return this.relative(address, isFolder);
    const mounted = address.volume ? null : placeBelow(`/${address.segments.join('/')}`, this.roots);
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
    for (const item of this.sequencesOf(folder)) {
      const own = item.facts.sequence;
      if (
        own &&
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

  private sequencesOf(folder: Place): readonly Item[] {
    const key = placeKey(folder);
    const known = this.sequences.get(key) ?? this.catalogue.items.sequencesIn(folder);
    this.sequences.set(key, known);
    return known;
  }
}
