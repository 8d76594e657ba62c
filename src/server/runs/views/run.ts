/** Runs, as screens and scripts get them. */
import type { StocktakeFigures } from '../../../core/planning/stocktake/stocktake';
import type { RunRemarks, RunRow } from '../../catalogue/runs';

export interface RunSummary extends Omit<RunRow, 'plan'> {
  /** Whether its kind can be taken back at all. */
  readonly undoable: boolean;
  readonly stepsDone: number;
  readonly steps: number;
  readonly failed: number;
  readonly bytesDone: number;
  readonly bytes: number;
  /** Bytes a second; null when not going on. */
  readonly speed: number | null;
  readonly secondsLeft: number | null;
  readonly current: readonly string[];
  /** What the run waits for by itself, in a sentence. */
  readonly trouble: string | null;
  /** The run that has what this one needs to go on; null while it works, or waits for nobody. */
  readonly waitsFor: number | null;
  /** How far a stocktake is, or was at its end; null for other runs, and before anything is known. */
  readonly figures: StocktakeFigures | null;
}

export interface RunView extends RunSummary, RunRemarks {
  readonly plan: RunRow['plan'];
}
