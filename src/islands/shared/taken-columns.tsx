import type { TakenLine, TakenRow } from '../../core/planning/taking/taken';
import { totalFrames } from '../../core/time/range';
import { Bytes } from './figures';
import { KeepBar } from './KeepBar';
import { StateSign } from './StateSign';
import type { Column } from './table/VirtualTable';
import { plural } from '../../core/words/figures';

function HowWords({ row }: { row: TakenRow }) {
  if (row.method === 'trim') return <b>{plural(row.parts, 'exact part')}</b>;
  if (row.method === 'frames') return <b>{totalFrames(row.kept)} frames</b>;
  return (
    <>
      <b>whole</b> <span className="soft">{row.why}</span>
    </>
  );
}

export const TAKEN_COLUMNS: readonly Column<TakenLine>[] = [
  { key: 'state', title: '', width: '16px', cell: (row) => <StateSign state={row.taken?.state ?? row.offline!.state} bare /> },
  {
    key: 'name',
    title: 'Source',
    width: 'minmax(140px, 210px)',
    cell: (row) => (
      <span className="mono" title={row.taken?.place.path ?? row.offline?.name}>
        {row.taken?.name ?? row.offline!.name}
      </span>
    ),
  },
  {
    key: 'bar',
    title: 'Kept of full length',
    unsorted: true,
    width: 'minmax(100px, 1fr)',
    cell: ({ taken }) =>
      taken && (
        <KeepBar
          lengthFrames={taken.lengthFrames}
          used={taken.used}
          kept={taken.kept}
          whole={taken.method === 'whole'}
          title={`${totalFrames(taken.used)} of ${taken.lengthFrames} used, ${totalFrames(taken.kept)} kept`}
        />
      ),
  },
  {
    key: 'keeps',
    title: 'Keeps',
    width: '46px',
    numeric: true,
    cell: ({ taken }) => (taken ? `${Math.round((100 * taken.keepsBytes) / Math.max(1, taken.ofBytes))} %` : '–'),
  },
  {
    key: 'bytes',
    title: 'Size',
    width: '66px',
    numeric: true,
    cell: ({ taken }) => (taken ? <Bytes value={taken.keepsBytes} /> : '–'),
  },
  {
    key: 'how',
    title: 'How',
    width: '144px',
    numeric: true,
    cell: ({ taken, offline }) => (taken ? <HowWords row={taken} /> : <span className="bad">stays {offline!.state.replace('-', ' ')}</span>),
  },
];
