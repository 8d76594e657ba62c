import { frameToTimecode } from '../../core/time/timecode';
import type { DrawnEvent, TimelineView } from '../../server/projects/views/timeline';
import { StateSign } from '../shared/StateSign';
import { VirtualTable, type Column } from '../shared/table/VirtualTable';
import { speedWords } from './draw-timeline';
import { Empty } from '../shared/Empty';

interface Props {
  readonly view: TimelineView;
  readonly events: readonly DrawnEvent[];
  readonly selected: number | null;
  readonly onSelect: (index: number | null) => void;
}

/** Events one by one, with their points. */
export function EventTable({ view, events, selected, onSelect }: Props) {
  const columns: readonly Column<DrawnEvent>[] = [
    { key: 'state', title: '', width: '16px', cell: (event) => <StateSign state={event.state} bare /> },
    {
      key: 'name',
      title: 'Event',
      width: 'minmax(120px, 1fr)',
      value: (event) => event.name,
      cell: (event) => (
        <span title={event.name} className={event.enabled ? undefined : 'off'}>
          {event.nestedIn && <span className="soft">{event.nestedIn} / </span>}
          {event.name}
        </span>
      ),
    },
    {
      key: 'record',
      title: 'Record in',
      width: '88px',
      value: (event) => event.start,
      cell: (event) => <span className="mono">{frameToTimecode(view.startFrame + event.start, view.rate, view.dropFrame)}</span>,
    },
    {
      key: 'length',
      title: 'Length',
      width: '54px',
      value: (event) => event.durationFrames,
      numeric: true,
      cell: (event) => <span title={frameToTimecode(event.durationFrames, view.rate, view.dropFrame)}>{event.durationFrames} fr.</span>,
    },
    {
      key: 'in',
      title: 'Source in',
      width: '88px',
      value: (event) => event.sourceIn,
      cell: (event) => <span className="mono">{event.sourceIn}</span>,
    },
    {
      key: 'out',
      title: 'Source out',
      width: '88px',
      value: (event) => event.sourceOut,
      cell: (event) => <span className="mono">{event.sourceOut}</span>,
    },
    {
      key: 'speed',
      title: 'Speed',
      width: '52px',
      numeric: true,
      value: (event) => event.speed,
      cell: (event) => (event.speed === 1 ? '' : speedWords(event.speed)),
    },
  ];
  return (
    <VirtualTable
      label="Events"
      rows={events}
      columns={columns}
      rowKey={(event) => String(event.index)}
      selected={selected === null ? null : String(selected)}
      onSelect={(key) => onSelect(key === null ? null : Number(key))}
      empty={<Empty title="No event is like that">Change what you look for.</Empty>}
    />
  );
}
