import type { SourceUse } from '../../server/projects/views/timeline';
import { Bytes } from '../shared/figures';
import { KeepBar } from '../shared/KeepBar';
import { StateSign } from '../shared/StateSign';
import { VirtualTable, type Column } from '../shared/table/VirtualTable';
import { Empty } from '../shared/Empty';
import { plural } from '../../core/words/figures';

const COLUMNS: readonly Column<SourceUse>[] = [
  { key: 'state', title: '', width: '16px', cell: (source) => <StateSign state={source.state} bare /> },
  {
    key: 'name',
    title: 'Source',
    width: 'minmax(130px, 1fr)',
    value: (source) => source.name,
    cell: (source) => (
      <span className="mono" title={source.name}>
        {source.name}
      </span>
    ),
  },
  {
    key: 'reel',
    title: 'Reel',
    width: '66px',
    value: (source) => source.reel,
    group: (source) => (source.reel ? `Reel ${source.reel}` : 'No reel'),
    cell: (source) => <span className="mono">{source.reel ?? '–'}</span>,
  },
  {
    key: 'bar',
    title: 'Used, over the full length',
    width: 'minmax(140px, 1.2fr)',
    cell: (source) => (
      <KeepBar
        lengthFrames={Math.max(1, source.lengthFrames)}
        used={source.used}
        kept={source.used}
        whole={false}
        offline={source.state === 'by-proxy'}
        title={usedWords(source)}
      />
    ),
  },
  {
    key: 'share',
    title: 'Used',
    width: '48px',
    value: (source) => source.usedFrames / Math.max(1, source.lengthFrames),
    numeric: true,
    cell: (source) => (source.facts?.kind === 'still' ? 'still' : `${Math.round((100 * source.usedFrames) / Math.max(1, source.lengthFrames))} %`),
  },
  { key: 'events', title: 'Events', width: '48px', numeric: true, value: (source) => source.events, cell: (source) => source.events },
  {
    key: 'size',
    title: 'Size',
    width: '72px',
    value: (source) => source.sizeBytes,
    numeric: true,
    cell: (source) => (source.sizeBytes === null ? '–' : <Bytes value={source.sizeBytes} />),
  },
];

function usedWords(source: SourceUse): string {
  const unit = source.facts?.kind === 'audio' ? 'samples' : 'frames';
  return `${source.usedFrames} of ${source.lengthFrames} ${unit} in ${plural(source.used.length, 'part')}`;
}

interface Props {
  readonly sources: readonly SourceUse[];
  readonly selected: string | null;
  readonly onSelect: (key: string | null) => void;
  /** Space or a double click: the events of the source. */
  readonly onEvents: (source: SourceUse) => void;
}

export function SourceTable({ sources, selected, onSelect, onEvents }: Props) {
  return (
    <VirtualTable
      label="Sources"
      rows={sources}
      columns={COLUMNS}
      rowKey={(source) => source.key}
      selected={selected}
      onSelect={onSelect}
      onOpen={onEvents}
      empty={<Empty title="Nothing is called that">Change what you look for.</Empty>}
    />
  );
}
