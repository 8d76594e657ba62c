/** Changes of a sort beside the files: folders made, emptied and put back, clips that follow copies. */
import type { Place, SequenceFacts } from '../../media/item';
import type { MediaLink } from '../../project/clip';
import type { CatalogueChange } from '../plan/step';

/** What folders were like before: an undo puts their times back, and folders that went. */
export interface NoteFolders extends CatalogueChange {
  readonly type: 'note-folders';
  readonly folders: readonly Place[];
}

export interface FolderState {
  readonly place: Place;
  readonly modifiedNs: string;
  readonly mode: number;
}

export interface RestoreFolders extends CatalogueChange {
  readonly type: 'restore-folders';
  /** Only after the files are back. */
  readonly last: true;
  readonly folders: readonly FolderState[];
}

export interface MakeFolders extends CatalogueChange {
  readonly type: 'make-folders';
  readonly folders: readonly Place[];
}

/** Of these folders, the deepest first, those that are empty go. */
export interface RemoveEmptied extends CatalogueChange {
  readonly type: 'remove-emptied';
  readonly folders: readonly Place[];
}

/** Clips of the run's project read the copies that the run made. */
export interface FollowCopies extends CatalogueChange {
  readonly type: 'follow-copies';
  /** Where the stock lists what was copied, and what it is a copy of. */
  readonly pairs: readonly {
    readonly from: Place;
    readonly to: Place;
    /** A second copy, which the stock lists and no clip reads. */
    readonly twin?: Place;
    readonly sequence?: SequenceFacts;
    /** Name it came with, where the copy has another. */
    readonly originalName: string | null;
  }[];
}

/** Clips of equal files read the first of them. */
export interface ReadEqual extends CatalogueChange {
  readonly type: 'read-equal';
  readonly from: Place;
  readonly to: Place;
  readonly sha256: string;
}

export interface NewClip {
  readonly place: Place;
  readonly name: string;
  readonly bin: string;
}

/** Clips of the run's project for media that none reads. */
export interface MakeClips extends CatalogueChange {
  readonly type: 'make-clips';
  readonly clips: readonly NewClip[];
  /** Clips that lie in no bin, and the bin each gets; absent where there are none. */
  readonly binless?: readonly ClipInBin[];
}

export interface ClipInBin {
  readonly clipId: string;
  readonly bin: string;
}

/** What takes that back, where nobody has used or changed them since. */
export interface ClipsAway extends CatalogueChange {
  readonly type: 'clips-away';
  readonly clipIds: readonly string[];
  readonly bins: readonly string[];
  /** Clips that got their bin by it. */
  readonly binned?: readonly ClipInBin[];
}

export interface LinksBack extends CatalogueChange {
  readonly type: 'links-back';
  readonly links: readonly { readonly renditionId: string; readonly position: number; readonly now: Place; readonly link: MediaLink }[];
}
