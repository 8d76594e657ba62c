import { Button, Group, Loader, Select, TextInput } from '@mantine/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import type { ColumnMap, TablePreview } from '../../core/interchange/clip-list/clip-list-types';
import type { Place } from '../../core/media/item';
import type { Finding } from '../../core/words/finding';
import { formatRate, parseRate, rateLabel, type Rate } from '../../core/time/rate';

import { api, ApiError, sendFile } from '../shared/api';
import { Duration, plural } from '../shared/figures';
import { Findings } from '../shared/Findings';
import { useProject, useShelves } from '../shared/questions';
import { RATE_OPTIONS } from '../projects/rates';
import { useAdditions } from '../shared/use-additions';
import { isGoing, useReading } from '../shared/FindMedia';
import { ColumnChoice } from './ColumnChoice';
import { MatchLook, type MatchChoices } from './MatchLook';
import type { MatchSummary } from '../../server/projects/match-view';
import { sourceBody, type BringInActions, type ReadAs, type Source } from './use-bring-in';
import { Dialog } from '../shared/Dialog';

interface Props {
  readonly projectId: string;
  /** A file that was dropped; null to choose one. */
  readonly file: File | null;
  readonly onClose: () => void;
  readonly bringIn: BringInActions;
  readonly onUnpack: (bundle: Place) => void;
}

export interface Preview {
  readonly format: string | null;
  readonly timelines: readonly {
    readonly name: string;
    readonly bins: readonly string[];
    readonly rate: Rate;
    readonly dropFrame: boolean;
    readonly durationFrames: number;
    readonly events: number;
    readonly tracks: number;
  }[];
  readonly clips: number;
  readonly findings: readonly Finding[];
  readonly table: TablePreview | null;
  /** Null while its media is looked for. */
  readonly matches: MatchSummary | null;
}

const READING_PAUSE_MS = 1_500;
const BUNDLE = /\.otioz$/i;

/** First the file, then a look at what is in it, then it comes in. Links of a file on a shelf resolve from its folder. */
export function BringIn({ projectId, file, onClose, bringIn, onUnpack }: Props) {
  const [source, setSource] = useState<Source | null>(null);
  const [sending, setSending] = useState<string | null>(null);
  const [error, setError] = useState<Error | null>(null);
  const send = async (chosen: File) => {
    setError(null);
    if (BUNDLE.test(chosen.name)) {
      setError(
        new ApiError(
          400,
          'bundle',
          'A bundle carries media of its own.',
          'Copy it to a shelf and choose it there: its media is unpacked from there.',
        ),
      );
      return;
    }
    setSending(chosen.name);
    try {
      const { upload } = await sendFile(`uploads?name=${encodeURIComponent(chosen.name)}`, chosen);
      setSource({ name: chosen.name, upload });
    } catch (problem) {
      setError(problem as Error);
    } finally {
      setSending(null);
    }
  };
  useEffect(() => {
    if (file) void send(file);
  }, [file]);
  return (
    <Dialog opened onClose={onClose} title={source ? source.name : 'Bring in a timeline or a clip list'} size={source ? 900 : 'md'}>
      {error && <Trouble error={error} />}
      {sending ? (
        <div className="empty">
          <Loader size="sm" /> <b>{sending}</b>on its way in
        </div>
      ) : source ? (
        <LookAtIt projectId={projectId} source={source} onBack={() => setSource(null)} onClose={onClose} bringIn={bringIn} />
      ) : (
        <ChooseFile
          onFile={(chosen) => void send(chosen)}
          onPlace={(place, name) => (BUNDLE.test(name) ? onUnpack(place) : setSource({ place, name }))}
        />
      )}
    </Dialog>
  );
}

function Trouble({ error }: { error: Error }) {
  const hint = error instanceof ApiError ? error.hint : null;
  return (
    <div className="note stops apart" role="alert">
      <p>{error.message}</p>
      {hint && <p className="hint">{hint}</p>}
    </div>
  );
}

