import { useMemo } from 'react';
import type { TimelineSummary } from '../../server/projects/views/timeline';
import { useTimelines } from '../shared/questions';
import { timelineKnownAs } from '../shared/timeline-known-as';

/** The settings with a timeline that is there: the first to begin with, and where the chosen one is gone. Null until both are known. */
export function useTimelineChoice<T extends { readonly timelineId: string | null }>(
  projectId: string,
  kept: T | null,
): { readonly settings: T | null; readonly timelines: readonly TimelineSummary[] } {
  const { data: timelines } = useTimelines(projectId);
  const settings = useMemo((): T | null => {
    if (!kept || !timelines) return null;
    return { ...kept, timelineId: (timelineKnownAs(timelines, kept.timelineId) ?? timelines[0])?.id ?? null };
  }, [kept, timelines]);
  return { settings, timelines: timelines ?? [] };
}
