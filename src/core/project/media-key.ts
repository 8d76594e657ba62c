/** What makes two events of any timeline uses of one clip: the file they name. */
import type { Place } from '../media/item';

/** The same file is the same clip, whatever timeline names it. */
export function placeMediaKey({ shelfId, path }: Place): string {
  return `place ${shelfId} ${path}`;
}

/** Of a clip whose file stood there and was moved or copied away by a run: another file may stand there by now. */
export function formerMediaKey(place: Place): string {
  return `was ${placeMediaKey(place)}`;
}
