/** What several screens ask the server: one key and one address each. */
import { useQuery } from '@tanstack/react-query';
import type { BinsView, CrateView, ProjectView, ShelfView, TimelineSummary } from '../../server/api/views';
import { api } from './api';

export type ProjectWithChoices = ProjectView & { readonly remembered: Record<string, unknown> };

export function useProjects() {
  return useQuery({ queryKey: ['projects'], queryFn: () => api.get<ProjectView[]>('projects') });
}

export function projectKey(projectId: string) {
  return ['project', projectId] as const;
}

export function useProject(projectId: string) {
  return useQuery({ queryKey: projectKey(projectId), queryFn: () => api.get<ProjectWithChoices>(`projects/${projectId}`) });
}

export function useShelves() {
  return useQuery({ queryKey: ['shelves'], queryFn: () => api.get<ShelfView[]>('shelves') });
}

/** `projectId` null: there is no project to ask. */
export function useTimelines(projectId: string | null) {
  return useQuery({
    queryKey: ['timelines', projectId],
    queryFn: () => api.get<TimelineSummary[]>(`projects/${projectId}/timelines`),
    enabled: projectId !== null,
  });
}

export function useBins(projectId: string | null) {
  return useQuery({ queryKey: ['bins', projectId], queryFn: () => api.get<BinsView>(`projects/${projectId}/bins`), enabled: projectId !== null });
}

export function useCrates(projectId: string | null) {
  return useQuery({
    queryKey: ['crates', projectId],
    queryFn: () => api.get<CrateView[]>(`projects/${projectId}/crates`),
    enabled: projectId !== null,
  });
}
