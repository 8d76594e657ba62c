import { frameName } from '../../core/media/image-sequence';
import { folderOf, joinPath, type Item } from '../../core/media/item';
import { mediaTypeOf } from '../../core/media/playable';
import type { House } from '../house';
import { endpoint } from './endpoint';
import { fileAnswer } from './file-answer';
import { uprightOf } from '../../core/planning/proxies/rendition-load';
import type { Recipe } from '../../core/rendition/recipe';
import type { Sample } from '../media/samples';
import { MOST_PIXELS } from '../media/ffmpeg';
import { notFound, Problem } from './problem';
import { sampleSchema } from './schemas';

function itemOf(house: House, id: string | undefined): Item {
  const item = house.catalogue.items.get(id ?? '');
  if (!item) throw notFound('item');
  return item;
}

export const getItem = endpoint(({ house, params }) => itemOf(house, params.item));

export const getPoster = endpoint(async ({ house, params, query, request }) => {
  const item = itemOf(house, params.item);
  const frame = Math.max(0, Math.min(Math.trunc(Number(query.get('frame') ?? 0)) || 0, (item.facts.durationFrames ?? 1) - 1));
  const { sequence } = item.facts;
  // The very frame is resolved: a link among the frames leads nowhere.
  const path = sequence ? joinPath(folderOf(item.place.path), frameName(sequence, sequence.firstNumber + frame)) : item.place.path;
  const picture = await house.posters.frame(item, house.mounts.resolve({ shelfId: item.place.shelfId, path }), frame, request.signal);
  if (!picture) throw notFound('picture');
  return new Response(new Uint8Array(picture), { headers: { 'content-type': 'image/jpeg', 'cache-control': 'private, max-age=3600' } });
});

/** The file itself where a browser plays it, or a small preview of it; parts of it on request. */
export const getMedia = endpoint(async ({ house, params, request }) => {
  const item = itemOf(house, params.item);
  const path = house.mounts.resolve(item.place);
  const type = mediaTypeOf(item.facts);
  if (type !== null) return fileAnswer(path, type, request);
  const preview = await house.previews.file(item, firstFile(house, item), previewHome(house, item), request.signal);
  if (preview === null) throw notFound('picture or sound');
  return fileAnswer(preview, item.facts.video ? 'video/mp4' : 'audio/mp4', request);
});

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

/** How a sample of an item is encoded; null: not at all. */
function sampleRecipe(query: URLSearchParams): Recipe | null {
  if (!query.has('preset')) return null;
  const checked = sampleSchema.validate({ presetId: query.get('preset'), width: query.get('width'), height: query.get('height'), quality: query.get('quality') ?? 0 }); // prettier-ignore
  if (checked.error) throw new Problem(400, 'bad-query', checked.error.message, 'A sample is asked for by preset, width, height and quality.');
  return { ...checked.value, sequenceRate: null, burnIn: null, clipName: '' };
}

function pictured(house: House, id: string | undefined): Item {
  const item = itemOf(house, id);
  const { video, kind } = item.facts;
  if (!video || (kind !== 'video' && kind !== 'sequence') || video.width * video.height > MOST_PIXELS) throw notFound('moving picture');
  return item;
}

/** What a short piece of an item takes when it is encoded, measured now. */
export const getSample = endpoint(async ({ house, params, query, request }) => {
  const item = pictured(house, params.item);
  const recipe = sampleRecipe(query);
  if (!recipe) throw new Problem(400, 'bad-query', 'Say which preset is to be tried.');
  const found = await house.samples.measure(item, firstFile(house, item), recipe, request.signal);
  keepSample(house, item, recipe, found);
  return found;
});

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

/** A picture of that piece, or, without a preset, the same one of the item itself. */
export const getSamplePicture = endpoint(async ({ house, params, query, request }) => {
  const item = pictured(house, params.item);
  const recipe = sampleRecipe(query);
  const picture = await house.samples.picture(item, firstFile(house, item), recipe, request.signal);
  return new Response(new Uint8Array(picture), { headers: { 'content-type': 'image/png', 'cache-control': 'private, max-age=3600' } });
});
