/** The clips of a project as lists tell of them, and the shelves they stand on. */
import { placeKey, type Place } from '../../core/media/item';
import { shelfNameIn, type Snapshot } from '../../core/planning/plan/snapshot';
import type { Stock } from '../../core/project/clip';
import type { ReadOrder } from '../../core/rendition/read-order';
import type { ReadingWish } from '../../core/project/reading';
import type { ClipLine, LineLink } from '../catalogue/clip-lines';
import { attachedIn, readLines } from './reading';

type Known = Pick<Snapshot, 'shelves' | 'retiredShelves'> & { readonly readOrder: ReadOrder };

export class ProjectLines implements Stock {
  private readonly attached: ReadonlySet<string>;
  private readonly items = new Map<string, NonNullable<LineLink['item']>>();

  constructor(
    readonly clips: readonly ClipLine[],
    private readonly known: Known,
  ) {
    this.attached = new Set(known.shelves.filter((shelf) => shelf.attached).map((shelf) => shelf.id));
    for (const clip of clips)
      for (const { links } of [...clip.renditions, ...clip.parts, ...clip.partCopies])
        for (const { place, item } of links) if (place && item) this.items.set(placeKey(place), item);
  }

  get readOrder(): ReadOrder {
    return this.known.readOrder;
  }

  isAttached(shelfId: string): boolean {
    return this.attached.has(shelfId);
  }

  itemAt(place: Place): NonNullable<LineLink['item']> | null {
    return this.items.get(placeKey(place)) ?? null;
  }

  /** Equal for shelves on one disk; an unplugged shelf counts as a disk of its own. */
  diskOf(shelfId: string): string {
    return this.known.shelves.find(({ id }) => id === shelfId)?.disk ?? shelfId;
  }

  shelfName(shelfId: string): string {
    return shelfNameIn(this.known, shelfId);
  }
}

const made = new WeakMap<readonly ClipLine[], { key: string; lines: ProjectLines }>();

/** The same object as long as clips and shelves are unchanged, so that what was derived from it stays valid. */
export function linesOf(clips: readonly ClipLine[], known: Known, wish: ReadingWish): ProjectLines {
  const key = JSON.stringify([
    wish,
    known.shelves.map(({ id, name, attached, disk }) => [id, name, attached, disk]),
    [...(known.retiredShelves ?? [])],
    known.readOrder,
  ]);
  const last = made.get(clips);
  if (last?.key === key) return last.lines;
  const lines = new ProjectLines(readLines(clips, wish, attachedIn(known.shelves)), known);
  made.set(clips, { key, lines });
  return lines;
}
