import { ActionIcon } from '@mantine/core';
import { rateLabel } from '../../core/time/rate';
import type { TimelineSummary } from '../../server/projects/views/timeline';
import { dayOf, shortDate } from '../shared/dates';
import { Count, Duration } from '../shared/figures';
import { IconDots } from '../shared/icons';
import { Menu } from '../shared/Menu';
import { VirtualTable, type Column } from '../shared/table/VirtualTable';

interface Props {
  readonly timelines: readonly TimelineSummary[];
  readonly current: string;
  readonly ticked: ReadonlySet<string>;
  readonly onChoose: (id: string) => void;
  readonly onTick: (ids: ReadonlySet<string>) => void;
  readonly onRemove: (timeline: TimelineSummary) => void;
  readonly onCompare: (id: string) => void;
}

/** "01:23", "1:02:03": running time for people, not for cutting. */
function clock(seconds: number): string {
  const whole = Math.round(seconds);
  const two = (value: number) => String(value).padStart(2, '0');
  const minutes = `${two(Math.floor(whole / 60) % 60)}:${two(whole % 60)}`;
  return whole >= 3600 ? `${Math.floor(whole / 3600)}:${minutes}` : minutes;
}

/** Every timeline of the project with its figures; ticked ones are exported together. */
export function TimelineTable({ timelines, current, ticked, onChoose, onTick, onRemove, onCompare }: Props) {
  const columns: readonly Column<TimelineSummary>[] = [
    {
      key: 'name',
      title: 'Timeline',
      width: 'minmax(120px, 1fr)',
      value: (row) => row.name,
      cell: (row) => <b className="strong">{row.name}</b>,
    },
    {
      key: 'length',
      title: 'Length',
      width: '86px',
      value: (row) => (row.durationFrames * row.rate.den) / row.rate.num,
      cell: (row) => <Duration frames={row.durationFrames} rate={row.rate} dropFrame={row.dropFrame} />,
    },
    {
      key: 'rate',
      title: 'Rate',
      width: '38px',
      numeric: true,
      value: (row) => row.rate.num / row.rate.den,
      group: (row) => `${rateLabel(row.rate)} fps`,
      cell: (row) => rateLabel(row.rate),
    },
    { key: 'events', title: 'Events', width: '42px', numeric: true, value: (row) => row.events, cell: (row) => <Count value={row.events} /> },
    { key: 'sources', title: 'Sources', width: '46px', numeric: true, value: (row) => row.clips, cell: (row) => <Count value={row.clips} /> },
    {
      key: 'used',
      title: 'Uses of its media',
      width: '104px',
      value: (row) => (row.mediaSeconds > 0 ? row.usedSeconds / row.mediaSeconds : null),
      cell: (row) => {
        const share = row.mediaSeconds > 0 ? Math.round((100 * row.usedSeconds) / row.mediaSeconds) : null;
        return (
          <span className="share" title={`${clock(row.usedSeconds)} of ${clock(row.mediaSeconds)} running time, stills not counted`}>
            <span className="keep">
              <i style={{ width: `${share ?? 0}%` }} />
            </span>
            <span>{share === null ? '–' : `${share} %`}</span>
          </span>
        );
      },
    },
    {
      key: 'offline',
      title: 'Offline',
      width: '44px',
      value: (row) => row.offlineEvents,
      numeric: true,
      cell: (row) => (row.offlineEvents === 0 ? '–' : <b className="bad">{row.offlineEvents}</b>),
    },
    {
      key: 'in',
      title: 'Brought in',
      width: '84px',
      value: (row) => row.broughtInAt,
      group: (row) => dayOf(row.broughtInAt),
      cell: (row) => <span title={row.sourceName}>{shortDate(row.broughtInAt)}</span>,
    },
    {
      key: 'more',
      title: '',
      width: '24px',
      cell: (row) => (
        <Menu position="bottom-end">
          <Menu.Target>
            <ActionIcon size={22} variant="subtle" color="gray" aria-label={`More for ${row.name}`} onClick={(event) => event.stopPropagation()}>
              <IconDots size={15} />
            </ActionIcon>
          </Menu.Target>
          <Menu.Dropdown onClick={(event) => event.stopPropagation()}>
            <Menu.Label>Brought in from {row.sourceName}</Menu.Label>
            <Menu.Item onClick={() => onCompare(row.id)}>Compare with another version</Menu.Item>
            <Menu.Item color="red" onClick={() => onRemove(row)}>
              Take it out of the project …
            </Menu.Item>
          </Menu.Dropdown>
        </Menu>
      ),
    },
  ];
  return (
    <div className="few-rows">
      <VirtualTable
        label="Timelines"
        rows={timelines}
        columns={columns}
        rowKey={(row) => row.id}
        selected={current}
        onSelect={(id) => id && onChoose(id)}
        ticks={{ ticked, onTick, words: (row) => `Export ${row.name}` }}
        empty={null}
      />
    </div>
  );
}
