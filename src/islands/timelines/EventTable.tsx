import { frameToTimecode } from '../../core/time/timecode';
import type { DrawnEvent, TimelineView } from '../../server/api/views';
import { StateSign } from '../shared/StateSign';
import { VirtualTable, type Column } from '../shared/VirtualTable';
import { speedWords } from './draw-timeline';

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
      cell: (event) => (
        <span title={event.name} style={event.enabled ? undefined : { textDecoration: 'line-through' }}>
          {event.nestedIn && <span className="soft">{event.nestedIn} / </span>}
          {event.name}
        </span>
      ),
    },
    {
      key: 'record',
      title: 'Record in',
      width: '88px',
      cell: (event) => <span className="mono">{frameToTimecode(view.startFrame + event.start, view.rate, view.dropFrame)}</span>,
    },
    {
      key: 'length',
      title: 'Length',
      width: '54px',
      numeric: true,
      cell: (event) => <span title={frameToTimecode(event.durationFrames, view.rate, view.dropFrame)}>{event.durationFrames} fr.</span>,
    },
    { key: 'in', title: 'Source in', width: '88px', cell: (event) => <span className="mono">{event.sourceIn}</span> },
    { key: 'out', title: 'Source out', width: '88px', cell: (event) => <span className="mono">{event.sourceOut}</span> },
    { key: 'speed', title: 'Speed', width: '52px', numeric: true, cell: (event) => (event.speed === 1 ? '' : speedWords(event.speed)) },
  ];
  return (
    <VirtualTable
      label="Events"
      rows={events}
      columns={columns}
      rowKey={(event) => String(event.index)}
      selected={selected === null ? null : String(selected)}
      onSelect={(key) => onSelect(key === null ? null : Number(key))}
      empty={
        <div className="empty">
          <b>No event is like that</b>Change what you look for.
        </div>
      }
    />
  );
}
