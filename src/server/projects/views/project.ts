/** A project, its overview and what is advised, as screens and scripts get them. */
import type { LinkState } from '../../../core/project/clip';
import type { Homes } from '../../../core/rendition/homes';
import type { ReadOrder } from '../../../core/rendition/read-order';
import type { Rate } from '../../../core/time/rate';
import type { OpenedFrom } from '../../catalogue/projects';
import type { CrateView } from './crate';

export interface ProjectView {
  readonly id: string;
  readonly name: string;
  readonly rate: Rate;
  readonly dropFrame: boolean;
  readonly createdAt: string;
  readonly usedAt: string;
  readonly readOrder: ReadOrder;
  readonly homes: Homes;
  /** Shelves that it reads before others, in order. */
  readonly drives: readonly string[];
  /** What was wrong with the crate that it was opened from; null where nothing was. */
  readonly openedFrom: OpenedFrom | null;
  readonly timelines: number;
  readonly clips: number;
  readonly mediaBytes: number;
  /** Bytes the project itself takes in the catalogue: its timelines. */
  readonly projectBytes: number;
  readonly states: Readonly<Record<LinkState, number>>;
  /** The crate that is worth most as it stands today; null where there is none. */
  readonly lastCrate:
    | (CrateView & {
        /** Name of the shelf, where every file of the project is read from the drive that it stands on; null otherwise. */
        readonly sharesDrive: string | null;
      })
    | null;
  readonly copies: CopiesView;
}

/** Files of the sources of a project, each content once, by the drives that hold a copy of which every byte was read. */
export interface CopiesView {
  readonly files: number;
  /** On two drives or more, on one. */
  readonly twice: number;
  readonly once: number;
  /** How many drives hold every one of them. */
  readonly leastDrives: number;
}

export interface OverviewView extends ProjectView {
  readonly offlineEvents: number;
  readonly events: number;
  readonly usedBytes: number;
  readonly folders: number;
  readonly shelves: number;
  readonly byKind: readonly { readonly kind: string; readonly bytes: number; readonly items: number }[];
  readonly byShelf: readonly { readonly name: string; readonly usedBytes: number; readonly unusedBytes: number }[];
  readonly advice: readonly Advice[];
}

export interface Advice {
  readonly stage: 'shelves' | 'timelines' | 'sort' | 'relink' | 'pull' | 'proxies' | 'crates' | 'runs';
  readonly title: string;
  readonly why: string;
  /** What the stage is to be about, in its address. */
  readonly query?: string;
}