function ChooseFile({ onFile, onPlace }: { onFile: (file: File) => void; onPlace: (place: Place, name: string) => void }) {
  const input = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const [shelfId, setShelfId] = useState<string | null>(null);
  const [path, setPath] = useState('');
  const { data: shelves = [] } = useShelves();
  const { data: outside } = useQuery({
    queryKey: ['bridges'],
    queryFn: () => api.get('bridges'),
  });
  const endings = ['.otio', '.otioz', '.edl', '.csv', '.tsv', ...(outside?.bridges ?? []).flatMap((bridge) => bridge.endings)];
  const { data: items } = useQuery({
    queryKey: ['items', shelfId, endings.join()],
    queryFn: () => api.get(`shelves/${shelfId}/items?${new URLSearchParams({ endings: endings.join(), limit: '1000' })}`),
    enabled: shelfId !== null,
  });
  const found = (items?.rows ?? []).map((item) => item.place.path);
  return (
    <>
      <div
        className={over ? 'drop-target over' : 'drop-target'}
        role="button"
        tabIndex={0}
        onClick={() => input.current?.click()}
        onKeyDown={(event) => (event.key === 'Enter' || event.key === ' ') && (event.preventDefault(), input.current?.click())}
        onDragOver={(event) => (event.preventDefault(), setOver(true))}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => (
          event.preventDefault(),
          event.stopPropagation(),
          setOver(false),
          event.dataTransfer.files[0] && onFile(event.dataTransfer.files[0])
        )}
      >
        <b>Drop a file here, or choose one</b>
        <div className="soft">OpenTimelineIO (.otio), a CMX 3600 list (.edl), a clip list (.csv)</div>
        {outside && outside.bridges.length > 0 && (
          <div className="soft">
            By a bridge of this server: {outside.bridges.map((bridge) => `${bridge.name} (${bridge.endings.join(', ')})`).join('; ')}
          </div>
        )}
        <input
          ref={input}
          type="file"
          accept={[...endings, '.json', '.txt'].join(',')}
          hidden
          onChange={(event) => event.currentTarget.files?.[0] && onFile(event.currentTarget.files[0])}
        />
      </div>
      {outside?.problem && <Trouble error={new Error(outside.problem)} />}
      <p className="soft before-list">Or one that stands on a shelf, bundles (.otioz, .otiod) too:</p>
      <Group gap={8} align="end" wrap="nowrap">
        <Select
          aria-label="Shelf"
          placeholder="Shelf"
          w={150}
          data={shelves.filter((shelf) => shelf.attached).map((shelf) => ({ value: shelf.id, label: shelf.name }))}
          value={shelfId}
          onChange={setShelfId}
        />
        {found.length > 0 ? (
          <Select
            aria-label="Timeline file"
            placeholder="Timeline file"
            flex={1}
            data={found}
            value={path || null}
            onChange={(value) => setPath(value ?? '')}
            searchable
          />
        ) : (
          <TextInput
            aria-label="Path on the shelf"
            placeholder={shelfId ? 'Path on the shelf' : 'Choose a shelf first'}
            disabled={!shelfId}
            flex={1}
            value={path}
            onChange={(event) => setPath(event.currentTarget.value)}
          />
        )}
        <Button disabled={!shelfId || path === ''} onClick={() => onPlace({ shelfId: shelfId!, path }, path.split('/').at(-1)!)}>
          Look at it
        </Button>
      </Group>
    </>
  );
}

