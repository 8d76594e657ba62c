import { MultiSelect } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { ClipView } from '../../server/projects/views/clip';
import { api } from '../shared/api';

const MOST_OFFERED = 50;

/** Of these clips the ones that the project still has; all of them until that is known. */
export function useClipsById(projectId: string, ids: readonly string[]): { clips: readonly ClipView[]; there: readonly string[]; isKnown: boolean } {
  const { data, isPlaceholderData } = useQuery({
    queryKey: ['clips', projectId, 'chosen', ids],
    queryFn: () => api.get(`projects/${projectId}/clips?ids=${ids.join()}&limit=1000`),
    enabled: ids.length > 0,
    placeholderData: keepPreviousData,
  });
  const clips = ids.length > 0 ? (data?.rows ?? []) : [];
  const isKnown = ids.length === 0 || (data !== undefined && !isPlaceholderData);
  return { clips, there: isKnown ? clips.map((clip) => clip.id) : ids, isKnown };
}

/** Some clips of a project, found by a few letters. */
export function ClipChoice({
  projectId,
  chosen,
  known,
  onChange,
}: {
  projectId: string;
  chosen: readonly string[];
  /** Clips whose names are known already. */
  known: readonly ClipView[];
  onChange: (ids: readonly string[]) => void;
}) {
  const [words, setWords] = useState('');
  const [asked] = useDebouncedValue(words.trim(), 150);
  const { data } = useQuery({
    queryKey: ['clips', projectId, 'offered', asked],
    queryFn: () => api.get(`projects/${projectId}/clips?${new URLSearchParams({ filter: asked, limit: String(MOST_OFFERED) })}`),
    placeholderData: keepPreviousData,
  });
  const byId = new Map([...known, ...(data?.rows ?? [])].map((clip) => [clip.id, clip.name]));
  return (
    <MultiSelect
      size="xs"
      miw={110}
      maw={300}
      aria-label="Clips that count"
      placeholder={chosen.length === 0 ? 'No clips' : ''}
      title="Single clips count as used between their marks, or whole"
      data={[...byId].map(([value, label]) => ({ value, label }))}
      value={[...chosen]}
      onChange={onChange}
      searchValue={words}
      onSearchChange={setWords}
      maxValues={100}
      clearable
      searchable
    />
  );
}
