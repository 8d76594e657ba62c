/** One item: its pictures, what plays of it, and what it takes to encode it. */
import { frameName } from '../../core/media/image-sequence';
import { folderOf, joinPath, samePlace, type Item } from '../../core/media/item';
import { mediaTypeOf } from '../../core/media/playable';
import { uprightOf } from '../../core/planning/proxies/rendition-load';
import type { Recipe } from '../../core/rendition/recipe';
import type { Sample } from '../media/samples';
import { MOST_PIXELS } from '../media/ffmpeg';
import { notFound } from '../errors/problem';
import type { ItemView } from '../stock/views/item';
import type { House } from './use-case';

/** An item with the files that are equal to it in every byte, and the clips that read one of them. */
export function itemView(house: House, id: string | undefined): ItemView {
  const item = itemOf(house, id);
  const { items } = house.catalogue;
  const copies = items.copiesOf(item.place).flatMap(({ place }) => (samePlace(place, item.place) ? [] : [place]));
  return { ...item, copies: copies.slice(0, MOST_COPIES), readers: items.readersOf(item) };
}

const MOST_COPIES = 40;

export function itemOf(house: House, id: string | undefined): Item {
  const item = house.catalogue.items.get(id ?? '');
  if (!item) throw notFound('item');
  return item;
}

/** One picture of it: of a moving one the frame, counted from 0. */
export async function posterOf(house: House, id: string | undefined, askedFrame: number, signal: AbortSignal): Promise<Uint8Array<ArrayBuffer>> {
  const item = itemOf(house, id);
  const frame = Math.max(0, Math.min(Math.trunc(askedFrame) || 0, (item.facts.durationFrames ?? 1) - 1));
  const { sequence } = item.facts;
  // The very frame is resolved: a link among the frames leads nowhere.
  const path = sequence ? joinPath(folderOf(item.place.path), frameName(sequence, sequence.firstNumber + frame)) : item.place.path;
  const picture = await house.posters.frame(item, house.mounts.resolve({ shelfId: item.place.shelfId, path }), frame, signal);
  if (!picture) throw notFound('picture');
  return new Uint8Array(picture);
}

/** The file itself where a browser plays it, or a small preview of it: its path, and its media type. */
export async function playableOf(house: House, id: string | undefined, signal: AbortSignal): Promise<{ path: string; type: string }> {
  const item = itemOf(house, id);
  const path = house.mounts.resolve(item.place);
  const type = mediaTypeOf(item.facts);
  if (type !== null) return { path, type };
  const preview = await house.previews.file(item, firstFile(house, item), previewHome(house, item), signal);
  if (preview === null) throw notFound('picture or sound');
  return { path: preview, type: item.facts.video ? 'video/mp4' : 'audio/mp4' };
}

/** Folder of the first project that links the item and has a home for caches, which is plugged in. */
function previewHome({ catalogue, mounts }: House, { place }: Item): string | null {
  for (const projectId of new Set(catalogue.holdings.holders([place]).map((holder) => holder.projectId))) {
    const home = catalogue.projects.get(projectId)?.homes.cache;
    if (!home || mounts.rootOf(home.shelfId) === null) continue;
    try {
      return mounts.resolve(home);
    } catch {
      // A link in its place leads elsewhere: the house keeps them.
    }
  }
  return null;
}

/** The file of an item; of a sequence its first frame, which is resolved itself: a link among the frames leads nowhere. */
function firstFile({ mounts }: House, { place, facts: { sequence } }: Item): string {
  return mounts.resolve(sequence ? { ...place, path: joinPath(folderOf(place.path), frameName(sequence, sequence.firstNumber)) } : place);
}

function pictured(house: House, id: string | undefined): Item {
  const item = itemOf(house, id);
  const { video, kind } = item.facts;
  if (!video || (kind !== 'video' && kind !== 'sequence') || video.width * video.height > MOST_PIXELS) throw notFound('moving picture');
  return item;
}

/** What a short piece of an item takes when it is encoded, measured now. */
export async function measureSample(house: House, id: string | undefined, recipe: Recipe, signal: AbortSignal): Promise<Sample> {
  const item = pictured(house, id);
  const found = await house.samples.measure(item, firstFile(house, item), recipe, signal);
  keepSample(house, item, recipe, found);
  return found;
}

/** Plans reckon with it from now on. */
function keepSample(
  house: House,
  { fingerprint, facts }: Item,
  { presetId, width, height, quality = 0 }: Recipe,
  { frames, bytes, seconds }: Sample,
): void {
  if (fingerprint === null || frames === 0) return;
  const source = uprightOf(facts);
  const written = frames * width * height;
  house.catalogue.paces.keepSample({
    ...{ fingerprint, presetId, width, height, quality },
    bytesPerPixel: bytes / written,
    secondsPerPixel: seconds / (written + frames * source.width * source.height),
  });
}

/** A picture of that piece, or, without a recipe, the same one of the item itself. */
export async function samplePicture(
  house: House,
  id: string | undefined,
  recipe: Recipe | null,
  signal: AbortSignal,
): Promise<Uint8Array<ArrayBuffer>> {
  const item = pictured(house, id);
  return new Uint8Array(await house.samples.picture(item, firstFile(house, item), recipe, signal));
}
