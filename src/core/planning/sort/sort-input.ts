/** All that a sort is planned from. */
import type { FileIdentity } from '../../media/identity';
import type { Item, Place } from '../../media/item';
import type { ShelfSnapshot } from '../plan/snapshot';

/** A file on a camera card or in a folder kept whole that the stock does not list, as hidden ones. */
export interface ExtraFile {
  readonly place: Place;
  readonly identity: FileIdentity;
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
  readonly light: ReadonlySet<string>;
  /** Another instance of the application that writes into a destination just now. */
  readonly otherWriter: Place | null;
  /** Sealed crates: nothing is taken out of them. */
  readonly sealed: readonly { readonly place: Place; readonly name: string }[];
  /** Files that somebody has open, by placeKey: who. */
  readonly open: ReadonlyMap<string, string>;
  /** By shelf id what file system it is on: files move at once within one. */
  readonly volumes: ReadonlyMap<string, string>;
  /** Projects beside this one that link a place (placeKey): their clips follow too. */
  readonly others: ReadonlySet<string>;
}
