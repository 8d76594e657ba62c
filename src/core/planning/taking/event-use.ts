/** An event of a timeline with the clip it uses, and the item frames that it reads. */
import { steppedBack } from '../../interchange/otio/sequence-numbering';
import type { Clip } from '../../project/clip';
import { countsFrom, type CountedFacts, type UnstatedSpan } from '../../project/counting';
import type { ReadUse } from '../../project/reads';
import { activeReference } from '../../project/timeline';
import { itemRange, itemShift } from '../../project/usage';
import type { FrameRange } from '../../time/range';

export interface EventUse {
  readonly timelineId: string;
  readonly clip: Clip;
  readonly use: ReadUse;
  /** Item of the clip that the event names; null where its track decides. */
  readonly named: number | null;
  /** What the clip's events of this timeline read, where they do not state what they count from. */
  readonly span: UnstatedSpan | null;
}

/** Item frames that an event reads. */
export function framesRead({ clip, use, span }: EventUse, facts: CountedFacts): FrameRange {
  const range = itemRange(use, countsFrom(use.event, clip, facts, span), facts, clip.conform);
  return { start: steppedBack(range.start, facts.sequence ?? null, activeReference(use.event)?.sequence ?? null), end: range.end };
}

/** As framesRead, for all events that read alike: by how many frames their source frames are moved; null where each is reckoned for itself. */
export function shiftRead({ clip, use, span }: Pick<EventUse, 'clip' | 'use' | 'span'>, facts: CountedFacts): number | null {
  // With steps a frame stays until the next.
  if (facts.sequence && (activeReference(use.event)?.sequence?.step ?? 1) > 1) return null;
  return itemShift(use, countsFrom(use.event, clip, facts, span), facts, clip.conform);
}
