/** What a crate says of itself, in its bag-info and its report; and how it is entered in the project. */
import type { Place } from '../../media/item';
import type { LinkState } from '../../project/clip';
import type { Rate } from '../../time/rate';
import type { CatalogueChange } from '../plan/step';
import type { CrateAbout } from './crate-about';
import type { CrateHolds } from './crate-words';

/** A clip that the timelines of a crate use and whose media is not in it. */
export interface LackingClip {
  readonly name: string;
  readonly state: LinkState;
  readonly events: number;
  /** What of its file cannot be read, as the stock says it; absent where nothing is known. */
  readonly damage?: string;
}

export interface CrateLabel {
  readonly crateName: string;
  readonly projectName: string;
  readonly rate: Rate;
  readonly dropFrame: boolean;
  readonly madeAt: string;
  readonly timelineNames: readonly string[];
  /** Absent in plans of earlier versions. */
  readonly lacks?: readonly LackingClip[];
  readonly note: string;
  /** Of how many sources every used frame was decoded before it was made, and how many frames; absent in plans of earlier versions. */
  readonly decoded?: { readonly sources: number; readonly of: number; readonly frames: number };
  readonly about?: CrateAbout;
  /** Tells from which shelf and folder each file came; absent: it does not. */
  readonly keepPaths?: true;
}

/** A clip whose media a crate carries: where it stood, and which frames of it were used, half-open; null where all of it is meant. */
export interface CarriedClip {
  readonly id: string | null;
  readonly name: string;
  readonly place: Place;
  readonly fingerprint: string | null;
  readonly start: number | null;
  readonly end: number | null;
}

/** What a crate carries, for whoever asks later where something went. */
export interface CrateCarries {
  readonly timelines: readonly { readonly id: string | null; readonly name: string }[];
  readonly clips: readonly CarriedClip[];
}

export interface RecordCrate extends CatalogueChange {
  readonly type: 'record-crate';
  readonly crateId: string;
  readonly name: string;
  readonly root: Place;
  readonly holds?: CrateHolds;
  readonly about?: CrateAbout;
  /** Absent in plans of earlier versions. */
  readonly carries?: CrateCarries;
}

/** What was copied whole is in the stock as what it is a copy of. */
export interface EnterCopies extends CatalogueChange {
  readonly type: 'enter-copies';
}

export interface ForgetCrate extends CatalogueChange {
  readonly type: 'forget-crate';
  readonly crateId: string;
}
