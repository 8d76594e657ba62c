import type { TimelineSummary } from '../../server/projects/views/timeline';

/** The timeline of an id, or the one that took its place. */
export function timelineKnownAs(timelines: readonly TimelineSummary[] | undefined, id: string | null): TimelineSummary | undefined {
  return timelines?.find((timeline) => timeline.id === id) ?? timelines?.find(({ formerIds }) => id !== null && formerIds.includes(id));
}
