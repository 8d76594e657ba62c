import { Checkbox, SegmentedControl } from '@mantine/core';
import { useMemo, type ReactNode } from 'react';
import { decodeForm, type DecodeSettings } from '../../core/planning/decode/settings';
import type { DecodeRow } from '../../core/planning/decode/decode';
import type { Place } from '../../core/media/item';
import { formatCount, oneOrMany } from '../../core/words/figures';
import { plural } from '../shared/figures';
import { Empty } from '../shared/Empty';
import { InStage } from '../shared/InStage';
import { PathText } from '../shared/PathText';
import { PlacePicker } from '../shared/PlacePicker';
import { PlanList } from '../shared/PlanList';
import { PlanSheet } from '../shared/PlanSheet';
import { StageHead } from '../shared/StageHead';
import { useTimelineChoice } from '../shared/TakeSettings';
import { TimelinesPick } from '../shared/form/TimelinesPick';
import type { Column } from '../shared/table/VirtualTable';
import { usePlan } from '../shared/use-plan';
import { useRemembered } from '../shared/use-remembered';
import { useShelfNames } from '../shared/use-shelf-names';

interface Choice {
  readonly of: 'timelines' | 'folder';
  readonly timelineIds: readonly string[];
  readonly place: Place | null;
  readonly again: boolean;
}

const FIRST: Choice = { of: 'timelines', timelineIds: [], place: null, again: false };

/** Whether every frame that is used, or all media of a card or a drive, decodes: before it is trusted. */
export function DecodeMedia({ projectId, tabs }: { projectId: string; tabs: ReactNode }) {
  const [choice, change] = useRemembered<Choice>(projectId, 'decode', () => FIRST);
  const { of, place, again } = choice ?? FIRST;
  const { ids } = useTimelineChoice(projectId, choice?.timelineIds ?? []);
  const key = JSON.stringify(choice === null ? null : settingsOf(of, ids, place, again));
  const settings = useMemo(() => JSON.parse(key) as DecodeSettings | null, [key]);
  const state = usePlan('decode', projectId, settings, decodeForm, choice);
  const names = useShelfNames();
  const columns = useMemo(() => columnsOf(names), [names]);
  return (
    <InStage
      sheet={
        <PlanSheet
          state={state}
          idle={of === 'folder' ? 'Choose a card, a drive, or a folder of one.' : 'Bring in a timeline first.'}
          runLabel={({ blocked, headline }) => (blocked ? 'Decode' : `Decode ${plural(headline.value, 'file')}`)}
        >
          <Checkbox
            size="xs"
            label="Decode again what was decoded before"
            checked={again}
            onChange={(event) => change({ again: event.currentTarget.checked })}
          />
        </PlanSheet>
      }
    >
      <StageHead title="Decode media" lead="Every frame is read. Nothing is written.">
        {tabs}
      </StageHead>
      <div className="controls">
        <SegmentedControl
          size="xs"
          aria-label="Scope"
          data={[
            { value: 'timelines', label: 'Used frames' },
            { value: 'folder', label: 'All media of a folder' },
          ]}
          value={of}
          onChange={(value) => change({ of: value as Choice['of'] })}
        />
        {of === 'timelines' ? (
          <TimelinesPick projectId={projectId} value={ids} onChange={(timelineIds) => change({ timelineIds })} />
        ) : (
          <PlacePicker label="Folder" value={place} onChange={(next) => change({ place: next })} />
        )}
      </div>
      <PlanList<DecodeRow>
        projectId={projectId}
        kind="decode"
        state={state}
        settings={state.madeWith}
        label="Media to decode"
        sort="name"
        columns={columns}
        rowKey={({ itemId }) => itemId}
        noun="file"
        find="file or folder"
        groups={null}
        empty={<Empty title="Nothing to decode">{state.plan?.blocked}</Empty>}
      />
    </InStage>
  );
}

function settingsOf(of: Choice['of'], timelineIds: readonly string[], place: Place | null, again: boolean): DecodeSettings | null {
  if (of === 'timelines') return timelineIds.length === 0 ? null : { scope: { of, timelineIds }, again };
  return place === null ? null : { scope: { of, place }, again };
}

function columnsOf(names: (shelfId: string) => string): readonly Column<DecodeRow>[] {
  return [
    {
      key: 'name',
      title: 'File',
      width: 'minmax(220px, 1fr)',
      cell: ({ place }) => <PathText shelf={names(place.shelfId)} path={place.path} />,
    },
    {
      key: 'frames',
      title: 'To decode',
      width: '150px',
      numeric: true,
      cell: ({ frames, isSound }) =>
        frames === 0 ? <span className="soft">–</span> : `${formatCount(frames)} ${isSound ? 'samples' : oneOrMany(frames, 'frame', 'frames')}`,
    },
    {
      key: 'before',
      title: 'Decoded before',
      width: '120px',
      numeric: true,
      unsorted: true,
      cell: ({ before }) => (before === 0 ? <span className="soft">–</span> : formatCount(before)),
    },
    {
      key: 'damage',
      title: 'Damage',
      width: 'minmax(60px, 0.5fr)',
      unsorted: true,
      cell: ({ damage }) =>
        damage === null ? (
          <span className="soft">none known</span>
        ) : (
          <span className="bad clip" title={damage}>
            {damage}
          </span>
        ),
    },
  ];
}
