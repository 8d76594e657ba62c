/** All that a sort is planned from. */
import type { Cards } from '../../media/card';
import type { FileIdentity } from '../../media/identity';
import type { Item, Place } from '../../media/item';
import type { ShelfSnapshot } from '../plan/snapshot';

/** A file on a camera card or in a folder kept whole that the stock does not list, as hidden ones. */
export interface ExtraFile {
  readonly place: Place;
  readonly identity: FileIdentity;
}

/** What lies in a folder kept whole and cannot go along as it is. */
export interface UndividedTrouble {
  readonly place: Place;
  /** The folder that would not be whole without it. */
  readonly root: Place;
  readonly why: 'is a link' | 'has a name that is not UTF-8' | 'is no plain file' | 'cannot be read';
}

/** What is no media in a folder that all media leaves, and goes with none of it. */
export interface Papers {
  readonly folder: Place;
  /** Paths below the shelf. */
  readonly paths: readonly string[];
}

/** A clip of the project that links a file. */
export interface ClipUse {
  readonly clipId: string;
  readonly name: string;
  readonly bin: string;
  readonly colour: string;
}

export interface SortInput {
  readonly project: { readonly id: string; readonly name: string };
  readonly shelves: readonly ShelfSnapshot[];
  /** What is sorted, with all that stays with it: sidecars, the rest of a card, other parts of a take. */
  readonly items: readonly Item[];
  /** Ids of those that were chosen: what holds none of them is not sorted. */
  readonly chosen: ReadonlySet<string>;
  readonly extras: readonly ExtraFile[];
  /** Empty folders in folders kept whole. */
  readonly hollow: readonly Place[];
  readonly cannotGo: readonly UndividedTrouble[];
  readonly papers: readonly Papers[];
  /** By placeKey. */
  readonly uses: ReadonlyMap<string, readonly ClipUse[]>;
  /** Places (placeKey) that an event of a timeline reads. */
  readonly used: ReadonlySet<string>;
  /** Items that clips link together, by their ids. */
  readonly takes: readonly (readonly string[])[];
  /** Day of the shoot by item id. */
  readonly days: ReadonlyMap<string, string>;
  /** Identities of frames by item id. */
  readonly frames: ReadonlyMap<string, readonly string[]>;
  /** Paths of all that stands in the project's own folder at the destination, hidden files and folders too. */
  readonly standing: readonly string[];
  /** The same of the second destination, as if it stood at the first. */
  readonly standingSecond: readonly string[];
  /** What stands in the project's own folder at the destination already, by proofKey of its item. */
  readonly copied: ReadonlyMap<string, Place>;
  /** Items that stand there, by foldPath of their paths. */
  readonly named: ReadonlyMap<string, Item>;
  /** Light copies and mezzanines, by placeKey: they lie where they were made. */
  readonly copiesOnly: ReadonlySet<string>;
  /** Another instance of the application that writes into a destination just now. */
  readonly otherWriter: Place | null;
  /** Names of machines whose houses read in the folders of what would move, by the word they left there; absent where nobody looked. */
  readonly readElsewhere?: readonly string[];
  /** How the trees of cards are known. */
  readonly cards: Cards;
  /** Whether the project's own folder at a destination would lie in the tree of a camera card, by the id of its shelf. */
  readonly onCard: ReadonlySet<string>;
  /** What the file systems of the destinations do not hold of a file beside its bytes, in words, by the id of the shelf. */
  readonly notHeld: ReadonlyMap<string, string>;
  /** Sealed crates: nothing is taken out of them. */
  readonly sealed: readonly { readonly place: Place; readonly name: string }[];
  /** Shelves that lie inside each other, by their ids: a file on both has two entries. */
  readonly nested: readonly { readonly outer: string; readonly inner: string }[];
  /** Files that somebody has open, by placeKey: who. */
  readonly open: ReadonlyMap<string, string>;
  /** By shelf id what file system it is on: files move at once within one. */
  readonly volumes: ReadonlyMap<string, string>;
  /** Projects beside this one that link a place (placeKey): their clips follow too. */
  readonly others: ReadonlySet<string>;
}
