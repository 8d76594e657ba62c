import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { ProjectView } from '../../server/api/views';
import { api } from './api';

export type ProjectWithChoices = ProjectView & { readonly remembered: Record<string, unknown> };

export function useProject(projectId: string) {
  return useQuery({ queryKey: ['project', projectId], queryFn: () => api.get<ProjectWithChoices>(`projects/${projectId}`) });
}

/** Settings of a stage as the user left them, kept by project. Null until they are known. */
export function useRemembered<T extends object>(
  projectId: string,
  name: string,
  initial: (project: ProjectWithChoices) => T,
): [T | null, (change: Partial<T>) => void] {
  const { data: project } = useProject(projectId);
  const [value, setValue] = useState<T | null>(null);
  useEffect(() => {
    if (project && value === null) setValue({ ...initial(project), ...(project.remembered[name] as Partial<T> | undefined) });
  }, [project, value, initial, name]);
  const change = (part: Partial<T>) => {
    if (value === null) return;
    const next = { ...value, ...part };
    setValue(next);
    void api.post(`projects/${projectId}/remember`, { name, value: next });
  };
  return [value, change];
}
