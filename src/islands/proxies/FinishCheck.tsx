import { Button, Checkbox, Select, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useMemo, useState, type ReactNode } from 'react';
import { FINISH_PROBLEMS, PROBLEM_WORDS, type FinishDetail, type FinishRow } from '../../core/planning/finish/finish';
import { finishForm, type FinishSettings } from '../../core/planning/finish/settings';
import { saveText } from '../shared/save-text';
import { Ask } from '../shared/Ask';
import { Empty } from '../shared/Empty';
import { Face, StaleNote } from '../shared/Face';
import { Frame } from '../shared/Frame';
import { IconSearch } from '../shared/icons';
import { tellError } from '../shared/notices';
import { PathText } from '../shared/PathText';
import { PlanSheet } from '../shared/PlanSheet';
import { useTimelines } from '../shared/questions';
import { StageHead } from '../shared/StageHead';
import { StateSign } from '../shared/StateSign';
import { useWindow } from '../shared/table/use-window';
import { VirtualTable, type Column } from '../shared/table/VirtualTable';
import { useAddressPlace, useAddressWord } from '../shared/use-address';
import { usePlan } from '../shared/use-plan';
import { useRemembered } from '../shared/use-remembered';
import { useShelfNames } from '../shared/use-shelf-names';
import './proxies.css';

const initial = (): FinishSettings => ({ timelineId: null, countDisabled: false });

const COLUMNS: readonly Column<FinishRow>[] = [
  { key: 'record', title: 'Record', width: '104px', cell: ({ record }) => <span className="mono">{record}</span> },
  { key: 'track', title: 'Track', width: 'minmax(48px, 0.5fr)', unsorted: true, cell: ({ track }) => <span title={track}>{track}</span> },
  { key: 'name', title: 'Event', width: 'minmax(96px, 1fr)', unsorted: true, cell: ({ name }) => <span title={name}>{name}</span> },
  {
    key: 'read',
    title: 'Reads',
    width: '108px',
    unsorted: true,
    cell: ({ state, read }) => (
      <span className="rendition">
        <StateSign state={state} bare /> {read ?? <span className="soft">nothing</span>}
      </span>
    ),
  },
  {
    key: 'why',
    title: 'Why not',
    width: 'minmax(150px, 1.6fr)',
    unsorted: true,
    cell: ({ problems }) => {
      const words = problems.map((problem) => problem.words).join(', ');
      return words === '' ? (
        <span className="soft">ready</span>
      ) : (
        <span className="rendition-mark" title={words}>
          {words}
        </span>
      );
    },
  },
];

/** Is every event ready to be delivered, or exactly where not? */
export function FinishCheck({ projectId, tabs }: { projectId: string; tabs: ReactNode }) {
  const [kept, change] = useRemembered<FinishSettings>(projectId, 'finish', initial);
  const { data: timelines } = useTimelines(projectId);
  // The first to begin with, and where the chosen one is gone.
  const settings = useMemo((): FinishSettings | null => {
    if (!kept || !timelines) return null;
    const known = timelines.some(({ id }) => id === kept.timelineId);
    return { ...kept, timelineId: known ? kept.timelineId : (timelines[0]?.id ?? null) };
  }, [kept, timelines]);
  const state = usePlan<FinishDetail>('finish', projectId, settings, finishForm);
  const [group, setGroup] = useAddressPlace('show');
  const [word, setWord] = useAddressWord('filter');
  const [filter] = useDebouncedValue(word ?? '', 150);
  const [down, setDown] = useState(false);
  const [selected, select] = useState<string | null>(null);
  const shelfName = useShelfNames();
  const list = useWindow<FinishRow>(['plan', 'rows', 'finish'], settings && state.plan ? 'plans/rows' : null, {
    projectId,
    kind: 'finish',
    settings,
    group: group ?? '',
    filter,
    sort: 'record',
    down,
  });
  const shown = list.rows.find((row) => row?.key === selected) ?? null;
  const counts = state.plan?.detail.counts;
  const groups = [
    { value: '', label: 'Not ready' },
    { value: 'all', label: 'All events' },
    ...FINISH_PROBLEMS.filter((is) => (counts?.[is] ?? 0) > 0 || is === group).map((is) => ({ value: is, label: PROBLEM_WORDS[is] })),
  ];
  return (
    <Frame
      projectId={projectId}
      stage="proxies"
      sheet={
        <PlanSheet state={state} idle={null} runLabel={null}>
          <Ask plan={state.plan} code="no-timeline" />
          <div className="controls">
            {(['html', 'csv'] as const).map((as) => (
              <Button
                key={as}
                size="xs"
                variant="default"
                flex={1}
                disabled={!state.plan || settings?.timelineId === null}
                onClick={() => void saveText('plans/keep', { projectId, kind: 'finish', settings, as }, `Finish check.${as}`).catch(tellError)}
              >
                {as === 'html' ? 'Keep as a page' : 'Keep as a table'}
              </Button>
            ))}
          </div>
        </PlanSheet>
      }
    >
      <StageHead title="Finish check" lead="Is every event ready to be delivered, or exactly where not?">
        {tabs}
      </StageHead>
      {settings && (
        <div className="controls scope">
          <Select
            size="xs"
            w={260}
            aria-label="Timeline"
            placeholder="No timeline"
            searchable
            data={(timelines ?? []).map(({ id, name }) => ({ value: id, label: name }))}
            value={settings.timelineId}
            allowDeselect={false}
            onChange={(timelineId) => change({ timelineId })}
          />
          <Checkbox
            size="xs"
            label="Switched off too"
            checked={settings.countDisabled}
            onChange={(event) => change({ countDisabled: event.currentTarget.checked })}
          />
        </div>
      )}
      <div className="controls">
        <TextInput
          data-filter=""
          size="xs"
          flex={1}
          placeholder="Find by event, track, timecode or file"
          aria-label="Find an event"
          leftSection={<IconSearch size={14} />}
          value={word ?? ''}
          onChange={(event) => setWord(event.currentTarget.value)}
        />
        <Select
          size="xs"
          w={196}
          aria-label="Which events"
          data={groups}
          value={group ?? ''}
          allowDeselect={false}
          onChange={(value) => setGroup(value === '' ? null : value)}
        />
      </div>
      {!state.plan ? (
        <Face asked={state.asked} lines={10}>
          {null}
        </Face>
      ) : (
        <>
          <StaleNote asked={state.asked} />
          <VirtualTable
            label="Events and what they read"
            asked={list.asked}
            rows={list.rows}
            onSee={list.see}
            onReach={list.reach}
            columns={COLUMNS}
            sort={{ key: 'record', down }}
            onSort={() => setDown(!down)}
            rowKey={(row) => row.key}
            selected={selected}
            onSelect={select}
            empty={
              settings?.timelineId === null ? (
                <Empty title="No timeline yet">Bring in the one that is to be delivered.</Empty>
              ) : (word ?? '') !== '' || (group ?? '') !== '' ? (
                <Empty title="No event is like that">{null}</Empty>
              ) : (
                <Empty title="Every event is ready">What each of them reads may be delivered.</Empty>
              )
            }
          />
          {shown?.place && (
            <section className="panel rendition-strip" aria-label={`What ${shown.name} reads`}>
              <div className="line read">
                <StateSign state={shown.state} />
                <PathText path={shown.place.path} shelf={shelfName(shown.place.shelfId)} />
              </div>
            </section>
          )}
        </>
      )}
    </Frame>
  );
}
