/** Taking stock of a shelf, as a run: one step that looks through it. */
import type { Plan } from '../plan/plan';

/** How far a stocktake is, or was at its end. */
export interface StocktakeFigures {
  readonly files: number;
  readonly doneFiles: number;
  readonly readFiles: number;
  readonly goneFiles: number;
  /** Of those that are gone, how many are at another place of the shelf; absent in older journals. */
  readonly movedFiles?: number;
  /** New ones that were not read, since one of the same content stands on the shelf. */
  readonly copiedFiles?: number;
  readonly problems: number;
  /** The file in hand, by its path on the shelf. */
  readonly current: string;
  /** What was passed over, in sentences. */
  readonly message: string | null;
}

export const NOTHING_COUNTED: StocktakeFigures = { files: 0, doneFiles: 0, readFiles: 0, goneFiles: 0, problems: 0, current: '', message: null };

/** The kind of its runs: receipts leave them out unless they are asked for. */
export const STOCKTAKE = 'stocktake';

export function planStocktake(shelfId: string, name: string): Plan<null> {
  return {
    kind: STOCKTAKE,
    title: `Look for changes on ${name}`,
    projectId: null,
    headline: { value: 0, of: 0, unit: 'files', words: `${name} is looked through; nothing on it is changed` },
    lines: [{ label: 'Changed or removed', files: 0 }],
    fills: [],
    findings: [],
    steps: [{ action: 'stock', phase: 0, from: { shelfId, path: '' }, to: null, expectedBytes: 0, bytesExact: true, reason: name, mustHold: null }],
    blocked: null,
    detail: null,
  };
}

/** The same for every stocktake of a shelf: two never go on at a time. */
export function stocktakeDigest(shelfId: string): string {
  return `${STOCKTAKE} ${shelfId}`;
}
