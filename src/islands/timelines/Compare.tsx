import { Select } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { byName } from '../../core/naming/by-name';
import type { ChangeKind } from '../../core/project/compare';
import type { ComparedEvent, CompareView } from '../../server/projects/views/compare';
import type { TimelineSummary } from '../../server/projects/views/timeline';
import { api } from '../shared/api';
import { askedOf } from '../shared/asked';
import { Face } from '../shared/Face';
import { Gone } from '../shared/Gone';
import { useTimelines } from '../shared/questions';
import { timelineKnownAs } from '../shared/timeline-known-as';
import { useAddressPlace } from '../shared/use-address';
import { usePinned } from '../shared/use-pinned';
import { plural } from '../shared/figures';
import { InStage } from '../shared/InStage';
import { ShotPair, rowSteps, type RowSteps } from '../shared/player/ShotPair';
import { VirtualTable, type Column } from '../shared/table/VirtualTable';
import { Empty } from '../shared/Empty';

interface Props {
  readonly projectId: string;
  readonly tabs: ReactNode;
  readonly onOpen: (timelineId: string, eventIndex: number) => void;
}

const KINDS: Readonly<Record<Exclude<ChangeKind, 'same'>, { sign: string; word: string; colour: string; explains: string }>> = {
  added: { sign: '+', word: 'added', colour: 'var(--spruce)', explains: 'only in the newer version' },
  removed: { sign: '−', word: 'removed', colour: 'var(--brick)', explains: 'only in the older version' },
  exchanged: { sign: '⇄', word: 'exchanged', colour: 'var(--ink)', explains: 'other media in the same place' },
  moved: { sign: '↷', word: 'moved', colour: 'var(--dusk)', explains: 'to another place or track' },
  trimmed: { sign: '⇥', word: 'trimmed', colour: 'var(--ochre)', explains: 'other in or out point' },
  retimed: { sign: '≈', word: 'retimed', colour: 'var(--plum)', explains: 'another speed' },
  switched: { sign: '◐', word: 'switched', colour: 'var(--ink)', explains: 'switched on or off, itself or what is around it' },
  pushed: { sign: '→', word: 'pushed along', colour: 'var(--soft)', explains: 'only by what changed before it' },
};
type Kind = keyof typeof KINDS;
const ORDER = Object.keys(KINDS) as Kind[];

