/** Shelves and their folders, as screens and scripts get them. */
import type { ShelfKind, ShelfRecord } from '../../../core/media/shelf-kind';
import type { ShelfSnapshot } from '../../../core/planning/plan/snapshot';
import type { StocktakeFigures } from '../../../core/planning/stocktake/stocktake';
import type { RunState } from '../../catalogue/runs';

/** The stocktake of a shelf that goes on, or was the last. */
export interface StocktakeView extends StocktakeFigures {
  readonly shelfId: string;
  readonly runId: number;
  readonly state: RunState;
}

export interface ShelfView extends ShelfSnapshot {
  readonly kind: ShelfKind;
  /** What people noted of it. */
  readonly record: ShelfRecord;
  readonly mountPath: string | null;
  /** It stands where it stood, and does not answer: `attached` is false. */
  readonly isSilent: boolean;
  readonly seenAt: string | null;
  readonly stocktakeAt: string | null;
  readonly items: number;
  readonly itemBytes: number;
  readonly stocktake: StocktakeView | null;
  /** Name of its drive in the simulated bay; null for a real folder. */
  readonly bayDrive: string | null;
  /** By what it is known again: its marker, or without one its volume, or what is on it. */
  readonly knownBy: 'marker' | 'volume' | 'content';
  /** Other folders that bear this shelf's marker: copies of it, until they get an identity of their own. */
  readonly copies: readonly string[];
  /** The other shelf that it is a folder of, and which; null for most. Files on both have two entries. */
  readonly inside: { readonly shelf: string; readonly path: string } | null;
}

export interface FolderView {
  readonly path: string | null;
  readonly parent: string | null;
  readonly folders: readonly { readonly path: string; readonly name: string; readonly shelfId: string | null; readonly isCrate: boolean }[];
}
