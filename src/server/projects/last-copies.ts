/** Whether a file is the last whole copy of its content: asked when a plan would remove it, and again when it goes. */
import { placeKey, type Place } from '../../core/media/item';
import type { Catalogue } from '../catalogue/catalogue';
import { nestingsAmong, placesOfFile } from '../stock/nested-shelves';
import type { Places } from '../stock/mounts';

/** A file that would go, by where the stock lists it, and what it was made of where that is the same or holds more. */
export interface GoingFile {
  readonly place: Place;
  readonly source: Place | null;
  /** Fingerprint of the source when it was read; null where none is known. */
  readonly sourcePrint: string | null;
}

/**
 * Those of the files, by placeKey, of which no other whole copy stands on a shelf that is plugged in: neither a file of the
 * same bytes nor what they were made of. What goes with them is none.
 */
export function lastCopies(catalogue: Catalogue, places: Pick<Places, 'rootOf'>, going: readonly GoingFile[]): Set<string> {
  const shelfIds = catalogue.shelves.list().map(({ id }) => id);
  const attached = new Set(shelfIds.filter((id) => places.rootOf(id) !== null));
  const nestings = nestingsAmong(places, shelfIds);
  // The same file by another shelf is no other copy.
  const own = new Set(going.flatMap(({ place }) => placesOfFile(place, nestings).map(placeKey)));
  const stays = (place: Place) => attached.has(place.shelfId) && !own.has(placeKey(place));
  const last = new Set(going.map(({ place }) => placeKey(place)));
  for (const { of, place } of catalogue.holdings.sameContent(going.map(({ place }) => place))) if (stays(place)) last.delete(placeKey(of));
  const sources = going.filter(({ place, source }) => last.has(placeKey(place)) && source !== null && stays(source));
  const standing = new Map(catalogue.items.atPlaces(sources.map(({ source }) => source!)).map((item) => [placeKey(item.place), item]));
  for (const { place, source, sourcePrint } of sources) {
    const item = standing.get(placeKey(source!));
    if (item && item.damage === undefined && (sourcePrint === null || item.fingerprint === sourcePrint)) last.delete(placeKey(place));
  }
  return last;
}