/** Two versions of a timeline: which events were added, removed, moved, trimmed. */
export function Compare({ projectId, tabs, onOpen }: Props) {
  const listed = useTimelines(projectId);
  const { data: timelines = [] } = listed;
  // Without both, those that belong together are suggested, for the newer one where it was asked for.
  const [askedOlder, setOlder] = useAddressPlace('older');
  const [askedNewer, setNewer] = useAddressPlace('newer');
  const older = timelineKnownAs(timelines, askedOlder)?.id ?? askedOlder;
  const newer = timelineKnownAs(timelines, askedNewer)?.id ?? askedNewer;
  const [first, second] = suggest(timelines, newer) ?? [];
  // A version that comes in meanwhile does not change what is compared under the hand.
  const isThere = (id: string) => newer === null && timelines.some((timeline) => timeline.id === id);
  const suggested = [usePinned(first?.id, isThere), usePinned(second?.id, isThere)];
  const before = older ?? suggested[0] ?? null;
  const after = older === null ? (suggested[1] ?? null) : newer;
  const gone = listed.data && [older, newer].some((id) => id !== null && !timelines.some((timeline) => timeline.id === id));
  const ready = before !== null && after !== null && before !== after;
  const compared = useQuery({
    queryKey: ['compare', projectId, before, after],
    queryFn: () => api.get(`projects/${projectId}/compare?before=${before}&after=${after}`),
    enabled: ready && !gone,
  });
  const { data } = compared;
  const [hidden, setHidden] = useState<ReadonlySet<Kind>>(new Set(['pushed']));
  const [selected, setSelected] = useState<string | null>(null);
  const toggle = (kind: Kind) =>
    setHidden((old) => {
      const next = new Set(old);
      if (!next.delete(kind)) next.add(kind);
      return next;
    });
  const keyed = (data?.changes ?? []).map((change, index) => ({ ...change, key: String(index) }));
  const rows = keyed.filter((change) => !hidden.has(change.kind as Kind));
  const current = keyed.find((change) => change.key === selected) ?? null;
  const options = timelines.map((timeline) => ({ value: timeline.id, label: timeline.name }));
  const picker = (label: string, value: string | null, which: 'before' | 'after') => (
    <Select
      size="xs"
      w={210}
      aria-label={label}
      leftSection={<span className="soft inside-label">{label}</span>}
      leftSectionWidth={54}
      data={options}
      value={value}
      allowDeselect={false}
      searchable
      onChange={(id) => {
        setOlder(which === 'before' ? id : before);
        setNewer(which === 'after' ? id : after);
        setSelected(null);
      }}
    />
  );
  return (
    <InStage
      sheet={
        <CompareSheet
          data={data}
          change={current}
          onOpen={after && current?.afterIndex != null ? () => onOpen(after, current.afterIndex!) : null}
          step={rowSteps(
            rows.map(({ key }) => key),
            selected,
            setSelected,
          )}
        />
      }
    >
      <div className="timelines">
        <div className="stage-head">
          <h1>Timelines</h1>
          {tabs}
        </div>
        {gone && <Gone what="A timeline" onLeave={() => (setOlder(null), setNewer(null))} />}
        {!listed.data ? (
          <Face asked={askedOf(listed)} lines={10}>
            {null}
          </Face>
        ) : timelines.length < 2 ? (
          <Empty title="One version is none to compare with">
            Bring in the timeline again in its newer version: both stay, and their difference is shown here.
          </Empty>
        ) : (
          <>
            <div className="controls">
              {picker('older', before, 'before')}
              {picker('newer', after, 'after')}
              <span className="soft">{data ? `${plural(data.counts.same, 'event')} the same` : ''}</span>
            </div>
            <div className="controls" role="group" aria-label="Kinds of change">
              {ORDER.filter((kind) => data?.counts[kind] !== 0).map((kind) => (
                <button
                  type="button"
                  key={kind}
                  className="kind-chip"
                  aria-pressed={!hidden.has(kind)}
                  title={KINDS[kind].explains}
                  onClick={() => toggle(kind)}
                >
                  <b style={{ color: KINDS[kind].colour }}>{KINDS[kind].sign}</b> {KINDS[kind].word} <b>{data?.counts[kind] ?? ''}</b>
                </button>
              ))}
            </div>
            <VirtualTable
              label="Changes"
              {...(ready ? { asked: askedOf(compared) } : {})}
              rows={rows}
              columns={COLUMNS}
              rowKey={(change) => change.key}
              selected={selected}
              onSelect={setSelected}
              onOpen={(change) => after && change.afterIndex !== null && onOpen(after, change.afterIndex)}
              empty={
                <Empty title={before === after ? 'The same timeline twice' : 'No change of these kinds'}>
                  {before === after && 'Choose two different ones.'}
                </Empty>
              }
            />
          </>
        )}
      </div>
    </InStage>
  );
}

/**
 * The two newest versions of the timeline asked for, else of the cut with most versions, by name and then by when they
 * came. Without versions of one cut: the one asked for after another.
 */
function suggest(timelines: readonly TimelineSummary[], wanted: string | null): readonly [TimelineSummary, TimelineSummary] | null {
  const families = new Map<string, TimelineSummary[]>();
  for (const timeline of timelines) families.set(timeline.family, [...(families.get(timeline.family) ?? []), timeline]);
  const asked = timelines.find((timeline) => timeline.id === wanted);
  const largest = [...families.values()].sort((a, b) => b.length - a.length)[0] ?? [];
  const family = asked ? families.get(asked.family)! : largest;
  const versions = family.length > 1 ? family : asked ? [...timelines.filter((timeline) => timeline !== asked).slice(-1), asked] : timelines;
  const sorted = family.length > 1 ? [...versions].sort((a, b) => byName(a.name, b.name) || a.broughtInAt.localeCompare(b.broughtInAt)) : versions;
  const [before, after] = sorted.slice(-2);
  return before && after ? [before, after] : null;
}

function frames(count: number): string {
  return count === 0 ? '' : `${count > 0 ? '+' : '−'}${Math.abs(count)} fr.`;
}

