import { frameName } from '../../core/media/image-sequence';
import { folderOf, joinPath, type Item } from '../../core/media/item';
import { mediaTypeOf } from '../../core/media/playable';
import type { House } from '../house';
import { endpoint } from './endpoint';
import { fileAnswer } from './file-answer';
import { notFound } from './problem';

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
  const { sequence } = item.facts;
  // The very frame is resolved: a link among the frames leads nowhere.
  const first = sequence ? house.mounts.resolve({ ...item.place, path: joinPath(folderOf(item.place.path), frameName(sequence, sequence.firstNumber)) }) : path; // prettier-ignore
  const preview = await house.previews.file(item, first, request.signal);
  if (preview === null) throw notFound('picture or sound');
  return fileAnswer(preview, item.facts.video ? 'video/mp4' : 'audio/mp4', request);
});
