import type { SourceUse } from '../../server/api/views';
import { Bytes } from '../shared/figures';
import { KeepBar } from '../shared/KeepBar';
import { StateSign } from '../shared/StateSign';
import { VirtualTable, type Column } from '../shared/VirtualTable';

const COLUMNS: readonly Column<SourceUse>[] = [
  { key: 'state', title: '', width: '16px', cell: (source) => <StateSign state={source.state} bare /> },
  {
    key: 'name',
    title: 'Source',
    width: 'minmax(150px, 220px)',
    cell: (source) => (
      <span className="mono" title={source.name}>
        {source.name}
      </span>
    ),
  },
  {
    key: 'bar',
    title: 'Used of full length',
    width: 'minmax(120px, 1fr)',
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
    numeric: true,
    cell: (source) => (source.facts?.kind === 'still' ? 'still' : `${Math.round((100 * source.usedFrames) / Math.max(1, source.lengthFrames))} %`),
  },
  { key: 'events', title: 'Events', width: '48px', numeric: true, cell: (source) => source.events },
  {
    key: 'size',
    title: 'Size',
    width: '72px',
    numeric: true,
    cell: (source) => (source.sizeBytes === null ? '–' : <Bytes value={source.sizeBytes} />),
  },
];

function usedWords(source: SourceUse): string {
  const unit = source.facts?.kind === 'audio' ? 'samples' : 'frames';
  return `${source.usedFrames} of ${source.lengthFrames} ${unit} in ${source.used.length} ${source.used.length === 1 ? 'part' : 'parts'}`;
}

export function SourceTable({
  sources,
  selected,
  onSelect,
}: {
  sources: readonly SourceUse[];
  selected: string | null;
  onSelect: (id: string | null) => void;
}) {
  return (
    <VirtualTable
      label="Sources"
      rows={sources}
      columns={COLUMNS}
      rowKey={(source) => source.clipId}
      selected={selected}
      onSelect={onSelect}
      empty={
        <div className="empty">
          <b>Nothing is called that</b>Change what you look for.
        </div>
      }
    />
  );
}
