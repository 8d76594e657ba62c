/** Items, as lists have them. */
import type { Item, Place } from '../../../core/media/item';

/** An item as lists have it. */
export interface ListedItem extends Item {
  /** Which part of which clip it holds, in words. */
  readonly partOf?: string;
}

/** An item with all that is known of it. */
export interface ItemView extends Item {
  /** Where files stand that are equal to it in every byte, a few of them. */
  readonly copies: readonly Place[];
  /** Clips that read it or one of these, a few of them. */
  readonly readers: readonly { readonly project: string; readonly projectId: string; readonly clip: string }[];
}
