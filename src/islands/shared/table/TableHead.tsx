import { closestCenter, DndContext, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core';
import { horizontalListSortingStrategy, SortableContext, useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { useRef, type CSSProperties, type KeyboardEvent, type PointerEvent } from 'react';
import type { Column } from './column';
import type { TableColumns } from './use-table';

export interface Sorting {
  readonly key: string;
  readonly down: boolean;
}

interface Props<Row> {
  readonly columns: TableColumns<Row>;
  readonly grid: CSSProperties;
  /** Columns before those of the list: ticks and grips. */
  readonly before: React.ReactNode;
  readonly sort: Sorting | null;
  readonly onSort: ((key: string) => void) | null;
  readonly isSorted: (column: Column<Row>) => boolean;
  /** Titles can be taken by keyboard to move their columns, also those that nothing is sorted by. */
  readonly isOrderHeld: boolean;
}

const SIZE_STEP_PX = 10;
/** What is said of a drag stands outside of the grid, which holds rows only. */
const OUTSIDE = { container: document.body };

/** Titles of the columns: a click sorts, dragging orders, the line between two sizes. By keyboard: Alt with arrows moves, Alt and Shift with arrows sizes. */
export function TableHead<Row>({ columns, grid, before, sort, onSort, isSorted, isOrderHeld }: Props<Row>) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (over && over.id !== active.id) columns.move(String(active.id), String(over.id));
  };
  return (
    <DndContext accessibility={OUTSIDE} sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
      <SortableContext items={columns.choosable.map(({ column }) => column.key)} strategy={horizontalListSortingStrategy}>
        <div className="head" role="row" style={grid}>
          {before}
          {columns.shown.map((column) => (
            <Title
              key={column.key}
              column={column}
              columns={columns}
              sort={sort?.key === column.key ? sort : null}
              onSort={onSort && isSorted(column) ? () => onSort(column.key) : null}
              isTaken={isOrderHeld}
            />
          ))}
        </div>
      </SortableContext>
    </DndContext>
  );
}

interface TitleProps<Row> {
  readonly column: Column<Row>;
  readonly columns: TableColumns<Row>;
  readonly sort: Sorting | null;
  readonly onSort: (() => void) | null;
  readonly isTaken: boolean;
}

function Title<Row>({ column, columns, sort, onSort, isTaken }: TitleProps<Row>) {
  const { setNodeRef, listeners, transform, transition, isDragging } = useSortable({ id: column.key, disabled: column.title === '' });
  const cell = useRef<HTMLElement | null>(null);
  const take = (node: HTMLElement | null) => {
    cell.current = node;
    setNodeRef(node);
  };
  const width = () => cell.current?.getBoundingClientRect().width ?? 0;
  const onKeyDown = (event: KeyboardEvent) => {
    const by = ({ ArrowLeft: -1, ArrowRight: 1 } as const)[event.key];
    if (!event.altKey || by === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    if (event.shiftKey && column.fixed) return;
    if (event.shiftKey) columns.size(column.key, width() + by * SIZE_STEP_PX);
    else columns.shift(column.key, by);
  };
  if (column.title === '') return <span role="columnheader" ref={take} />;
  return (
    <span
      role="columnheader"
      ref={take}
      className={[column.numeric ? 'num' : '', isDragging ? 'dragged' : ''].join(' ')}
      aria-sort={sort ? (sort.down ? 'descending' : 'ascending') : undefined}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      title={column.title}
      {...pointerOnly(listeners)}
    >
      {onSort ? (
        <button type="button" onClick={onSort} onKeyDown={onKeyDown}>
          {column.title}
          {sort ? (sort.down ? ' ↓' : ' ↑') : ''}
        </button>
      ) : isTaken ? (
        <button type="button" className="mover" onKeyDown={onKeyDown} aria-label={`${column.title}, Alt and arrows move it`}>
          {column.head ?? column.title}
        </button>
      ) : (
        column.title
      )}
      {!column.fixed && <Edge onSize={(px) => columns.size(column.key, px)} width={width} />}
    </span>
  );
}

/** Enter and space on a title sort. */
function pointerOnly(listeners: ReturnType<typeof useSortable>['listeners']) {
  return listeners?.onPointerDown ? { onPointerDown: listeners.onPointerDown as (event: PointerEvent) => void } : {};
}

/** The line after a column: dragged, it makes the column wider or narrower. */
function Edge({ onSize, width }: { onSize: (px: number) => void; width: () => number }) {
  const begin = useRef<{ x: number; width: number } | null>(null);
  return (
    <i
      className="edge"
      aria-hidden
      onClick={(event) => event.stopPropagation()}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        begin.current = { x: event.clientX, width: width() };
      }}
      onPointerMove={(event) => begin.current && onSize(begin.current.width + event.clientX - begin.current.x)}
      onPointerUp={() => (begin.current = null)}
      onPointerCancel={() => (begin.current = null)}
    />
  );
}
