import type { ProxyRow } from '../../core/planning/proxies/proxies';
import type { RenditionCell } from '../../core/planning/proxies/rendition-cells';
import { Bytes } from '../shared/figures';
import { StateSign } from '../shared/StateSign';
import type { Column } from '../shared/table/VirtualTable';

/** One column a rendition, in the order in which they are usually read. `leaves`: shelves are left behind, and how clips stand then is told. */
export function proxyColumns(leaves: boolean): readonly Column<ProxyRow>[] {
  const [wide, rare] = ['minmax(122px, 0.4fr)', 'minmax(64px, 0.5fr)'];
  return [
    { key: 'name', title: 'Clip', width: 'minmax(92px, 1fr)', cell: ({ name }) => <span title={name}>{name}</span> },
    { key: 'source', title: 'Source', width: wide, unsorted: true, cell: ({ cells }) => <Cell cell={cells.source} /> },
    { key: 'mezzanine', title: 'Mezzanine', width: rare, unsorted: true, cell: ({ cells }) => <Cell cell={cells.mezzanine} /> },
    {
      key: 'size',
      title: 'Proxy',
      width: wide,
      cell: ({ cells, fate }) =>
        cells.proxy === null && fate === 'its own proxy' ? <span className="soft">is its own</span> : <Cell cell={cells.proxy} />,
    },
    { key: 'finished', title: 'Finished', width: rare, unsorted: true, cell: ({ cells }) => <Cell cell={cells.finished} /> },
    ...(leaves
      ? [
          {
            key: 'without',
            title: 'Then',
            width: '92px',
            unsorted: true,
            cell: ({ without }: ProxyRow) => <StateSign state={without} />,
          },
        ]
      : []),
    { key: 'fate', title: 'Now', width: leaves ? 'minmax(72px, 1fr)' : 'minmax(124px, 1fr)', unsorted: true, cell: (row) => <Fate row={row} /> },
  ];
}

function Cell({ cell }: { cell: RenditionCell | null }) {
  if (!cell) return <span className="soft">–</span>;
  const marks = marksOf(cell);
  return (
    <span className="rendition" title={[cell.preset ?? '', ...marks].filter((word) => word !== '').join(', ')}>
      <StateSign state={cell.state} bare /> {cell.height > 0 && <span className="lines">{cell.height}</span>}{' '}
      {marks.length > 0 ? (
        <span className="rendition-mark">{marks[0]}</span>
      ) : cell.bytes > 0 ? (
        <span className="soft">
          <Bytes value={cell.bytes} />
        </span>
      ) : null}
    </span>
  );
}

/** What speaks against a rendition, or sets it apart. */
export function marksOf({ older, misfits, burnIn }: RenditionCell): string[] {
  return [...(older ? ['older'] : []), ...misfits, ...(burnIn ? ['burn-in'] : [])];
}

function Fate({ row: { fate, preset, width, height, why } }: { row: ProxyRow }) {
  if (fate === 'made')
    return (
      <span className={why === '' ? undefined : 'rendition-mark'} title={why}>
        {preset} {width} × {height}
      </span>
    );
  const words = fate === 'cannot' ? why : fate === 'its own proxy' ? '' : fate;
  return (
    <span className={fate === 'cannot' ? 'rendition-mark' : 'soft'} title={why}>
      {words}
    </span>
  );
}
