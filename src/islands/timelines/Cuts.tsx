import { Button, SegmentedControl, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState, type DragEvent, type ReactNode } from 'react';
import type { Place } from '../../core/media/item';
import type { TimelineSummary } from '../../server/projects/views/timeline';
import { api } from '../shared/api';
import { askedOf } from '../shared/asked';
import { Face, StaleNote } from '../shared/Face';
import { Gone } from '../shared/Gone';
import { useTimelines } from '../shared/questions';
import { timelineKnownAs } from '../shared/timeline-known-as';
import { usePinned } from '../shared/use-pinned';
import { useAddressPlace, useAddressView, useAddressWord } from '../shared/use-address';
import { Findings } from '../shared/Findings';
import { useStay } from '../shared/use-stay';
import { InStage } from '../shared/InStage';
import { IconExport, IconPlus, IconSearch } from '../shared/icons';
import { BringIn } from './BringIn';
import { EventSheet } from './EventSheet';
import { EventTable } from './EventTable';
import { ExportSheet } from './ExportSheet';
import { drawnEvents } from './lanes';
import { MediaNote } from './MediaNote';
import { RemoveTimeline } from './RemoveTimeline';
import { SourceTable } from './SourceTable';
import { TimelineCanvas, type CanvasHandle } from './TimelineCanvas';
import { TimelineTable } from './TimelineTable';
import { UnpackSheet } from './UnpackSheet';
import { useBringIn } from './use-bring-in';
import { Empty } from '../shared/Empty';

interface Props {
  readonly projectId: string;
  readonly tabs: ReactNode;
  readonly onCompare: (timelineId: string) => void;
}

