import { Spotlight, spotlight, type SpotlightActionData } from '@mantine/spotlight';
import { useDebouncedValue } from '@mantine/hooks';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { ClipView, ProjectView, TimelineSummary } from '../../server/api/views';
import type { Window } from '../../server/list-window';
import { api } from './api';
import { IconSearch } from './icons';
import { STAGES, stagePath } from './stages';

export const openPalette = () => spotlight.open();

/** Stages, timelines, clips and projects by a few letters. */
export function Palette({ projectId }: { projectId: string }) {
  const { data: timelines = [] } = useQuery({
    queryKey: ['timelines', projectId],
    queryFn: () => api.get<TimelineSummary[]>(`projects/${projectId}/timelines`),
  });
  const [words, setWords] = useState('');
  const [asked] = useDebouncedValue(words.trim(), 150);
  const { data: clips } = useQuery({
    queryKey: ['clips', projectId, 'palette', asked],
    queryFn: () => api.get<Window<ClipView>>(`projects/${projectId}/clips?${new URLSearchParams({ filter: asked, limit: '12' })}`),
    enabled: asked !== '',
    placeholderData: keepPreviousData,
  });
  const { data: projects = [] } = useQuery({ queryKey: ['projects'], queryFn: () => api.get<ProjectView[]>('projects') });
  const go = (href: string) => () => (window.location.href = href);
  const actions: SpotlightActionData[] = [
    ...STAGES.map((stage) => ({ id: stage.id, label: stage.name, description: 'Stage', onClick: go(stagePath(projectId, stage.id)) })),
    ...timelines.map((timeline) => ({
      id: timeline.id,
      label: timeline.name,
      description: 'Timeline',
      onClick: go(`${stagePath(projectId, 'timelines')}?timeline=${timeline.id}`),
    })),
    ...(clips?.rows ?? []).map((clip) => ({
      id: clip.id,
      label: clip.name,
      description: `Clip · ${clip.fileName}`,
      onClick: go(`${stagePath(projectId, 'timelines')}?find=${encodeURIComponent(clip.fileName || clip.name)}`),
    })),
    ...projects.map((project) => ({ id: project.id, label: project.name, description: 'Project', onClick: go(stagePath(project.id, 'overview')) })),
  ];
  return (
    <Spotlight
      actions={actions}
      query={words}
      onQueryChange={setWords}
      shortcut={['mod + K']}
      limit={12}
      nothingFound="Nothing is called that"
      highlightQuery
      searchProps={{ leftSection: <IconSearch size={16} />, placeholder: 'A stage, a timeline, a clip, a project' }}
      scrollable
      maxHeight={420}
    />
  );
}
