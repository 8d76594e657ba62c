/** Two versions of a cut beside each other, as screens and scripts get them. */
import type { ChangeKind } from '../../../core/project/compare';
import type { FrameRange } from '../../../core/time/range';

/** What is seen of an event: item frames, half-open. */
export interface ShotLook {
  readonly itemId: string;
  readonly name: string;
  readonly range: FrameRange;
}

export interface ComparedEvent {
  readonly kind: ChangeKind;
  readonly name: string;
  readonly track: string;
  readonly nestedIn: readonly string[];
  /** Record timecode in each version; null where it is not there. */
  readonly before: string | null;
  readonly after: string | null;
  /** Frames: positive is later in the source. */
  readonly inShift: number;
  readonly outShift: number;
  readonly beforeSource: string | null;
  readonly afterSource: string | null;
  readonly speed: string | null;
  readonly switched: 'on' | 'off' | null;
  readonly afterIndex: number | null;
  readonly beforeLook: ShotLook | null;
  readonly afterLook: ShotLook | null;
}

export interface CompareView {
  readonly counts: Readonly<Record<ChangeKind, number>>;
  /** Every change but `same`, in the order of the newer version. */
  readonly changes: readonly ComparedEvent[];
}
