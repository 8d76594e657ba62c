/** Items, as lists have them. */
import type { Item } from '../../../core/media/item';

/** An item as lists have it. */
export interface ListedItem extends Item {
  /** Which part of which clip it holds, in words. */
  readonly partOf?: string;
}
