import { Checkbox, TextInput } from '@mantine/core';
import { type ReactNode } from 'react';
import type { ExchangeDetail, ShotRow, ShotSide } from '../../core/planning/exchange/exchange';
import { exchangeForm, type ExchangeSettings } from '../../core/planning/exchange/settings';
import type { PlanView } from '../../server/kinds/plan-views';
import { Ask } from '../shared/Ask';
import { dayOf } from '../shared/dates';
import { Empty } from '../shared/Empty';
import { Bytes, plural } from '../shared/figures';
import { Choice } from '../shared/form/Choice';
import { PathText } from '../shared/PathText';
import { PlacePicker } from '../shared/PlacePicker';
import { ShotPair, type Look, type RowSteps } from '../shared/player/ShotPair';
import { Poster } from '../shared/Poster';
import type { Column } from '../shared/table/VirtualTable';
import { usePlan, type PlanState } from '../shared/use-plan';
import { useRemembered } from '../shared/use-remembered';
import { useShelfNames } from '../shared/use-shelf-names';
import { PlanList } from '../shared/PlanList';
import { ClipScopePick } from './ClipScopePick';
import { NameRules } from './NameRules';
import { TimelineSelect } from './TimelineSelect';
import { useTimelineChoice } from './use-timeline-choice';
import { ProxiesView } from './ProxiesView';

const initial = (): ExchangeSettings => ({
  timelineId: null,
  scope: { of: 'project' },
  among: 'folder',
  place: null,
  endings: '_graded, _finished, _v1, _v2',
  inFolders: '',
  what: 'picture',
  parts: false,
  newest: false,
  inPlace: false,
  name: '',
  choices: {},
});

const GROUPS: readonly { readonly value: string; readonly label: string }[] = [
  { value: '', label: 'All events' },
  { value: 'exchanged', label: 'Exchanged' },
  { value: 'open', label: 'Not exchanged' },
  { value: 'choose', label: 'To be chosen' },
  { value: 'lacks', label: 'Do not fit' },
  { value: 'none', label: 'Nothing found' },
];

const WORRIES = ['offered', 'lacks', 'unfit'];

const COLUMNS: readonly Column<ShotRow>[] = [
  { key: 'record', title: 'Record', width: '104px', cell: ({ record }) => <span className="mono">{record}</span> },
  { key: 'track', title: 'Track', width: 'minmax(56px, 0.5fr)', unsorted: true, cell: ({ track }) => <span title={track}>{track}</span> },
  { key: 'name', title: 'Event', width: 'minmax(96px, 1fr)', unsorted: true, cell: ({ name }) => <span title={name}>{name}</span> },
  {
    key: 'after',
    title: 'Reads then',
    width: 'minmax(120px, 1.2fr)',
    unsorted: true,
    cell: ({ before, after }) => {
      const side = after ?? before;
      return (
        <span className={after ? 'mono' : 'mono soft'} title={side?.name}>
          {side?.name ?? '–'}
        </span>
      );
    },
  },
  {
    key: 'fate',
    title: 'Why',
    width: 'minmax(150px, 1.2fr)',
    unsorted: true,
    cell: ({ fate, why }) => (
      <span className={WORRIES.includes(fate) ? 'rendition-mark' : fate === 'exchanged' ? undefined : 'soft'} title={why}>
        {why}
      </span>
    ),
  },
];

/** Other pictures or sound under the same edit, event by event, before and after side by side. */
export function Exchange({ projectId, tabs }: { projectId: string; tabs: ReactNode }) {
  const [kept, change] = useRemembered<ExchangeSettings>(projectId, 'exchange', initial);
  const { settings, timelines } = useTimelineChoice(projectId, kept);
  const state = usePlan('exchange', projectId, settings, exchangeForm);
  const shelfName = useShelfNames();
  return (
    <ProxiesView
      title="Exchange"
      lead="Better pictures under the same edit."
      tabs={tabs}
      state={state}
      runLabel={runWords}
      sheet={settings && <ExchangeSheet settings={settings} onChange={change} state={state} />}
    >
      {settings && (
        <div className="controls scope what-if">
          <TimelineSelect timelines={timelines} value={settings.timelineId} onChange={(timelineId) => change({ timelineId, choices: {} })} />
          <ClipScopePick projectId={projectId} scope={settings.scope} onChange={(scope) => change({ scope })} without="timelines" />
          <Choice
            label="What takes their place"
            width={190}
            options={[
              ['folder', 'What lies in a folder'],
              ['finished', 'Their finished pictures'],
              ['mezzanine', 'Their mezzanines'],
            ]}
            value={settings.among}
            onChange={(among) => change({ among, choices: {} })}
          />
          {settings.among === 'folder' && (
            <PlacePicker label="Where they lie" value={settings.place} onChange={(place) => change({ place, choices: {} })} />
          )}
        </div>
      )}
      <PlanList<ShotRow>
        projectId={projectId}
        kind="exchange"
        state={state}
        label="Events and what takes their place"
        sort="record"
        columns={COLUMNS}
        rowKey={(row) => row.key}
        noun="event"
        find="event, track, timecode or file"
        groups={GROUPS}
        empty={
          settings?.timelineId === null ? (
            <Empty title="No timeline yet">Bring in the one whose pictures are to be exchanged.</Empty>
          ) : (
            <Empty title="No event of this kind">
              Nothing on this timeline reads {settings?.what === 'sound' ? 'sound' : 'pictures'} of these clips.
            </Empty>
          )
        }
      >
        {(row, step) => (
          <Shot
            row={row}
            step={step}
            inFolder={settings?.among === 'folder'}
            shelfName={shelfName}
            onChoose={(itemId) => settings && change({ choices: { ...settings.choices, [row.key]: itemId } })}
          />
        )}
      </PlanList>
    </ProxiesView>
  );
}

