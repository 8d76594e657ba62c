/** What a step leaves behind, as its journal keeps it. */
import type { FileIdentity } from '../../core/media/identity';
import type { StocktakeFigures } from '../../core/planning/stocktake/stocktake';

export interface OutcomeFile {
  readonly name: string;
  readonly bytes: number;
  readonly sha256: string;
  readonly identity?: FileIdentity | null;
  /** An equal file stood there before the run, which did not make it. */
  readonly wasThere?: boolean;
}

/** What a step left behind. */
export interface StepOutcome {
  readonly bytes: number;
  readonly sha256?: string;
  /** The file under its final name, as the step left it; absent in older journals. */
  readonly identity?: FileIdentity | null;
  /** Files of a step that makes several, below the step's `to`. */
  readonly files?: readonly OutcomeFile[];
  /** The cut could not be made and the whole file was copied. */
  readonly whole?: boolean;
  /** A file equal in every byte stood there before the run, which did not make it. */
  readonly wasThere?: true;
  readonly checked: string;
  /** What of its source cannot be read, found out while it was taken: in a sentence. */
  readonly damaged?: string;
  /** What a stocktake found. */
  readonly stock?: StocktakeFigures;
  /** What the whole run has come to, in a sentence; of its last step. */
  readonly conclusion?: string;
  /** Shelves on other drives with a copy of it that is equal in every byte. */
  readonly verifiedOn?: readonly string[];
  /** Pictures that were decoded without a fault. */
  readonly decoded?: number;
  /** What was to be removed and stays, because it is not what the run made any more. */
  readonly left?: boolean;
  /** The change of the catalogue that would take this one back. */
  readonly back?: unknown;
}

/** A finished file about to get its final name, or one that must be looked at again before it counts. */
export interface Pending extends StepOutcome {
  /** The name is claimed by an empty file first: the file system has no hard links. */
  readonly claimed?: boolean;
}

/** A frame of a sequence that stands already, while its step goes on. */
export interface MadeFrame {
  readonly name: string;
  readonly bytes: number;
  readonly sha256: string;
  readonly identity: FileIdentity;
}
