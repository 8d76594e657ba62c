import { Checkbox } from '@mantine/core';
import { type ReactNode } from 'react';
import { FINISH_PROBLEMS, PROBLEM_WORDS, type FinishRow } from '../../core/planning/finish/finish';
import { finishForm, type FinishSettings } from '../../core/planning/finish/settings';
import { Ask } from '../shared/Ask';
import { Empty } from '../shared/Empty';
import { PathText } from '../shared/PathText';
import { StateSign } from '../shared/StateSign';
import type { Column } from '../shared/table/VirtualTable';
import { usePlan } from '../shared/use-plan';
import { useRemembered } from '../shared/use-remembered';
import { useShelfNames } from '../shared/use-shelf-names';
import { PlanList } from '../shared/PlanList';
import { KeepPlan } from '../shared/KeepPlan';
import { TimelineSelect } from './TimelineSelect';
import { useTimelineChoice } from './use-timeline-choice';
import { ProxiesView } from './ProxiesView';

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
        <StateSign state={state} bare /> {read ?? <span className="soft">{state === 'made-here' ? 'no media' : 'nothing'}</span>}
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

/** Ready to deliver, or exactly where not. */
export function FinishCheck({ projectId, tabs }: { projectId: string; tabs: ReactNode }) {
  const [kept, change] = useRemembered<FinishSettings>(projectId, 'finish', initial);
  const { settings, timelines } = useTimelineChoice(projectId, kept);
  const state = usePlan('finish', projectId, settings, finishForm);
  const shelfName = useShelfNames();
  const counts = state.plan?.detail.counts;
  const groups = [
    { value: '', label: 'Not ready' },
    { value: 'all', label: 'All events' },
    ...FINISH_PROBLEMS.filter((is) => (counts?.[is] ?? 0) > 0).map((is) => ({ value: is, label: PROBLEM_WORDS[is] })),
  ];
  return (
    <ProxiesView
      title="Finish check"
      lead="Ready to deliver, or exactly where not."
      tabs={tabs}
      state={state}
      runLabel={null}
      sheet={
        <>
          <Ask plan={state.plan} code="no-timeline" />
          <KeepPlan
            projectId={projectId}
            kind="finish"
            settings={settings}
            name="Finish check"
            disabled={!state.plan || settings?.timelineId === null}
          />
        </>
      }
    >
      {settings && (
        <div className="controls scope">
          <TimelineSelect timelines={timelines} value={settings.timelineId} onChange={(timelineId) => change({ timelineId })} />
          <Checkbox
            size="xs"
            label="Switched off too"
            checked={settings.countDisabled}
            onChange={(event) => change({ countDisabled: event.currentTarget.checked })}
          />
        </div>
      )}
      <PlanList<FinishRow>
        projectId={projectId}
        kind="finish"
        state={state}
        label="Events and what they read"
        sort="record"
        columns={COLUMNS}
        rowKey={(row) => row.key}
        noun="event"
        find="event, track, timecode or file"
        groups={groups}
        empty={
          settings?.timelineId === null ? (
            <Empty title="No timeline yet">Bring in the one that is to be delivered.</Empty>
          ) : (
            <Empty title="Every event is ready">What each of them reads may be delivered.</Empty>
          )
        }
      >
        {({ name, state: own, place }) =>
          place && (
            <section className="panel rendition-strip" aria-label={`What ${name} reads`}>
              <div className="line read">
                <StateSign state={own} />
                <PathText path={place.path} shelf={shelfName(place.shelfId)} />
              </div>
            </section>
          )
        }
      </PlanList>
    </ProxiesView>
  );
}
