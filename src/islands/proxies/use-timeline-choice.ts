import { useMemo } from 'react';
import type { TimelineSummary } from '../../server/api/views';
import { useTimelines } from '../shared/questions';

/** The settings with a timeline that is there: the first to begin with, and where the chosen one is gone. Null until both are known. */
export function useTimelineChoice<T extends { readonly timelineId: string | null }>(
  projectId: string,
  kept: T | null,
): { readonly settings: T | null; readonly timelines: readonly TimelineSummary[] } {
  const { data: timelines } = useTimelines(projectId);
  const settings = useMemo((): T | null => {
    if (!kept || !timelines) return null;
    const known = timelines.some(({ id }) => id === kept.timelineId);
    return { ...kept, timelineId: known ? kept.timelineId : (timelines[0]?.id ?? null) };
  }, [kept, timelines]);
  return { settings, timelines: timelines ?? [] };
}
