/** A plan: what a run would do, file by file. The same object in the API, on the sheet, in the journal, on the receipt. */
import type { Finding } from '../../words/finding';
import type { Step } from './step';

/** A line of the plan sheet; the screen formats the figures. */
export interface PlanLine {
  readonly label: string;
  readonly files?: number;
  readonly clips?: number;
  readonly bytes?: number;
  readonly text?: string;
}

export interface ShelfFill {
  readonly shelfId: string;
  readonly name: string;
  /** Null where the file system does not tell. */
  readonly capacityBytes: number | null;
  readonly freeBytes: number | null;
  readonly addsBytes: number;
}

export interface Plan<Detail = unknown> {
  /** Name of its kind: the table of kinds on the server knows what it does. */
  readonly kind: string;
  readonly title: string;
  readonly projectId: string | null;
  readonly headline: {
    readonly value: number;
    readonly of: number;
    readonly unit: 'bytes' | 'clips' | 'files' | 'folders' | 'events';
    readonly words: string;
  };
  readonly lines: readonly PlanLine[];
  readonly fills: readonly ShelfFill[];
  readonly findings: readonly Finding[];
  /** About how long it takes, by what this machine took before; absent where that is not known. */
  readonly seconds?: number;
  readonly steps: readonly Step[];
  /** Why it cannot run as it stands; null when it can. */
  readonly blocked: string | null;
  /** What the screen lists beside the sheet. */
  readonly detail: Detail;
}
