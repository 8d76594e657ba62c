/** Of a file on a shelf: on which other drives copies of it stand just now, and which of them are verified. */
import { isUntouched, type FileIdentity } from '../../core/media/identity';
import { frameName, presentNumbers } from '../../core/media/image-sequence';
import { folderOf, joinPath, type Item } from '../../core/media/item';
import { KIND_TRAITS, type ShelfKind } from '../../core/media/shelf-kind';
import type { SurveyedCopy, SurveyedFile } from '../../core/planning/check-copies/check-copies';
import { join } from 'node:path';
import type { Catalogue } from '../catalogue/catalogue';
import { identityOfFrames, standingNow } from './identify';
import type { Places } from './mounts';

/** Where it is asked from, with what is asked of each drive once. */
export class CopySurvey {
  private readonly drives = new Map<string, string | null>();

  private readonly roots = new Map<string, string | null>();
  private readonly kinds: ReadonlyMap<string, ShelfKind>;
  private readonly elsewhere: (item: Item) => Item[];
  readonly nameOf: (shelfId: string) => string;

  constructor(
    catalogue: Pick<Catalogue, 'items' | 'shelves'>,
    private readonly places: Places,
  ) {
    this.kinds = new Map(catalogue.shelves.list().map(({ id, kind }) => [id, kind]));
    this.elsewhere = catalogue.items.askElsewhere();
    this.nameOf = catalogue.shelves.namer();
  }

  driveOf(shelfId: string): string | null {
    const known = this.drives.get(shelfId);
    if (known !== undefined) return known;
    const drive = this.places.driveOf(shelfId);
    this.drives.set(shelfId, drive);
    return drive;
  }

  /** `now`: the file as it stands; null where the stock lists none like it. */
  async fileOf(path: string, sizeBytes: number, item: Item | null, now: FileIdentity | null): Promise<SurveyedFile> {
    const isKnown = item?.identity != null && now !== null && isUntouched(item.identity, now);
    return {
      path,
      bytes: sizeBytes,
      isMedia: item === null || item.facts.kind !== 'other',
      sequence: item?.facts.sequence ?? null,
      state: !isKnown ? 'unknown' : item.content === undefined ? 'unread' : 'read',
      copies: isKnown ? await this.copiesOf(item) : [],
    };
  }

  private async copiesOf(item: Item): Promise<SurveyedCopy[]> {
    const copies: SurveyedCopy[] = [];
    for (const other of this.elsewhere(item)) {
      // Of equal size and samples, and not equal: no copy.
      if (item.content !== undefined && other.content !== undefined && item.content !== other.content) continue;
      const drive = this.driveOf(other.place.shelfId);
      if (!KIND_TRAITS[this.kinds.get(other.place.shelfId) ?? 'working'].keeps) {
        copies.push({ place: other.place, state: 'on-card', isRead: false, drive, sequence: null });
        continue;
      }
      const now = drive === null ? null : await this.identityNow(other);
      const isRead = now !== null && other.content !== undefined && isUntouched(other.identity!, now);
      const isThere = now !== null && other.identity !== null && isUntouched(other.identity, now);
      const state = drive === null ? 'unplugged' : !isThere ? 'changed' : isRead && item.content !== undefined ? 'verified' : 'like';
      copies.push({ place: other.place, state, isRead, drive, sequence: other.facts.sequence });
    }
    return copies;
  }

  private rootOf(shelfId: string): string | null {
    const known = this.roots.get(shelfId);
    if (known !== undefined) return known;
    const root = this.places.rootOf(shelfId);
    this.roots.set(shelfId, root);
    return root;
  }

  /** As it stands now; null where it, or a frame of it, does not. What is another file behind a link is another by its identity. */
  async identityNow({ place, facts: { sequence } }: Item): Promise<FileIdentity | null> {
    const root = this.rootOf(place.shelfId);
    if (root === null) return null;
    const at = (path: string) => standingNow(join(root, path));
    try {
      if (!sequence) return await at(place.path);
      const frames: FileIdentity[] = [];
      for (const number of presentNumbers(sequence)) {
        const frame = await at(joinPath(folderOf(place.path), frameName(sequence, number)));
        if (frame === null) return null;
        frames.push(frame);
      }
      return identityOfFrames(frames);
    } catch {
      // Its drive went away, or does not let it be looked at: it does not count.
      return null;
    }
  }
}
