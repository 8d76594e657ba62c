import { useMemo } from 'react';
import type { TakenDetail, TakenRow } from '../../core/planning/taking/taken';
import { totalFrames } from '../../core/time/range';
import type { Asked } from './asked';
import { Bytes } from './figures';
import { useAddressWord } from './use-address';
import { KeepBar } from './KeepBar';
import { StateSign } from './StateSign';
import { VirtualTable, type Column } from './table/VirtualTable';

type Row = { readonly key: string; readonly taken: TakenRow | null; readonly offline: TakenDetail['offline'][number] | null };

function HowWords({ row }: { row: TakenRow }) {
  if (row.method === 'trim') return <b>{row.parts === 1 ? '1 exact part' : `${row.parts} exact parts`}</b>;
  if (row.method === 'frames') return <b>{totalFrames(row.kept)} frames</b>;
  return (
    <>
      <b>whole</b> <span className="soft">{row.why}</span>
    </>
  );
}

const HOW = { trim: 'Cut without re-encoding', frames: 'Frames copied', whole: 'Copied whole' } as const;

function howGroup({ taken, offline }: Row): string {
  return taken ? HOW[taken.method] : `Stays ${offline!.state.replace('-', ' ')}`;
}

const COLUMNS: readonly Column<Row>[] = [
  { key: 'state', title: '', width: '16px', cell: (row) => <StateSign state={row.taken?.state ?? row.offline!.state} bare /> },
  {
    key: 'name',
    title: 'Source',
    width: 'minmax(140px, 210px)',
    value: (row) => row.taken?.name ?? row.offline!.name,
    cell: (row) => (
      <span className="mono" title={row.taken?.place.path ?? row.offline?.name}>
        {row.taken?.name ?? row.offline!.name}
      </span>
    ),
  },
  {
    key: 'bar',
    title: 'Kept of full length',
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
    value: ({ taken }) => (taken ? taken.keepsBytes / Math.max(1, taken.ofBytes) : null),
    numeric: true,
    cell: ({ taken }) => (taken ? `${Math.round((100 * taken.keepsBytes) / Math.max(1, taken.ofBytes))} %` : '–'),
  },
  {
    key: 'bytes',
    title: 'Size',
    width: '66px',
    numeric: true,
    value: ({ taken }) => taken?.keepsBytes ?? null,
    cell: ({ taken }) => (taken ? <Bytes value={taken.keepsBytes} /> : '–'),
  },
  {
    key: 'how',
    title: 'How',
    width: '144px',
    value: howGroup,
    group: howGroup,
    numeric: true,
    cell: ({ taken, offline }) => (taken ? <HowWords row={taken} /> : <span className="bad">stays {offline!.state.replace('-', ' ')}</span>),
  },
];

/** What is taken of each source, as keep bars; what is offline stands at the end. */
export function TakenTable({ asked, detail, empty }: { asked: Asked; detail: TakenDetail | undefined; empty: React.ReactNode }) {
  const [selected, setSelected] = useAddressWord('source');
  const rows = useMemo(
    (): Row[] => [
      ...(detail?.rows ?? []).map((taken) => ({ key: taken.itemId, taken, offline: null })),
      ...(detail?.offline ?? []).map((offline) => ({ key: offline.clipId, taken: null, offline })),
    ],
    [detail],
  );
  return (
    <VirtualTable
      label="What is taken"
      asked={asked}
      rows={rows}
      columns={COLUMNS}
      rowKey={(row) => row.key}
      selected={selected}
      onSelect={setSelected}
      empty={empty}
    />
  );
}
