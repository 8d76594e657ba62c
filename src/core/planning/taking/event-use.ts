/** An event of a timeline with the clip it uses, and the item frames that it reads. */
import { steppedBack } from '../../interchange/otio/sequence-numbering';
import type { Clip } from '../../project/clip';
import { countsFrom, runsOverMidnight, type CountedFacts, type UnstatedSpan } from '../../project/counting';
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
  /** Of an event that reads a part for the whole: the use of the whole, what it is, and at which of its frames the part begins. */
  readonly within?: { readonly use: EventUse; readonly facts: CountedFacts; readonly start: number };
}

/** Item frames that an event reads. */
export function framesRead({ clip, use, span, within }: EventUse, facts: CountedFacts): FrameRange {
  if (within) {
    const { start, end } = framesRead(within.use, within.facts);
    return { start: start - within.start, end: end - within.start };
  }
  const range = itemRange(use, countsFrom(use.event, clip, facts, span), facts, clip.conform);
  return { start: steppedBack(range.start, facts.sequence ?? null, activeReference(use.event)?.sequence ?? null), end: range.end };
}

/** Like `framesRead`, for all events that read alike: by how many frames their source frames are moved; null where each is reckoned for itself. */
export function shiftRead({ clip, use, span, within }: Pick<EventUse, 'clip' | 'use' | 'span' | 'within'>, facts: CountedFacts): number | null {
  if (within) {
    const shift = shiftRead(within.use, within.facts);
    return shift === null ? null : shift - within.start;
  }
  // With steps a frame stays until the next.
  if (facts.sequence && (activeReference(use.event)?.sequence?.step ?? 1) > 1) return null;
  const start = countsFrom(use.event, clip, facts, span);
  // Labels begin anew within it.
  if (start && runsOverMidnight(start, facts)) return null;
  return itemShift(use, start, facts, clip.conform);
}
