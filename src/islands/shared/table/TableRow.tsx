/** A row of a table. It is drawn anew only when it, its place or what is in hand is another. */
import { useDraggable } from '@dnd-kit/core';
import { Checkbox } from '@mantine/core';
import { memo, type ComponentProps, type CSSProperties, type MouseEvent, type ReactNode, type RefObject } from 'react';
import type { Column } from './column';
import { Grip } from './Grip';
import type { Line } from './use-table';

export interface RowDrag<Row> {
  readonly id: (row: Row) => string;
  readonly name: (row: Row) => string;
  /** What is in hand when this row is taken hold of: others may come along. */
  readonly words: (row: Row) => string;
}

/** What rows do, as things stand when they do it. */
export interface RowActs<Row> {
  readonly select: (key: string) => void;
  readonly open: ((row: Row) => void) | undefined;
  readonly tick: (index: number, how: 'one' | 'ticked' | 'as it is') => void;
  readonly tickWords: (row: Row) => string;
  readonly takeKeyboard: () => void;
  readonly drag: RowDrag<Row> | undefined;
}

interface Props {
  readonly id: string;
  readonly rowKey: string;
  readonly row: unknown;
  readonly index: number;
  readonly top: number;
  readonly grid: CSSProperties;
  readonly columns: readonly Column<never>[];
  readonly isSelected: boolean;
  /** Null in a list that is not ticked. */
  readonly isTicked: boolean | null;
  readonly isDraggable: boolean;
  readonly acts: RefObject<RowActs<unknown>>;
}

export function placed(grid: CSSProperties, top: number): CSSProperties {
  return { ...grid, transform: `translateY(${top}px)` };
}

export const TableRow = memo(function TableRow(props: Props) {
  const { id, rowKey, row, index, top, grid, columns, isSelected, isTicked, isDraggable, acts } = props;
  const own = {
    id,
    role: 'row',
    'aria-selected': isTicked ?? isSelected,
    'aria-rowindex': index + 2,
    className: isSelected ? 'row sel' : 'row',
    style: placed(grid, top),
    onClick: (event: MouseEvent) => {
      if (isTicked !== null && event.shiftKey) acts.current.tick(index, 'ticked');
      else if (isTicked !== null && (event.ctrlKey || event.metaKey)) acts.current.tick(index, 'one');
      acts.current.select(rowKey);
    },
    onDoubleClick: () => acts.current.open?.(row),
  };
  const cells = (
    <>
      {isTicked !== null && <Tick isTicked={isTicked} index={index} row={row} acts={acts} />}
      {columns.map((column) => (
        <span key={column.key} role="gridcell" className={column.numeric ? 'num' : undefined}>
          {column.cell(row as never)}
        </span>
      ))}
    </>
  );
  return isDraggable ? (
    <DraggedRow row={row} acts={acts} own={own}>
      {cells}
    </DraggedRow>
  ) : (
    <div {...own}>{cells}</div>
  );
});

function Tick({ isTicked, index, row, acts }: Pick<Props, 'index' | 'row' | 'acts'> & { isTicked: boolean }) {
  const stop = (event: MouseEvent) => event.stopPropagation();
  return (
    <span role="gridcell" onClick={stop} onDoubleClick={stop} onPointerDown={stop}>
      <Checkbox
        size="xs"
        tabIndex={-1}
        aria-label={acts.current.tickWords(row)}
        checked={isTicked}
        onChange={() => undefined}
        // The list keeps the keyboard.
        onMouseDown={(event) => (event.preventDefault(), acts.current.takeKeyboard())}
        onClick={(event) => acts.current.tick(index, event.shiftKey ? 'as it is' : 'one')}
      />
    </span>
  );
}

function DraggedRow({ row, acts, own, children }: Pick<Props, 'row' | 'acts'> & { own: ComponentProps<'div'>; children: ReactNode }) {
  const { id, name } = acts.current.drag!;
  const { setNodeRef, listeners, attributes, setActivatorNodeRef, isDragging } = useDraggable({
    id: id(row),
    data: { words: () => acts.current.drag?.words(row) ?? '' },
  });
  return (
    <div
      {...own}
      className={`${own.className}${isDragging ? ' dragged' : ''}`}
      ref={setNodeRef}
      onPointerDown={listeners?.onPointerDown as ComponentProps<'div'>['onPointerDown']}
    >
      <span role="gridcell">
        <Grip label={`Drag ${name(row)}`} attributes={attributes} listeners={listeners} setActivatorNodeRef={setActivatorNodeRef} />
      </span>
      {children}
    </div>
  );
}

/** The head of rows that are put together. */
export function GroupHead<Row>({ line, grid, top }: { line: Extract<Line<Row>, { is: 'group' }>; grid: CSSProperties; top: number }) {
  return (
    <div role="row" className="row group" style={placed(grid, top)}>
      <span role="gridcell">
        <button type="button" aria-expanded={line.isOpen} onClick={line.toggle}>
          {line.isOpen ? '▾' : '▸'} {line.words} <span className="soft">{line.count}</span>
        </button>
      </span>
    </div>
  );
}
