/** Clips and their files, as screens and scripts get them. */
import type { ItemKind, Place } from '../../../core/media/item';
import type { Clip, Conform, LinkState, MatchedBy, RenditionKind } from '../../../core/project/clip';

export interface ClipView {
  readonly id: string;
  readonly name: string;
  readonly binPath: string;
  readonly state: LinkState;
  readonly fileName: string;
  readonly place: Place | null;
  readonly url: string;
  readonly renditions: readonly RenditionKind[];
  readonly events: number;
  readonly note: string;
  readonly colour: string;
  readonly conform: Conform;
  readonly madeBy: Clip['madeBy'];
  /** Items of its source: several where picture and sound have files of their own. */
  readonly items: readonly { readonly name: string; readonly kind: ItemKind | null; readonly place: Place | null }[];
  /** Null where only the other one is set. */
  readonly marks: { readonly in: string | null; readonly out: string | null } | null;
  readonly rateDiffers: boolean;
  readonly poster: { readonly itemId: string; readonly frame: number } | null;
  readonly length: string;
  /** How its source was matched where nothing proves it; null where it is proven or was linked otherwise. */
  readonly matchedBy: MatchedBy | null;
  /** Files that are equal to its source in every byte, that one counted; attached or not. */
  readonly copies: number;
  /** Where it is linked, while a copy is read in its stead. */
  readonly linkedAt: Place | null;
  /** Files that hold some of its frames. */
  readonly parts: number;
}

/** A file of a clip's source; see docs/api.md. */
export interface ClipFileView {
  /** `part`: it holds some frames; `earlier`: what was linked before another took its place. */
  readonly of: 'source' | 'part' | 'earlier';
  /** What a part holds, in words; null for others. */
  readonly holds: string | null;
  readonly position: number;
  readonly place: Place;
  readonly shelfName: string;
  readonly isAttached: boolean;
  readonly isGone: boolean;
  readonly isRead: boolean;
  readonly isLinked: boolean;
  readonly isChosen: boolean;
  /** It lies in a folder of the project's own. */
  readonly isOwn: boolean;
  /** Name of the sealed package it lies in; null outside of any. */
  readonly crate: string | null;
  readonly seenAt: string | null;
  readonly verifiedAt: string | null;
}
