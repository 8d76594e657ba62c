/** Who uses what, as screens and scripts get it. */
import type { Window } from '../../../core/lists/list-window';
import type { FrameRange } from '../../../core/time/range';
import type { ItemUsage, UsageReport } from '../../../core/usage/usage-report';

/** Who uses a part of an item, in words. */
export interface PartUseView {
  readonly timelineId: string | null;
  readonly timelineName: string;
  readonly eventIndex: number | null;
  readonly name: string;
  readonly track: string;
  readonly nestedIn: readonly string[];
  /** Record timecode; empty where a bin uses it. */
  readonly record: string;
  /** Item frames, half-open. */
  readonly range: FrameRange;
  readonly sound: boolean;
}

/** An item and how much of it is used. */
export interface ItemUsageView extends Omit<ItemUsage, 'uses'> {
  readonly usedBytes: number | null;
}

/** The same with those who use it, from first to last. */
export interface ItemUsesView extends ItemUsageView {
  readonly uses: Window<PartUseView>;
}

export type BinOnlyView = UsageReport['binOnly'][number];

/** Bytes of whole files, and of what of them is used. */
export interface UsageTotals {
  /** `parts`: files beside them that hold parts of them, where those are asked for; they add nothing to the bytes. */
  readonly used: { readonly items: number; readonly parts: number; readonly bytes: number; readonly usedBytes: number };
  readonly never: { readonly items: number; readonly parts: number; readonly bytes: number };
  readonly binOnly: number;
}
