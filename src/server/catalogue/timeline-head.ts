/** What lists and sums tell of a timeline without reading it again. */
import type { Timeline } from '../../core/project/timeline';
import { forEachUse } from '../../core/project/usage';

export type TimelineHead = Pick<Timeline, 'rate' | 'dropFrame' | 'startFrame' | 'durationFrames' | 'eventCount'>;

export function timelineHead({ rate, dropFrame, startFrame, durationFrames, eventCount }: Timeline): TimelineHead {
  return { rate, dropFrame, startFrame, durationFrames, eventCount };
}

/** By event index, switched off ones too: whether it reads sound or picture. Events of which nothing is shown are not in it. */
export function shownEvents(model: Timeline): Map<number, boolean> {
  const shown = new Map<number, boolean>();
  forEachUse(model, { countDisabled: true }, ({ event, trackKind }) => shown.set(event.index, trackKind === 'audio'));
  return shown;
}
