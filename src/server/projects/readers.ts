/** Who reads a file that would go: asked when a plan is made, and again when the file goes. */
import { placeKey, type Place } from '../../core/media/item';
import type { Catalogue } from '../catalogue/catalogue';
import type { FileReader } from '../../core/planning/taking/file-readers';
import type { Places } from '../stock/mounts';
import { nestingsAmong, placesOfFile } from '../stock/nested-shelves';

/**
 * Clips of any project that link one of the files, or would lose their last one with them. `place` is one of those that were
 * asked for, also where the file is read by its place on another shelf.
 */
export function readersOf(catalogue: Catalogue, places: Pick<Places, 'rootOf'>, going: readonly Place[]): FileReader[] {
  const shelfIds = catalogue.shelves.list().map(({ id }) => id);
  const nestings = nestingsAmong(places, shelfIds);
  const named = going.flatMap((place) => placesOfFile(place, nestings).map((same) => ({ same, place })));
  const asked = new Map(named.map(({ same, place }) => [placeKey(same), place]));
  const holders = catalogue.holdings.holders(named.map(({ same }) => same));
  const attached = new Set(shelfIds.filter((id) => places.rootOf(id) !== null));
  const stays = (place: Place) => attached.has(place.shelfId) && !asked.has(placeKey(place));
  const losing = clipsWithout(catalogue, stays, [...new Set(holders.map(({ clipId }) => clipId))]);
  // What is of a part is not missed while the part stays, though the whole was never here.
  const ofParts = catalogue.holdings.partFiles([...new Set(holders.flatMap(({ clipId, isPart }) => (isPart && losing.has(clipId) ? [clipId] : [])))]);
  return holders.flatMap((holder) => {
    const losesLast = losing.has(holder.clipId) && !(holder.isPart && ofParts.get(holder.renditionId)?.some(stays));
    // Copies and parts beside what is there are not missed.
    if (!losesLast && (!holder.isLinked || holder.isPart)) return [];
    return [{ ...holder, place: asked.get(placeKey(holder.place)) ?? holder.place, losesLast }];
  });
}

/** Clips of which no whole rendition is left. `isLeft`: the file stays, on a shelf that is attached. */
function clipsWithout(catalogue: Catalogue, isLeft: (place: Place) => boolean, clipIds: readonly string[]): ReadonlySet<string> {
  // By rendition and position: whether a file of it stays.
  const kept = new Map<string, { clipId: string; items: Map<number, boolean> }>();
  for (const { clipId, renditionId, position, place } of catalogue.holdings.wholeFiles(clipIds)) {
    const stays = place !== null && isLeft(place);
    const own = kept.get(renditionId) ?? { clipId, items: new Map<number, boolean>() };
    own.items.set(position, (own.items.get(position) ?? false) || stays);
    kept.set(renditionId, own);
  }
  const losing = new Set(clipIds);
  for (const { clipId, items } of kept.values()) if ([...items.values()].every(Boolean)) losing.delete(clipId);
  return losing;
}