function LookAtIt({
  projectId,
  source,
  onBack,
  onClose,
  bringIn,
}: {
  projectId: string;
  source: Source;
  onBack: () => void;
  onClose: () => void;
  bringIn: BringInActions;
}) {
  const { data: project } = useProject(projectId);
  const [columns, setColumns] = useState<ColumnMap | null>(null);
  const [rate, setRate] = useState<Rate | null>(null);
  const [additions, setAdditions] = useAdditions(projectId);
  const [own, setOwn] = useState({ take: true, scope: null as Place | null });
  const choices: MatchChoices = { ...own, additions };
  const setChoices = ({ additions: rules, ...next }: MatchChoices) => {
    setOwn(next);
    if (rules !== additions) setAdditions(rules);
  };
  const [reading, setReading] = useState<string | null>(null);
  const { take, scope } = own;
  const as: ReadAs = { ...(columns ? { columns } : {}), ...(rate ? { rate } : {}), ...(scope ? { scope } : {}), ...(additions ? { additions } : {}) };
  const isReading = isGoing(useReading(reading));
  // What a long list holds is there at once; its media takes a while.
  const { data: text } = useQuery({
    queryKey: ['preview text', projectId, source, columns, rate],
    queryFn: () => api.post(`projects/${projectId}/preview`, sourceBody(source, { ...as, match: false })),
    retry: false,
  });
  const {
    data: whole,
    error,
    isFetching,
    isPlaceholderData,
  } = useQuery({
    queryKey: ['preview', projectId, source, as],
    queryFn: () => api.post(`projects/${projectId}/preview`, sourceBody(source, as)),
    retry: false,
    placeholderData: keepPreviousData,
    // What is read of a folder is found as it comes.
    refetchInterval: isReading ? READING_PAUSE_MS : false,
  });
  const data = whole ?? text;
  const shownRate = rate ?? project?.rate;
  const nothing = data !== undefined && data.timelines.length + data.clips === 0;
  return (
    <>
      {error && <Trouble error={error} />}
      {!data && !error && (
        <div className="empty">
          <Loader size="sm" /> <b>Reading it</b>
        </div>
      )}
      {data && (
        <div className={isFetching && whole ? 'preview fetching' : 'preview'}>
          <div className="controls">
            <b>{data.title ?? 'Not known'}</b>
            <span className="soft">
              {[data.timelines.length > 0 ? plural(data.timelines.length, 'timeline') : '', data.clips > 0 ? plural(data.clips, 'clip') : '']
                .filter((part) => part !== '')
                .join(', ')}
            </span>
            {!data.statesRate && shownRate && (
              <Select
                ml="auto"
                size="xs"
                w={190}
                aria-label="Rate of the list"
                leftSection={<span className="inside-label">counts at</span>}
                leftSectionWidth={76}
                data={RATE_OPTIONS}
                value={formatRate(shownRate)}
                allowDeselect={false}
                onChange={(value) => setRate(value ? parseRate(value) : null)}
                title="A list does not state its rate"
              />
            )}
          </div>
          {data.timelines.length > 0 && (
            <div className="panel look">
              {data.timelines.map((timeline, index) => (
                <div key={index}>
                  <b>{timeline.name}</b>
                  <span className="soft">{timeline.bins.join(' / ')}</span>
                  <Duration frames={timeline.durationFrames} rate={timeline.rate} dropFrame={timeline.dropFrame} />
                  <span>{rateLabel(timeline.rate)} fps</span>
                  <span>{plural(timeline.tracks, 'track')}</span>
                  <span>{plural(timeline.events, 'event')}</span>
                </div>
              ))}
            </div>
          )}
          {!data.matches && (
            <p className="soft" role="status">
              <Loader size="xs" /> Looking for the media of its clips
            </p>
          )}
          {data.matches && (
            <MatchLook
              matches={data.matches}
              choices={choices}
              onChoose={setChoices}
              readAt={shownRate}
              onReadAt={setRate}
              reading={reading}
              onReading={setReading}
            />
          )}
          {data.table && <ColumnChoice table={data.table} columns={columns ?? data.table.guess} onChange={setColumns} />}
          <div className="sheet-field">
            <Findings findings={data.findings} />
          </div>
        </div>
      )}
      <Group justify="flex-end" mt={16}>
        <Button variant="default" onClick={onBack}>
          Another file
        </Button>
        <Button
          // Not while it is only looked at again: a press must not fall into that.
          disabled={!whole || nothing || (isPlaceholderData && !isReading)}
          loading={bringIn.busy}
          onClick={() => void bringIn.bring(source, { ...as, match: take }).then((done) => done && onClose())}
        >
          Bring in
        </Button>
      </Group>
    </>
  );
}
