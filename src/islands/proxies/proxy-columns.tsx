import type { ProxyRow } from '../../core/planning/proxies/proxies';
import type { RenditionCell } from '../../core/planning/proxies/rendition-cells';
import { kindsRead, marksOfOrder, STOP_LINE, type ReadOrder, type RenditionKind } from '../../core/rendition/read-order';
import { Bytes, plural } from '../shared/figures';
import { StateSign } from '../shared/StateSign';
import type { Column } from '../shared/table/VirtualTable';

const TITLES: Readonly<Record<RenditionKind, string>> = { source: 'Source', mezzanine: 'Mezzanine', proxy: 'Proxy', finished: 'Finished' };
const [WIDE, RARE] = ['minmax(118px, 0.4fr)', 'minmax(64px, 0.5fr)'];
const WIDTHS: Readonly<Record<RenditionKind, string>> = { source: WIDE, mezzanine: RARE, proxy: WIDE, finished: RARE };

/**
 * One column a rendition, in the order in which they are read, and the line at which reading stops. `tries`: shelves are
 * left behind or another order is tried out, and how clips stand then is told.
 */
export function proxyColumns(order: ReadOrder, tries: boolean): readonly Column<ProxyRow>[] {
  const read = new Set(kindsRead(order));
  const ofKind = (kind: RenditionKind): Column<ProxyRow> => ({
    key: kind,
    title: TITLES[kind],
    head: <span className={read.has(kind) ? undefined : 'behind-line'}>{TITLES[kind]}</span>,
    width: WIDTHS[kind],
    unsorted: true,
    cell: ({ cells, fate }) =>
      kind === 'proxy' && cells.proxy === null && fate === 'its own proxy' ? (
        <span className="soft">is its own</span>
      ) : (
        <Cell cell={cells[kind]} isRead={read.has(kind)} />
      ),
  });
  const line: Column<ProxyRow> = {
    key: STOP_LINE,
    title: 'The line at which reading stops',
    head: <i className="stop-line" />,
    width: '12px',
    fixed: true,
    unsorted: true,
    cell: () => <i className="stop-line" />,
  };
  return [
    { key: 'name', title: 'Clip', width: 'minmax(92px, 1fr)', cell: ({ name }) => <span title={name}>{name}</span> },
    ...marksOfOrder(order).map((mark) => (mark === STOP_LINE ? line : ofKind(mark))),
    ...(tries
      ? [{ key: 'without', title: 'Then', width: '92px', unsorted: true, cell: ({ without }: ProxyRow) => <StateSign state={without} /> }]
      : []),
    { key: 'fate', title: 'Now', width: tries ? 'minmax(72px, 1fr)' : 'minmax(116px, 1fr)', unsorted: true, cell: (row) => <Fate row={row} /> },
  ];
}

/** The read order that columns stand for; null where nothing would be read. Others than renditions and the line stay where they are. */
export function orderOfColumns(keys: readonly string[]): ReadOrder | null {
  const marks = keys.filter((key): key is RenditionKind | typeof STOP_LINE => key === STOP_LINE || key in TITLES);
  const stop = marks.indexOf(STOP_LINE);
  return stop < 1 ? null : { kinds: marks.filter((mark): mark is RenditionKind => mark !== STOP_LINE), stop };
}

function Cell({ cell, isRead }: { cell: RenditionCell | null; isRead: boolean }) {
  if (!cell) return <span className="soft">–</span>;
  const marks = marksOf(cell);
  return (
    <span className={isRead ? 'rendition' : 'rendition behind-line'} title={[cell.preset ?? '', ...marks].filter((word) => word !== '').join(', ')}>
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
export function marksOf({ older, misfits, burnIn, ofParts, more }: RenditionCell): string[] {
  return [...(ofParts ? [`of ${plural(more + 1, 'part')}`] : []), ...(older ? ['older'] : []), ...misfits, ...(burnIn ? ['burn-in'] : [])];
}

function Fate({ row: { fate, preset, width, height, why } }: { row: ProxyRow }) {
  if (fate === 'made')
    return (
      <span className={why === '' ? undefined : 'rendition-mark'} title={why}>
        {preset} {width} × {height}
      </span>
    );
  const words = fate === 'cannot' ? why : fate === 'its own proxy' ? '' : fate === 'being made' ? `${fate} ${why}` : fate;
  return (
    <span className={fate === 'cannot' ? 'rendition-mark' : 'soft'} title={why}>
      {words}
    </span>
  );
}
