/** The files of a clip: its source with all copies, where each stands, when it was seen and verified, and which is read now. */
import { isWithin } from '../../core/naming/within';
import { placeKey, samePlace, type Place } from '../../core/media/item';
import type { Snapshot } from '../../core/planning/plan/snapshot';
import { stockOf } from '../../core/planning/plan/stock-view';
import { partSpan } from '../../core/project/part-name';
import { sourceRendition } from '../../core/project/clip';
import type { ClipFileView } from './views/clip';
import type { Catalogue } from '../catalogue/catalogue';
import { narrowed } from './snapshot';
import { readingWish } from './reading';

/** Null where the project has no such clip. The file that is read comes first, then what is attached, then the rest. */
export function clipFiles(catalogue: Catalogue, snapshot: Snapshot, clipId: string): readonly ClipFileView[] | null {
  const [clip] = narrowed(catalogue, snapshot, [clipId]).clips;
  const project = catalogue.projects.get(snapshot.project.id);
  if (!clip || !project) return null;
  const stock = stockOf(snapshot);
  const { own } = readingWish(catalogue, project);
  const isOwn = ({ shelfId, path }: Place) => own.some((folder) => folder.shelfId === shelfId && isWithin(path, folder.path));
  const links = sourceRendition(clip)?.links ?? [];
  const files = catalogue.sources.filesOf(clipId).map((file): ClipFileView => {
    const { shelfId, path, of, position, isChosen, seenAt, verifiedAt, isGone } = file;
    const place = { shelfId, path };
    const link = links[position];
    const isRead = of === 'source' && link !== undefined && samePlace(link.place, place);
    return {
      of,
      holds: of === 'part' ? holdsOf(place, catalogue) : null,
      position,
      place,
      shelfName: stock.shelfName(shelfId),
      isAttached: stock.isAttached(shelfId),
      isGone,
      isRead: isRead && stock.isAttached(shelfId) && !isGone,
      isLinked: file.isLinked,
      isChosen,
      isOwn: isOwn(place),
      crate: stock.crateAround(place),
      seenAt,
      verifiedAt,
    };
  });
  const rank = (file: ClipFileView) => (file.isRead ? 0 : file.isAttached && !file.isGone ? 1 : file.isGone ? 3 : 2);
  return files.sort((a, b) => order(a) - order(b) || a.position - b.position || rank(a) - rank(b));
}

function holdsOf(place: Place, catalogue: Catalogue): string | null {
  const part = catalogue.parts.partsAt([place]).get(placeKey(place));
  const item = catalogue.items.at(place);
  return part && item ? partSpan(item.facts, part.range) : null;
}

function order({ of }: ClipFileView): number {
  return ['source', 'part', 'earlier'].indexOf(of);
}

/** Reads a clip from one of its copies first, or (null) from where the project reads what it has. False where it is no copy of it. */
export function readFrom(catalogue: Catalogue, clipId: string, place: Place | null): boolean {
  const files = catalogue.sources.filesOf(clipId).filter(({ of }) => of === 'source');
  if (place === null) {
    for (const { renditionId, position } of files) catalogue.sources.choose(renditionId, position, false);
    return true;
  }
  const wanted = files.find((file) => samePlace(file, place) && !file.isGone);
  if (!wanted) return false;
  const { renditionId, position } = wanted;
  const link = catalogue.clips.linkAt(renditionId, position);
  if (!link) return false;
  if (!samePlace(link.place, place)) catalogue.clips.relink(renditionId, position, { ...link, place });
  catalogue.sources.choose(renditionId, position, true);
  return true;
}
