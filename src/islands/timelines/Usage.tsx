import { MultiSelect, SegmentedControl, Switch, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { useMemo, type ReactNode } from 'react';
import { formatBytes } from '../../core/words/figures';
import { totalFrames } from '../../core/time/range';
import type { BinOnlyView, ItemUsageView, UsageTotals } from '../../server/projects/views/usage';
import { api } from '../shared/api';
import { askedOf, type QuestionState } from '../shared/asked';
import { Face } from '../shared/Face';
import { useBins, useTimelines } from '../shared/questions';
import { useAddressView, useAddressWord } from '../shared/use-address';
import { Bytes, Count, plural } from '../shared/figures';
import { InStage } from '../shared/InStage';
import { IconSearch } from '../shared/icons';
import { KeepBar } from '../shared/KeepBar';
import { PathText } from '../shared/PathText';
import { Poster } from '../shared/Poster';
import { StateSign } from '../shared/StateSign';
import { useRemembered } from '../shared/use-remembered';
import { useShelfNames, type ShelfNames } from '../shared/use-shelf-names';
import { sortedBy } from '../shared/table/column';
import { useOrder } from '../shared/table/use-order';
import { useWindow } from '../shared/table/use-window';
import type { ListWindow } from '../shared/table/use-window';
import { VirtualTable, type Column } from '../shared/table/VirtualTable';
import { alsoOfItems } from './also-of-items';
import { ClipChoice, useClipsById } from './ClipChoice';
import { useItemUses } from './use-item-uses';
import { UseList } from './UseList';
import { Empty } from '../shared/Empty';

interface Choice {
  /** Empty takes all timelines. */
  readonly timelineIds: readonly string[];
  readonly bins: readonly string[];
  readonly clipIds: readonly string[];
  readonly countDisabled: boolean;
  /** Pulled parts are listed beside their sources. */
  readonly parts: boolean;
}

/** As the overview counts: whatever any event of any timeline reads. */
const initial = (): Choice => ({ timelineIds: [], bins: [], clipIds: [], countDisabled: true, parts: false });

const SHOWN = ['used', 'never', 'bins'] as const;
type Shown = (typeof SHOWN)[number];
const LABELS: Readonly<Record<Shown, string>> = { used: 'Used items', never: 'Items never used', bins: 'Clips in bins only' };

interface Props {
  readonly projectId: string;
  readonly tabs: ReactNode;
  readonly onOpen: (timelineId: string, eventIndex: number) => void;
}

/** Which frames of which item are used, by whom; and what nobody uses. */
export function Usage({ projectId, tabs, onOpen }: Props) {
  const [choice, change] = useRemembered<Choice>(projectId, 'usage', initial);
  const listed = useTimelines(projectId);
  const { data: timelines = [] } = listed;
  const { data: bins } = useBins(projectId);
  const chosen = (choice?.timelineIds ?? []).filter((id) => timelines.some((timeline) => timeline.id === id));
  const { clips, there: clipIds, isKnown } = useClipsById(projectId, choice?.clipIds ?? []);
  const all = chosen.length + (choice?.bins.length ?? 0) + clipIds.length === 0;
  const asked = useMemo(
    () => ({
      timelineIds: all ? 'all' : chosen,
      bins: choice?.bins ?? [],
      clipIds,
      countDisabled: choice?.countDisabled ?? true,
      parts: choice?.parts ?? false,
    }),
    [choice, all, chosen.join(), clipIds.join()],
  );
  const isReady = choice !== null && isKnown && (all || chosen.length === 0 || timelines.length > 0);
  const summed = useQuery({
    queryKey: ['usage', projectId, asked],
    queryFn: () => api.postTo<UsageTotals>(`projects/${projectId}/usage`, asked),
    enabled: isReady,
    placeholderData: (old) => old,
  });
  const { data: totals } = summed;
  const [shown, setShown] = useAddressView('of', SHOWN);
  const [found, setFilter] = useAddressWord('find');
  const filter = found ?? '';
  const [words] = useDebouncedValue(filter.trim(), 150);
  const [selected, setSelected] = useAddressWord('item');
  const names = useShelfNames();
  const label = LABELS[shown];
  const withParts = choice?.parts ?? false;
  const columns = useMemo(() => (shown === 'used' ? USED_COLUMNS[withParts ? 'parts' : 'whole'] : neverColumns(names)), [shown, names, withParts]);
  const sorts = sortedBy(columns);
  const sort = useOrder(label, sorts, sorts.slice(1));
  const question = { ...asked, list: shown, filter: words, sort: sort.key, down: sort.down };
  const list = useWindow<ItemUsageView | BinOnlyView>(['usage', projectId], isReady ? `projects/${projectId}/usage` : null, question);
  const nothing = (said: string) => <Nothing words={said} filtered={words !== ''} />;
  // The list is asked for when it is known what counts.
  const rowsAsked = isReady ? list.asked : askedOf(listed);

  return (
    <InStage
      sheet={
        selected === null || shown === 'bins' ? (
          <UsageSums totals={totals} asked={askedOf(summed)} />
        ) : (
          <UsageSheet key={selected} projectId={projectId} asked={asked} of={selected} onOpen={onOpen} />
        )
      }
    >
      <div className="timelines">
        <div className="stage-head">
          <h1>Timelines</h1>
          {tabs}
        </div>
        {choice && (
          <div className="controls">
            <MultiSelect
              size="xs"
              miw={190}
              maw={420}
              aria-label="Timelines that count"
              placeholder={all ? `All ${timelines.length} timelines` : 'Add a timeline'}
              data={timelines.map((timeline) => ({ value: timeline.id, label: timeline.name }))}
              value={chosen}
              onChange={(timelineIds) => change({ timelineIds })}
              clearable
              searchable
            />
            <MultiSelect
              size="xs"
              miw={110}
              maw={300}
              aria-label="Bins that count"
              placeholder={choice.bins.length === 0 ? 'No bins' : ''}
              title="Clips of these bins count as used between their marks, or whole"
              data={(bins?.bins ?? []).map((bin) => bin.path)}
              value={[...choice.bins]}
              onChange={(list) => change({ bins: list })}
              clearable
              searchable
            />
            <ClipChoice projectId={projectId} chosen={clipIds} known={clips} onChange={(ids) => change({ clipIds: ids })} />
            <Switch
              size="xs"
              label="Switched off too"
              title="Count events and tracks that are switched off"
              checked={choice.countDisabled}
              onChange={(event) => change({ countDisabled: event.currentTarget.checked })}
            />
          </div>
        )}
        <div className="controls">
          <SegmentedControl
            size="xs"
            aria-label="What to list"
            data={[
              { value: 'used', label: `Used ${totals ? totals.used.items + totals.used.parts : ''}` },
              { value: 'never', label: `Never used ${totals ? totals.never.items + totals.never.parts : ''}` },
              { value: 'bins', label: `In bins only ${totals?.binOnly ?? ''}` },
            ]}
            value={shown}
            onChange={(value) => (setShown(value as Shown), setSelected(null))}
          />
          {choice && (
            <Switch
              size="xs"
              label="Pulled parts"
              title="List the files that hold parts of the items, with what is used of each"
              checked={choice.parts}
              onChange={(event) => change({ parts: event.currentTarget.checked })}
            />
          )}
          <TextInput
            data-filter=""
            ml="auto"
            size="xs"
            w={230}
            placeholder="Find by file, clip or reel"
            aria-label="Find an item"
            leftSection={<IconSearch size={14} />}
            value={filter}
            onChange={(event) => setFilter(event.currentTarget.value)}
          />
        </div>
        {shown === 'bins' ? (
          <VirtualTable
            label={label}
            rows={list.rows as readonly (BinOnlyView | undefined)[]}
            pages={list as ListWindow<BinOnlyView>}
            asked={rowsAsked}
            columns={BIN_COLUMNS}
            rowKey={(clip) => clip.id}
            selected={selected}
            onSelect={setSelected}
            empty={nothing('Every clip is on a timeline.')}
          />
        ) : (
          <VirtualTable
            label={label}
            also={() => alsoOfItems(names)}
            rows={list.rows as readonly (ItemUsageView | undefined)[]}
            pages={list as ListWindow<ItemUsageView>}
            asked={rowsAsked}
            sort={sort}
            onSort={sort.sortBy}
            columns={columns}
            rowKey={(item) => item.key}
            selected={selected}
            onSelect={setSelected}
            empty={nothing(shown === 'used' ? 'Nothing is used: bring in a timeline, or choose a bin.' : 'Every item is used by something.')}
          />
        )}
      </div>
    </InStage>
  );
}

function Nothing({ words, filtered }: { words: string; filtered: boolean }) {
  return <Empty title={filtered ? 'Nothing is called that' : words}>{filtered && 'Change what you look for.'}</Empty>;
}

function lengthOf(item: ItemUsageView): number {
  return Math.max(1, item.lengthFrames ?? totalFrames(item.used));
}

const nameColumn = (width: string): Column<ItemUsageView> => ({
  key: 'name',
  title: 'Item',
  width,
  cell: ({ name, partOf }) =>
    partOf ? (
      <span title={`${partOf}: ${name}`}>
        <span className="mono">{partOf.split(' · part ')[0]}</span> <span className="soft small">{partOf.split(' · part ').at(-1)}</span>
      </span>
    ) : (
      <span className="mono" title={name}>
        {name}
      </span>
    ),
});
const STATE: Column<ItemUsageView> = { key: 'state', title: '', width: '16px', cell: (item) => <StateSign state={item.state} bare /> };
const SIZE: Column<ItemUsageView> = {
  key: 'size',
  title: 'Size',
  width: '70px',
  numeric: true,
  cell: (item) => (item.sizeBytes === null ? '–' : <Bytes value={item.sizeBytes} />),
};

const usedColumns = (name: Column<ItemUsageView>): readonly Column<ItemUsageView>[] => [
  STATE,
  name,
  {
    key: 'bar',
    title: 'Used frames',
    unsorted: true,
    width: 'minmax(84px, 1.2fr)',
    cell: (item) => (
      <KeepBar lengthFrames={lengthOf(item)} used={item.used} kept={item.used} whole={false} offline={item.state === 'by-proxy'} title="Used parts" />
    ),
  },
  {
    key: 'share',
    title: 'Used',
    width: '44px',
    numeric: true,
    cell: (item) =>
      item.kind === 'still' ? 'still' : item.lengthFrames === null ? '–' : `${Math.round((100 * item.usedFrames) / lengthOf(item))} %`,
  },
  { key: 'events', title: 'Events', width: '44px', numeric: true, cell: (item) => <Count value={item.useCount} /> },
  { key: 'timelines', title: 'Timelines', width: '58px', numeric: true, cell: (item) => item.timelineCount },
  SIZE,
  {
    key: 'used',
    title: 'Used size',
    width: '70px',
    numeric: true,
    cell: (item) => (item.usedBytes === null ? '–' : <Bytes value={item.usedBytes} />),
  },
];

const USED_COLUMNS = { whole: usedColumns(nameColumn('minmax(158px, 1.1fr)')), parts: usedColumns(nameColumn('minmax(232px, 1.1fr)')) };

function neverColumns(names: ShelfNames): readonly Column<ItemUsageView>[] {
  return [
    STATE,
    {
      key: 'name',
      title: 'Item',
      width: 'minmax(180px, 1.6fr)',
      cell: (item) =>
        item.place ? <PathText path={item.place.path} shelf={names(item.place.shelfId)} /> : <span className="mono">{item.name}</span>,
    },
    { key: 'clips', title: 'Clips', unsorted: true, width: 'minmax(100px, 1fr)', cell: (item) => item.clips.map((clip) => clip.name).join(', ') },
    SIZE,
  ];
}

const BIN_COLUMNS: readonly Column<BinOnlyView>[] = [
  { key: 'state', title: '', width: '16px', cell: (clip) => <StateSign state={clip.state} bare /> },
  { key: 'name', title: 'Clip', width: 'minmax(140px, 1fr)', cell: (clip) => clip.name },
  { key: 'bin', title: 'Bin', width: 'minmax(140px, 1fr)', cell: (clip) => clip.binPath || <span className="soft">no bin</span> },
];

function UsageSheet({
  projectId,
  asked,
  of,
  onOpen,
}: {
  projectId: string;
  asked: object;
  /** Key of the item. */
  of: string;
  onOpen: (timelineId: string, eventIndex: number) => void;
}) {
  const uses = useItemUses(projectId, asked, of);
  const { item } = uses;
  if (!item)
    return (
      <div className="sheet-body">
        <Face asked={uses.asked}>{null}</Face>
      </div>
    );
  const unit = item.kind === 'audio' ? 'sample' : 'frame';
  const bar = (label: string, ranges: ItemUsageView['used']) =>
    ranges.length > 0 && (
      <div>
        <div className="soft label-above">
          {label} · {plural(totalFrames(ranges), unit)}
        </div>
        <KeepBar lengthFrames={lengthOf(item)} used={ranges} kept={ranges} whole={false} title={label} />
      </div>
    );
  return (
    <div className="sheet-body">
      <div>
        <div className="soft small">Item</div>
        <div className="mono item-title">{item.name}</div>
        {item.partOf && <div className="soft small">{item.partOf}</div>}
      </div>
      {item.itemId && item.kind !== 'audio' && item.state === 'present' && <Poster itemId={item.itemId} frame={item.used[0]?.start ?? 0} />}
      <dl>
        <dt>State</dt>
        <dd>
          <StateSign state={item.state} />
        </dd>
        <dt>Clips</dt>
        <dd>{item.clips.map((clip) => clip.name).join(', ')}</dd>
        {item.reel && (
          <>
            <dt>Reel</dt>
            <dd className="mono">{item.reel}</dd>
          </>
        )}
        <dt>Used</dt>
        <dd>
          {item.lengthFrames === null
            ? item.kind === 'still'
              ? 'a still'
              : `${plural(item.usedFrames, unit)} of a length that is not known`
            : `${plural(item.usedFrames, unit)} of ${plural(item.lengthFrames, unit)}`}
          {item.used.length > 1 && ` in ${item.used.length} parts`}
        </dd>
        {item.usedBytes !== null && item.sizeBytes !== null && (
          <>
            <dt>Used size</dt>
            <dd>
              <Bytes value={item.usedBytes} /> of <Bytes value={item.sizeBytes} />
            </dd>
          </>
        )}
      </dl>
      {bar('Picture', item.picture)}
      {bar('Sound', item.sound)}
      <UseList uses={uses} onOpen={onOpen} />
    </div>
  );
}

function UsageSums({ totals, asked }: { totals: UsageTotals | undefined; asked: QuestionState }) {
  if (!totals)
    return (
      <div className="sheet-body">
        <Face asked={asked}>{null}</Face>
      </div>
    );
  const { used, never, binOnly } = totals;
  return (
    <div className="sheet-body">
      <div className="big">
        {formatBytes(used.usedBytes)} <small>of {plural(used.items + never.items, 'item')}</small>
      </div>
      <p className="soft tight">What the chosen timelines and bins use, transitions and retimes counted, each frame once.</p>
      <dl>
        <dt>Used items, whole</dt>
        <dd>
          {plural(used.items, 'file')} · <Bytes value={used.bytes} />
        </dd>
        <dt>Their used parts</dt>
        <dd>
          <Bytes value={used.usedBytes} />
        </dd>
        <dt>Never used</dt>
        <dd>
          {plural(never.items, 'file')} · <Bytes value={never.bytes} />
        </dd>
        <dt>Clips in bins only</dt>
        <dd>{plural(binOnly, 'clip')}</dd>
      </dl>
      <p className="soft tight">Choose an item to see picture and sound apart, and who uses which part.</p>
    </div>
  );
}
