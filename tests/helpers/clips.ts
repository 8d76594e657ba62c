import { randomUUID } from 'node:crypto';
import type { Item } from '../../src/core/media/item';
import type { Clip } from '../../src/core/project/clip';
import { clipOfItems } from '../../src/server/projects/make-clip';

/** A clip of one file, whatever other clips there are. */
export function clipOfItem(item: Item): Clip {
  return clipOfItems([item], '', randomUUID);
}
