import { ActionIcon, Button, Menu, Select, TextInput } from '@mantine/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo, useState, type DragEvent } from 'react';
import type { TimelineSummary, TimelineView } from '../../server/api/views';
import { api } from '../shared/api';
import { Duration, plural } from '../shared/figures';
import { Findings } from '../shared/Findings';
import { Frame } from '../shared/Frame';
import { IconDots, IconPlus, IconSearch } from '../shared/icons';
import { tellError } from '../shared/notices';
import { rateLabel } from '../../core/time/rate';
import { BringIn } from './BringIn';
import { EventSheet } from './EventSheet';
import { SourceTable } from './SourceTable';
import { TimelineCanvas } from './TimelineCanvas';
import { useBringIn } from './use-bring-in';
import './timelines.css';

const asked = typeof window === 'undefined' ? new URLSearchParams() : new URLSearchParams(window.location.search);

/** What the timelines use, of which media, how much of each. */
export function Timelines({ projectId }: { projectId: string }) {
  const client = useQueryClient();
  const { data: list } = useQuery({
    queryKey: ['timelines', projectId],
    queryFn: () => api.get<TimelineSummary[]>(`projects/${projectId}/timelines`),
  });
  const [chosen, setChosen] = useState<string | null>(asked.get('timeline'));
  const current = list?.find((entry) => entry.id === chosen) ?? list?.[0];
  const { data: view } = useQuery({
    queryKey: ['timeline', projectId, current?.id],
    queryFn: () => api.get<TimelineView>(`projects/${projectId}/timelines/${current!.id}`),
    enabled: current !== undefined,
  });
  const [eventIndex, setEventIndex] = useState<number | null>(null);
  const [sourceId, setSourceId] = useState<string | null>(null);
  const [filter, setFilter] = useState(asked.get('find') ?? '');
  const [opened, setOpened] = useState(false);
  const bringIn = useBringIn(projectId, (id) => {
    setChosen(id);
    setEventIndex(null);
  });

  const sources = useMemo(() => {
    const words = filter.toLowerCase().split(/\s+/);
    return (view?.sources ?? []).filter((source) => words.every((word) => `${source.name} ${source.facts?.reel ?? ''}`.toLowerCase().includes(word)));
  }, [view, filter]);
  const highlighted = useMemo(
    () => (filter === '' && sourceId === null ? null : new Set(sourceId !== null ? [sourceId] : sources.map((source) => source.clipId))),
    [filter, sources, sourceId],
  );
  const event = view?.tracks.flatMap((track) => track.events).find((entry) => entry.index === eventIndex) ?? null;
  const source = view?.sources.find((entry) => entry.clipId === (event?.clipId ?? sourceId)) ?? null;

  const choose = (id: string | null) => {
    setChosen(id);
    setEventIndex(null);
    setSourceId(null);
  };
  const remove = () =>
    current && void api.remove(`projects/${projectId}/timelines/${current.id}`).then(() => (choose(null), client.invalidateQueries()), tellError);
  const drop = (dropped: DragEvent) => {
    dropped.preventDefault();
    for (const file of dropped.dataTransfer.files) void bringIn.fromFile(file);
  };

  return (
    <Frame projectId={projectId} stage="timelines" sheet={view ? <EventSheet view={view} event={event} source={source} /> : null}>
      <div className="timelines" onDragOver={(over) => over.preventDefault()} onDrop={drop}>
        <div style={{ display: 'flex', alignItems: 'end', gap: 10 }}>
          <div style={{ flex: 1, minWidth: 0 }}>
            <h1>Timelines</h1>
            <p className="lead">What they use, of which media, how much of each.</p>
          </div>
          <Button size="xs" leftSection={<IconPlus size={14} />} onClick={() => setOpened(true)}>
            Bring in a timeline
          </Button>
        </div>
        {list?.length === 0 && (
          <div className="empty">
            <b>No timeline yet</b>
            Drop an OTIO file or a CMX 3600 list here, or choose one. Nothing on your shelves is changed by it.
          </div>
        )}
        {current && (
          <>
            <div className="controls">
              <Select
                size="xs"
                w={230}
                aria-label="Timeline"
                data={list!.map((entry) => ({ value: entry.id, label: entry.name }))}
                value={current.id}
                onChange={choose}
                allowDeselect={false}
                searchable
              />
              <span className="soft">
                <Duration frames={current.durationFrames} rate={current.rate} dropFrame={current.dropFrame} /> · {rateLabel(current.rate)} fps ·{' '}
                {plural(current.events, 'event')} · {plural(current.clips, 'source')}
                {current.offlineEvents > 0 && <b style={{ color: 'var(--brick)' }}> · {current.offlineEvents} offline</b>}
              </span>
              <Menu position="bottom-end">
                <Menu.Target>
                  <ActionIcon variant="subtle" color="gray" aria-label="More for this timeline">
                    <IconDots size={16} />
                  </ActionIcon>
                </Menu.Target>
                <Menu.Dropdown>
                  <Menu.Label>Brought in from {current.sourceName}</Menu.Label>
                  <Menu.Item color="red" onClick={remove}>
                    Take it out of the project (files stay)
                  </Menu.Item>
                </Menu.Dropdown>
              </Menu>
            </div>
            {current.findings.length > 0 && <Findings findings={current.findings} />}
            {view && (
              <TimelineCanvas
                key={view.id}
                view={view}
                selected={eventIndex}
                highlighted={highlighted}
                onSelect={(index) => (setEventIndex(index), setSourceId(null))}
              />
            )}
            <div className="controls">
              <b style={{ fontSize: 14 }}>Sources</b>
              <TextInput
                data-filter=""
                ml="auto"
                size="xs"
                w={230}
                placeholder="Find by file or reel"
                aria-label="Find a source"
                leftSection={<IconSearch size={14} />}
                value={filter}
                onChange={(change) => setFilter(change.currentTarget.value)}
              />
            </div>
            <SourceTable sources={sources} selected={event?.clipId ?? sourceId} onSelect={(id) => (setSourceId(id), setEventIndex(null))} />
          </>
        )}
      </div>
      <BringIn opened={opened} onClose={() => setOpened(false)} bringIn={bringIn} />
    </Frame>
  );
}