/** The timelines of the project, the one in hand drawn to scale, its events and sources. */
export function Cuts({ projectId, tabs, onCompare }: Props) {
  const listed = useTimelines(projectId);
  const { data: list } = listed;
  const [chosen, setChosen] = useAddressPlace('timeline');
  const [ticked, setTicked] = useStay<ReadonlySet<string>>('ticked timelines', new Set());
  const first = usePinned(list?.[0]?.id, (id) => list?.some((entry) => entry.id === id) ?? true);
  const current = timelineKnownAs(list, chosen) ?? list?.find((entry) => entry.id === first);
  const viewed = useQuery({
    queryKey: ['timeline', projectId, current?.id],
    queryFn: () => api.get(`projects/${projectId}/timelines/${current!.id}`),
    enabled: current !== undefined,
  });
  const { data: view } = viewed;
  const [eventWord, setEventWord] = useAddressWord('event');
  const eventIndex = eventWord !== null && /^\d{1,9}$/.test(eventWord) ? Number(eventWord) : null;
  const setEventIndex = (index: number | null) => setEventWord(index === null ? null : String(index));
  const [sourceKey, setSourceKey] = useAddressWord('source');
  const [found, setFilter] = useAddressWord('find');
  const filter = found ?? '';
  const [lower, setLower] = useAddressView('list', ['sources', 'events']);
  const [dialog, setDialog] = useState<File | 'empty' | null>(null);
  const [sheet, setSheet] = useState<'event' | 'export' | { readonly bundle: Place }>('event');
  const canvas = useRef<CanvasHandle>(null);

  const choose = (id: string | null, event: number | null = null) => {
    setChosen(id);
    setEventIndex(event);
    setSourceKey(null);
    // What is being exported stays in hand; what was unpacked is what is gone to.
    setSheet((own) => (own === 'export' ? own : 'event'));
  };
  const bringIn = useBringIn(projectId, (id) => choose(id));
  useEffect(() => {
    if (view && eventIndex !== null) canvas.current?.reveal(eventIndex);
    // Once the timeline that was asked for is there.
  }, [view?.id]);

  const events = useMemo(() => (view ? drawnEvents(view.tracks, null) : []), [view]);
  const sources = useMemo(() => {
    const words = filter.toLowerCase().split(/\s+/);
    return (view?.sources ?? []).filter((source) =>
      words.every((word) => `${source.name} ${source.clipName} ${source.reel ?? ''}`.toLowerCase().includes(word)),
    );
  }, [view, filter]);
  const source = view?.sources.find((entry) => entry.key === sourceKey) ?? null;
  const event = events.find((entry) => entry.index === eventIndex) ?? null;
  const ofEvent = event ? (view?.sources.find((entry) => entry.clipId === event.clipId) ?? null) : null;
  const highlighted = useMemo(
    () => (filter === '' && source === null ? null : new Set(source !== null ? [source.clipId] : sources.map((entry) => entry.clipId))),
    [filter, sources, source],
  );
  const eventsFound = useMemo(() => {
    const words = filter.toLowerCase().split(/\s+/);
    const clips = new Set(sources.map((entry) => entry.clipId));
    return events.filter((entry) =>
      source
        ? entry.clipId === source.clipId
        : filter === '' || (entry.clipId && clips.has(entry.clipId)) || words.every((word) => entry.name.toLowerCase().includes(word)),
    );
  }, [events, sources, source, filter]);

  const take = (file: File | undefined) => file && setDialog(file);
  const drop = (dropped: DragEvent) => {
    dropped.preventDefault();
    take(dropped.dataTransfer.files[0]);
  };
  const [leaving, setLeaving] = useState<TimelineSummary | null>(null);
  const pick = (index: number | null) => {
    setEventIndex(index);
    if (index !== null) setSourceKey(null);
  };
  const exportIds = ticked.size > 0 ? [...ticked].filter((id) => list?.some((entry) => entry.id === id)) : current ? [current.id] : [];

  const aside =
    typeof sheet === 'object' ? (
      <UnpackSheet projectId={projectId} bundle={sheet.bundle} onClose={() => setSheet('event')} />
    ) : sheet === 'export' ? (
      <ExportSheet projectId={projectId} timelineIds={exportIds} onClose={() => setSheet('event')} />
    ) : view ? (
      <EventSheet
        projectId={projectId}
        view={view}
        event={event}
        source={event ? ofEvent : source}
        onOpen={(timelineId, index) => {
          choose(timelineId, index);
          if (timelineId === view.id) canvas.current?.reveal(index);
        }}
        onCounted={(timelineId) => choose(timelineId, eventIndex)}
      />
    ) : null;

  return (
    <InStage sheet={aside} asks={typeof sheet === 'object' ? 'unpack' : sheet}>
      <div className="timelines" onDragOver={(over) => over.preventDefault()} onDrop={drop}>
        <div className="stage-head">
          <h1>Timelines</h1>
          {tabs}
          <Button
            size="xs"
            ml="auto"
            variant="default"
            leftSection={<IconExport size={14} />}
            disabled={exportIds.length === 0}
            onClick={() => setSheet(sheet === 'export' ? 'event' : 'export')}
          >
            Export {ticked.size > 1 ? ticked.size : ''}
          </Button>
          <Button size="xs" leftSection={<IconPlus size={14} />} onClick={() => setDialog('empty')}>
            Bring in
          </Button>
        </div>
        {!list && (
          <Face asked={askedOf(listed)} lines={12}>
            {null}
          </Face>
        )}
        {list && <StaleNote asked={askedOf(listed)} />}
        {list && chosen !== null && current?.id !== chosen && <Gone what="The timeline" onLeave={() => choose(null)} />}
        {list?.length === 0 && (
          <Empty title="No timeline yet">
            Drop an OTIO file, a CMX 3600 list or a clip list here, or choose one. Nothing on your shelves is changed by it.
            <br />
            <Button size="xs" variant="default" onClick={() => setDialog('empty')}>
              Bring in a timeline
            </Button>
          </Empty>
        )}
        {list && current && (
          <>
            <TimelineTable
              timelines={list}
              current={current.id}
              ticked={ticked}
              onChoose={choose}
              onTick={setTicked}
              onRemove={setLeaving}
              onCompare={onCompare}
            />
            {current.findings.length > 0 && <Findings findings={current.findings} />}
            <MediaNote projectId={projectId} timeline={current} onBack={choose} />
            {!view && (
              <Face asked={askedOf(viewed)} lines={8}>
                {null}
              </Face>
            )}
            {view && <TimelineCanvas key={view.id} ref={canvas} view={view} selected={eventIndex} highlighted={highlighted} onSelect={pick} />}
            <div className="controls">
              <SegmentedControl
                size="xs"
                aria-label="List below"
                data={[
                  { value: 'sources', label: 'Sources' },
                  { value: 'events', label: source ? `Events of ${source.clipName}` : 'Events' },
                ]}
                value={lower}
                onChange={(value) => setLower(value as 'sources' | 'events')}
              />
              {source && lower === 'events' && (
                <button type="button" className="linkish soft" onClick={() => setSourceKey(null)}>
                  all events
                </button>
              )}
              <TextInput
                data-filter=""
                ml="auto"
                size="xs"
                w={230}
                placeholder="Find by clip, file or reel"
                aria-label="Find a source"
                leftSection={<IconSearch size={14} />}
                value={filter}
                onChange={(change) => setFilter(change.currentTarget.value)}
              />
            </div>
            {view === undefined ? null : lower === 'sources' ? (
              <SourceTable
                sources={sources}
                selected={event ? (ofEvent?.key ?? null) : sourceKey}
                onSelect={(key) => (setSourceKey(key), setEventIndex(null))}
                onEvents={(entry) => (setSourceKey(entry.key), setEventIndex(null), setLower('events'))}
              />
            ) : (
              <EventTable
                view={view}
                events={eventsFound}
                selected={eventIndex}
                onSelect={(index) => (setEventIndex(index), index !== null && canvas.current?.reveal(index))}
              />
            )}
          </>
        )}
      </div>
      {leaving && (
        <RemoveTimeline projectId={projectId} timeline={leaving} onClose={() => setLeaving(null)} onGone={() => (setLeaving(null), choose(null))} />
      )}
      {dialog !== null && (
        <BringIn
          projectId={projectId}
          file={dialog === 'empty' ? null : dialog}
          onClose={() => setDialog(null)}
          bringIn={bringIn}
          onUnpack={(bundle) => (setDialog(null), setSheet({ bundle }))}
        />
      )}
    </InStage>
  );
}