function shifts(change: ComparedEvent): string {
  const off = change.switched ? `, switched ${change.switched}` : '';
  if (change.speed) return `${change.speed}${off}`;
  const parts = [change.inShift === 0 ? '' : `in ${frames(change.inShift)}`, change.outShift === 0 ? '' : `out ${frames(change.outShift)}`];
  return [...parts, off.slice(2)].filter((part) => part !== '').join(', ');
}

const COLUMNS: readonly Column<ComparedEvent & { key: string }>[] = [
  {
    key: 'kind',
    title: 'Change',
    width: '112px',
    cell: (change) => {
      const { sign, word, colour } = KINDS[change.kind as Kind];
      return (
        <span style={{ color: colour }}>
          <b className="kind-sign">{sign}</b> {word}
        </span>
      );
    },
  },
  {
    key: 'name',
    title: 'Event',
    width: 'minmax(120px, 1fr)',
    cell: (change) => (
      <span title={change.name}>
        {change.nestedIn.length > 0 && <span className="soft">{change.nestedIn.join(' / ')} / </span>}
        {change.name}
      </span>
    ),
  },
  { key: 'track', title: 'Track', width: '40px', cell: (change) => change.track },
  { key: 'before', title: 'Record, older', width: '92px', cell: (change) => <span className="mono">{change.before ?? '–'}</span> },
  { key: 'after', title: 'Record, newer', width: '92px', cell: (change) => <span className="mono">{change.after ?? '–'}</span> },
  { key: 'shift', title: 'By how much', width: '170px', cell: (change) => shifts(change) },
];

interface SheetProps {
  readonly data: CompareView | undefined;
  readonly change: ComparedEvent | null;
  readonly onOpen: (() => void) | null;
  readonly step: RowSteps;
}

function CompareSheet({ data, change, onOpen, step }: SheetProps) {
  if (!data) return <div className="sheet-body" />;
  if (!change) {
    const changed = ORDER.filter((kind) => kind !== 'pushed').reduce((sum, kind) => sum + data.counts[kind], 0);
    return (
      <div className="sheet-body">
        <div className="big">
          {changed} <small>of {plural(changed + data.counts.pushed + data.counts.same, 'event')} changed</small>
        </div>
        <dl>
          {ORDER.map((kind) => (
            <div key={kind} className="terms">
              <dt>
                <b style={{ color: KINDS[kind].colour }}>{KINDS[kind].sign}</b> {KINDS[kind].word}
              </dt>
              <dd>{data.counts[kind]}</dd>
            </div>
          ))}
          <dt>the same</dt>
          <dd>{data.counts.same}</dd>
        </dl>
        <p className="soft tight">
          Events are matched by their source and its frames, so a shot that moved is not told as gone and new. What is only pushed along by a change
          before it can be shown above.
        </p>
      </div>
    );
  }
  const { sign, word, colour, explains } = KINDS[change.kind as Kind];
  return (
    <div className="sheet-body">
      <div>
        <div className="strong" style={{ color: colour }}>
          {sign} {word}
        </div>
        <div className="paper-title">{change.name}</div>
        <div className="soft">{explains}</div>
      </div>
      <dl>
        <dt>Track</dt>
        <dd>{[...change.nestedIn, change.track].join(' / ')}</dd>
        <dt>Record, older</dt>
        <dd className="mono">{change.before ?? 'not there'}</dd>
        <dt>Record, newer</dt>
        <dd className="mono">{change.after ?? 'not there'}</dd>
        <dt>Source, older</dt>
        <dd className="mono">{change.beforeSource ?? '–'}</dd>
        <dt>Source, newer</dt>
        <dd className="mono">{change.afterSource ?? '–'}</dd>
        {shifts(change) !== '' && (
          <>
            <dt>{change.speed ? 'Speed' : change.inShift || change.outShift ? 'Points moved' : 'Now'}</dt>
            <dd>{shifts(change)}</dd>
          </>
        )}
      </dl>
      <ShotPair title={change.name} before={change.beforeLook} after={change.afterLook} words={['Older', 'Newer']} step={step} />
      {onOpen && (
        <button type="button" className="linkish at-begin" onClick={onOpen}>
          Show it on the newer timeline
        </button>
      )}
    </div>
  );
}