interface SheetProps {
  readonly settings: ExchangeSettings;
  readonly onChange: (change: Partial<ExchangeSettings>) => void;
  readonly state: PlanState<ExchangeDetail>;
}

/** What is exchanged, by which names it is known, and on which timeline. */
function ExchangeSheet({ settings, onChange, state }: SheetProps) {
  const { detail } = state.plan ?? {};
  return (
    <>
      <Ask plan={state.plan} code="no-timeline" />
      <Ask plan={state.plan} code="no-folder" />
      <div className="controls">
        <Choice
          label="What is exchanged"
          width={140}
          options={[
            ['picture', 'Picture'],
            ['sound', 'Sound'],
            ['both', 'Both'],
          ]}
          value={settings.what}
          onChange={(what) => onChange({ what })}
        />
        <Choice
          label="On which timeline"
          width={150}
          options={[
            ['new', 'On a new one'],
            ['place', 'In its place'],
          ]}
          value={settings.inPlace ? 'place' : 'new'}
          onChange={(where) => onChange({ inPlace: where === 'place', name: '' })}
        />
      </div>
      <TextInput
        size="xs"
        label={settings.inPlace ? 'The old one is kept as' : 'Name of the new timeline'}
        placeholder={settings.inPlace ? `${detail?.timeline ?? ''} · before the exchange` : `${detail?.timeline ?? ''} · exchanged`}
        error={state.invalid.name}
        value={settings.name}
        onChange={(event) => onChange({ name: event.currentTarget.value })}
      />
      {settings.among === 'folder' && (
        <NameRules
          label="How they are called, where reel and timecode do not tell"
          as="The name of the source, or that with one of these endings"
          rules={settings}
          invalid={state.invalid}
          onChange={onChange}
        />
      )}
      <Checkbox
        size="xs"
        label="Where several fit, take the newest"
        checked={settings.newest}
        onChange={(event) => onChange({ newest: event.currentTarget.checked })}
      />
      {settings.among === 'folder' && (
        <Checkbox
          size="xs"
          label="Pulled parts too"
          checked={settings.parts}
          onChange={(event) => onChange({ parts: event.currentTarget.checked })}
        />
      )}
    </>
  );
}

interface ShotProps {
  readonly row: ShotRow;
  readonly step: RowSteps;
  /** All of them lie in one folder, which is known. */
  readonly inFolder: boolean;
  readonly shelfName: (id: string) => string;
  readonly onChoose: (itemId: string | null) => void;
}

/** The shot in hand: before and after, and all files that may be it. */
function Shot({ row, step, inFolder, shelfName, onChoose }: ShotProps) {
  return (
    <section className="panel shot" aria-label={`${row.name} before and after`}>
      <ShotPair title={row.name} before={lookOf(row.before)} after={lookOf(row.after)} words={['Before', 'After']} step={step} />
      <div className="rendition-strip shot-files">
        {row.candidates.length === 0 && <span className="soft">{row.why}</span>}
        {row.candidates.map(({ key, itemId, place, bytes, by, misfits, range, modifiedMs }) => (
          <div key={key} className="shot-file">
            <Checkbox
              size="xs"
              aria-label={`Read ${place.path}`}
              disabled={misfits.length > 0}
              checked={row.chosen === key}
              onChange={(event) => onChoose(event.currentTarget.checked ? key : null)}
            />
            <Poster itemId={itemId} frame={range.start} />
            <PathText path={place.path} shelf={inFolder ? undefined : shelfName(place.shelfId)} />
            <span
              className={misfits.length > 0 ? 'rendition-mark' : 'soft'}
              title={`${dayOf(new Date(modifiedMs).toISOString())} · ${misfits.join(', ') || by}`}
            >
              {dayOf(new Date(modifiedMs).toISOString())} · {misfits.join(', ') || by}
            </span>
            <Bytes value={bytes} />
          </div>
        ))}
      </div>
    </section>
  );
}

function lookOf(side: ShotSide | null): Look | null {
  return side?.itemId ? { itemId: side.itemId, name: side.name, range: side.range } : null;
}

function runWords({ blocked, headline }: PlanView<ExchangeDetail>): string {
  return blocked !== null ? 'Run this plan' : `Exchange ${plural(headline.value, 'event')}`;
}
