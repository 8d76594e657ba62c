/** Bins, as screens and scripts get them. */
import type { Bin } from '../../../core/project/bins';

export interface BinView extends Bin {
  /** Clips in it, without those of bins below. */
  readonly clips: number;
  /** Clips in it and in bins below that no timeline uses. */
  readonly unused: number;
}

export interface BinsView {
  readonly bins: readonly BinView[];
  /** Clips of the project, and how many of them no timeline uses. */
  readonly clips: number;
  readonly unused: number;
  readonly undo: string | null;
  readonly redo: string | null;
}
