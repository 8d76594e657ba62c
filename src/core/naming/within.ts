import type { Place } from '../media/item';

/** Whether a path is the folder or lies in it, however deep; all lies in the folder ''. */
export function isWithin(path: string, folder: string): boolean {
  return folder === '' || path === folder || path.startsWith(`${folder}/`);
}

export function isPlaceWithin(place: Place, folder: Place): boolean {
  return place.shelfId === folder.shelfId && isWithin(place.path, folder.path);
}
