/** How a part is taken out of a file of one container without re-encoding. A new one is a folder with one of these, a line in the table (cutters.ts), and its rule in the core. */
import type { MediaFacts } from '../../../../core/media/item';
import type { FrameRange } from '../../../../core/time/range';
import type { SharedControl } from '../../../threads/control';
import type { FileIdentity } from '../../../../core/media/identity';

/** A cut that cannot be made or proven, for a reason that lies in the media. */
export class CutUnproven extends Error {}

export interface CutJob {
  readonly source: string;
  /** Of the source as it was found. */
  readonly identity: FileIdentity;
  /** Where the part is written to. */
  readonly part: string;
  /** Item frames, or samples of sound, from 0, half-open. */
  readonly range: FrameRange;
  readonly facts: MediaFacts;
  readonly control: SharedControl;
  readonly signal: AbortSignal;
  /** File whose growth shows the progress; null when none grows. */
  readonly watch: (path: string | null) => void;
}

export interface Cut {
  readonly bytes: number;
  readonly sha256: string;
  /** How it was proven, in words. */
  readonly checked: string;
}

export interface Cutter {
  /** Containers that it cuts, as the stock names them. */
  readonly containers: readonly string[];
  /** Cuts, and proves the cut against its source. Rejects with CutUnproven where the whole file is to be copied instead. */
  readonly cut: (job: CutJob) => Promise<Cut>;
}
