import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type KeyboardEvent, type ReactNode } from 'react';

export interface Column<Row> {
  readonly key: string;
  readonly title: string;
  /** A track of the CSS grid: "16px", "1fr", "minmax(120px, 2fr)". */
  readonly width: string;
  readonly numeric?: boolean;
  /** The list cannot be sorted by it. */
  readonly unsorted?: boolean;
  readonly cell: (row: Row) => ReactNode;
}

interface Props<Row> {
  /** Rows that have not come yet are left open. */
  readonly rows: readonly (Row | undefined)[];
  /** Told which rows are in sight, so that they can be fetched. */
  readonly onSee?: (first: number, last: number) => void;
  readonly columns: readonly Column<Row>[];
  readonly rowKey: (row: Row) => string;
  readonly selected: string | null;
  readonly onSelect: (key: string | null) => void;
  /** Space or a double click on the selected row. */
  readonly onToggle?: (row: Row) => void;
  readonly sort?: { readonly key: string; readonly down: boolean } | null;
  readonly onSort?: (key: string) => void;
  readonly label: string;
  readonly empty: ReactNode;
  /** Rows can be dragged; what is dragged is named by this. */
  readonly dragKey?: (row: Row) => string;
}

/** Kind of what a dragged row carries. */
export const CLIP_DRAG = 'application/x-mill-clip';

const ROW_PX = 34;
const HEAD_PX = 30;

/** Rows without end, moved through by arrows, Home, End and space. */
export function VirtualTable<Row>({ rows, columns, rowKey, selected, onSelect, onToggle, sort, onSort, label, empty, dragKey, onSee }: Props<Row>) {
  const body = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => body.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
    scrollMargin: HEAD_PX,
    scrollPaddingStart: HEAD_PX,
  });
  const grid = { gridTemplateColumns: columns.map((column) => column.width).join(' ') };
  const at = selected === null ? -1 : rows.findIndex((row) => row !== undefined && rowKey(row) === selected);
  // A row that is moved to before it has come is selected when it comes.
  const awaited = useRef<number | null>(null);
  const shown = virtual.getVirtualItems();
  const [first, last] = [shown[0]?.index ?? 0, shown.at(-1)?.index ?? 0];
  useEffect(() => onSee?.(first, last), [onSee, first, last]);
  useEffect(() => {
    const row = awaited.current === null ? undefined : rows[awaited.current];
    if (row === undefined) return;
    awaited.current = null;
    onSelect(rowKey(row));
  }, [rows]);
  useEffect(() => {
    if (at >= 0) virtual.scrollToIndex(at, { align: 'auto' });
    // Only a new selection moves the list, not new rows.
  }, [selected]);

  const onKeyDown = (event: KeyboardEvent) => {
    const page = Math.max(1, Math.floor((body.current?.clientHeight ?? 400) / ROW_PX) - 1);
    const moves: Record<string, number> = {
      ArrowDown: at + 1,
      ArrowUp: at < 0 ? 0 : at - 1,
      Home: 0,
      End: rows.length - 1,
      PageDown: at + page,
      PageUp: at - page,
    };
    const to = moves[event.key];
    if (to !== undefined && rows.length > 0) {
      event.preventDefault();
      const index = Math.min(rows.length - 1, Math.max(0, to));
      const row = rows[index];
      awaited.current = row === undefined ? index : null;
      if (row === undefined) virtual.scrollToIndex(index, { align: 'auto' });
      else onSelect(rowKey(row));
    } else if (event.key === ' ' && at >= 0 && onToggle) {
      event.preventDefault();
      onToggle(rows[at]!);
    } else if (event.key === 'Escape') {
      onSelect(null);
    }
  };

  return (
    <div
      className="table panel"
      role="table"
      aria-label={label}
      aria-rowcount={rows.length}
      style={rows.length > 0 ? { maxHeight: rows.length * ROW_PX + HEAD_PX + 3 } : undefined}
    >
      <div className="body" ref={body} tabIndex={0} role="rowgroup" onKeyDown={onKeyDown} data-list="">
        <div className="head" role="row" style={grid}>
          {columns.map((column) => (
            <span
              key={column.key}
              role="columnheader"
              className={column.numeric ? 'num' : undefined}
              aria-sort={sort?.key === column.key ? (sort.down ? 'descending' : 'ascending') : undefined}
            >
              {onSort && column.title !== '' && !column.unsorted ? (
                <button type="button" onClick={() => onSort(column.key)}>
                  {column.title}
                  {sort?.key === column.key ? (sort.down ? ' ↓' : ' ↑') : ''}
                </button>
              ) : (
                column.title
              )}
            </span>
          ))}
        </div>
        {rows.length === 0 ? (
          empty
        ) : (
          <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
            {shown.map((item) => {
              const row = rows[item.index];
              if (row === undefined)
                return (
                  <div
                    key={`open ${item.index}`}
                    role="row"
                    aria-busy
                    className="row"
                    style={{ ...grid, transform: `translateY(${item.start - HEAD_PX}px)` }}
                  />
                );
              const key = rowKey(row);
              return (
                <div
                  key={key}
                  role="row"
                  aria-selected={key === selected}
                  className={key === selected ? 'row sel' : 'row'}
                  style={{ ...grid, transform: `translateY(${item.start - HEAD_PX}px)` }}
                  draggable={dragKey !== undefined}
                  onDragStart={dragKey && ((event) => event.dataTransfer.setData(CLIP_DRAG, dragKey(row)))}
                  onClick={() => onSelect(key)}
                  onDoubleClick={() => onToggle?.(row)}
                >
                  {columns.map((column) => (
                    <span key={column.key} role="cell" className={column.numeric ? 'num' : undefined}>
                      {column.cell(row)}
                    </span>
                  ))}
                </div>
              );
            })}
          </div>
        )}
      </div>
    </div>
  );
}
