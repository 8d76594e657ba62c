/** A crate that was made, as screens and scripts get it. */
import type { CrateStanding } from '../../../core/planning/package/crate-standing';
import type { CrateRow } from '../../catalogue/crates';

/** A crate as it stands by what the last stocktakes saw. */
export interface CrateView extends CrateRow {
  /** What it lacks of the clips that it was made for; null where it lacks nothing. */
  readonly lacks: string | null;
  readonly standing: CrateStanding;
  /** What is wrong with its files, in words; null while it is whole. */
  readonly trouble: string | null;
  /** It lacks nothing, and every file stands there and is what it was when it was read last. */
  readonly isSafe: boolean;
  readonly shelfName: string;
  readonly attached: boolean;
  /** Last stocktake of its shelf; null where there was none. */
  readonly seenAt: string | null;
}
