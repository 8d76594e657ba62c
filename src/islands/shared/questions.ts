/** What several screens ask the server: one key and one address each. */
import { useQuery } from '@tanstack/react-query';
import { api } from './api';

export type { ProjectWithChoices } from '../../server/questions/of-projects';

export function useProjects() {
  return useQuery({ queryKey: ['projects'], queryFn: () => api.get('projects') });
}

export function projectKey(projectId: string) {
  return ['project', projectId] as const;
}

export function useProject(projectId: string) {
  return useQuery({ queryKey: projectKey(projectId), queryFn: () => api.get(`projects/${projectId}`) });
}

/** As hooks and others ask for it. */
export const shelvesAsked = { queryKey: ['shelves'], queryFn: () => api.get('shelves') };

export function useShelves() {
  return useQuery(shelvesAsked);
}

/** `projectId` null: there is no project to ask. */
export function useTimelines(projectId: string | null) {
  return useQuery({
    queryKey: ['timelines', projectId],
    queryFn: () => api.get(`projects/${projectId}/timelines`),
    enabled: projectId !== null,
  });
}

export function useBins(projectId: string | null) {
  return useQuery({ queryKey: ['bins', projectId], queryFn: () => api.get(`projects/${projectId}/bins`), enabled: projectId !== null });
}

export function useCrates(projectId: string | null) {
  return useQuery({
    queryKey: ['crates', projectId],
    queryFn: () => api.get(`projects/${projectId}/crates`),
    enabled: projectId !== null,
  });
}
