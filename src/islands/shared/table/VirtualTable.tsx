import { Checkbox } from '@mantine/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useId, useMemo, useRef, type CSSProperties, type KeyboardEvent, type MouseEvent, type ReactNode, type RefObject } from 'react';
import type { QuestionState } from '../asked';
import { Face, StaleNote } from '../Face';
import { tellError } from '../notices';
import { ColumnMenu } from './ColumnMenu';
import { gridOf, type Column, type HeldOrder } from './column';
import { GroupHead, placed, TableRow, type RowActs, type RowDrag } from './TableRow';
import { TableHead, type Sorting } from './TableHead';
import { useFit } from './use-fit';
import { useKeptScroll } from './use-kept-scroll';
import type { AlsoKept } from './keep-list';
import { useKeepList } from './use-keep-list';
import { useTable } from './use-table';
import { useTicks, type Ticks } from './use-ticks';

export type { Column, HeldOrder } from './column';

/** Both take indexes of rows, inclusive. */
interface Pages<Row> {
  /** Told which rows are in sight, so that they can be fetched. */
  readonly see: (first: number, last: number) => void;
  /** Fetches rows, in sight or not. */
  readonly reach: (first: number, last: number) => Promise<readonly Row[]>;
}

interface Props<Row> {
  /** Rows that have not come yet are left open. */
  readonly rows: readonly (Row | undefined)[];
  /** A list that comes in windows; one without it is there as a whole, and sorted here. */
  readonly pages?: Pages<Row>;
  readonly columns: readonly Column<Row>[];
  readonly rowKey: (row: Row) => string;
  readonly selected: string | null;
  readonly onSelect: (key: string | null) => void;
  /** Enter or a double click on a row; space too where rows are not ticked. */
  readonly onOpen?: (row: Row) => void;
  readonly ticks?: Ticks<Row>;
  readonly sort?: Sorting | null;
  readonly onSort?: (key: string) => void;
  readonly label: string;
  /** How the question for its rows stands; a list without it is there already. */
  readonly asked?: QuestionState;
  /** Said of a list that has come, with nothing in it. */
  readonly empty: ReactNode;
  /** Rows can be dragged within the DndContext around. */
  readonly drag?: RowDrag<Row>;
  /** What a kept list says of its rows beside the columns; asked when it is kept. */
  readonly also?: () => Promise<readonly AlsoKept<Row>[]>;
  /** Where the order of the columns means something. */
  readonly order?: HeldOrder;
}

const ROW_PX = 34;
const HEAD_PX = 30;
/** How long a key is taken for one of a row of them. */
const KEYS_MS = 1_000;
const BEFORE = { tick: { key: 'tick', width: '18px' }, grip: { key: 'grip', width: '14px' } };

/** Rows without end, moved through by arrows, Home, End, ticked by space; columns as the user wants them. */
export function VirtualTable<Row>(props: Props<Row>) {
  const { rows, columns: all, rowKey, selected, onSelect, onOpen, ticks, sort, onSort, label, asked, empty, drag, pages, order, also } = props;
  const onSee = pages?.see;
  const id = useId();
  const body = useRef<HTMLDivElement>(null);
  const { columns, lines } = useTable(label, all, onSee ? null : (rows as readonly Row[]), order);
  const count = lines?.length ?? rows.length;
  const rowAt = (index: number): Row | undefined => {
    const line = lines?.[index];
    return lines ? (line?.is === 'row' ? line.row : undefined) : rows[index];
  };
  const keyAt = (index: number): string | undefined => {
    const row = rowAt(index);
    return row === undefined ? undefined : rowKey(row);
  };
  const at = useMemo(() => {
    if (selected === null) return -1;
    for (let index = 0; index < count; index++) if (keyAt(index) === selected) return index;
    return -1;
  }, [rows, lines, selected]);
  const rowsIn = async (first: number, last: number): Promise<readonly Row[]> => {
    const here = Array.from({ length: last - first + 1 }, (_, step) => rowAt(first + step));
    const found = pages && here.includes(undefined) ? await pages.reach(first, last) : here;
    return found.filter((row) => row !== undefined);
  };
  const ticking = useTicks<Row>(ticks ?? NO_TICKS, { rowKey, rowAt, rowsIn });
  const onKeep = useKeepList({ label, all, shown: columns.shown, count, rowsIn, also });
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => body.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
    scrollMargin: HEAD_PX,
    scrollPaddingStart: HEAD_PX,
    // Rows come with the next frame, together with what is asked for them.
    useFlushSync: false,
  });
  // A row that is moved to before it has come is selected when it comes.
  const awaited = useRef<number | null>(null);
  const shown = virtual.getVirtualItems();
  const [first, last] = [shown[0]?.index ?? 0, shown.at(-1)?.index ?? 0];
  useEffect(() => onSee?.(first, last), [onSee, first, last]);
  useEffect(() => {
    const key = awaited.current === null ? undefined : keyAt(awaited.current);
    if (key === undefined) return;
    awaited.current = null;
    onSelect(key);
  }, [rows]);
  useEffect(() => {
    if (at >= 0) virtual.scrollToIndex(at, { align: 'auto' });
    // Only a new selection moves the list, not new rows.
  }, [selected]);

  useKeptScroll(body, label, count > 0);

  // Keys come faster than what they choose is drawn: the next one goes on from where the last one went.
  const went = useRef<{ readonly to: number; readonly at: number } | null>(null);
  const position = (): number => (went.current && performance.now() - went.current.at < KEYS_MS ? Math.min(went.current.to, count - 1) : at);

  /** The row at an index or, beyond heads of groups, the next one that way. */
  const go = (index: number, way: 1 | -1): number => {
    let to = Math.min(count - 1, Math.max(0, index));
    while (lines?.[to]?.is === 'group' && lines[to + way]) to += way;
    awaited.current = null;
    went.current = { to, at: performance.now() };
    const key = keyAt(to);
    if (key !== undefined) onSelect(key);
    else if (!lines) {
      awaited.current = to;
      virtual.scrollToIndex(to, { align: 'auto' });
    }
    return to;
  };
  const onKeyDown = (event: KeyboardEvent) => {
    // A key on a button, a tick or a menu within a row is that one's own.
    if (event.target !== event.currentTarget) return;
    const page = Math.max(1, Math.floor((body.current?.clientHeight ?? 400) / ROW_PX) - 1);
    const at = position();
    const moves: Record<string, readonly [number, 1 | -1]> = {
      ArrowDown: [at + 1, 1],
      ArrowUp: [at < 0 ? 0 : at - 1, -1],
      Home: [0, 1],
      End: [count - 1, -1],
      PageDown: [at + page, 1],
      PageUp: [at - page, -1],
    };
    const move = moves[event.key];
    const handled = () => event.preventDefault();
    if (move !== undefined && count > 0) {
      handled();
      if (ticks && event.shiftKey && at >= 0 && !ticks.ticked.has(selected ?? '')) ticking.setOut(at);
      const to = go(...move);
      if (ticks && event.shiftKey) ticking.reach(to, 'ticked').catch(tellError);
    } else if (event.key === ' ' && at >= 0 && (ticks ?? onOpen)) {
      handled();
      if (!ticks) onOpen?.(rowAt(at)!);
      else if (event.shiftKey) ticking.reach(at, 'as it is').catch(tellError);
      else ticking.toggle(at);
    } else if (event.key === 'Enter' && at >= 0 && onOpen) {
      handled();
      onOpen(rowAt(at)!);
    } else if (ticks && (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'a') {
      handled();
      ticking.all(count).catch(tellError);
    } else if (event.key === 'Escape') {
      if (ticks && ticks.ticked.size > 0) ticks.onTick(new Set(), []);
      else onSelect(null);
    }
  };
  const hasGrip = drag !== undefined;
  const hasTicks = ticks !== undefined;
  const fitted = useFit(
    body,
    columns.shown,
    columns.sizes,
    Number(hasGrip) + Number(hasTicks),
    count > 0 && rowAt(first) !== undefined,
    `${first} ${last} ${count}`,
  );
  const grid = useMemo(() => {
    const before = [...(hasGrip ? [BEFORE.grip] : []), ...(hasTicks ? [BEFORE.tick] : [])];
    return gridOf([...before, ...columns.shown] as readonly Column<never>[], columns.sizes, fitted);
  }, [columns.shown, columns.sizes, fitted, hasGrip, hasTicks]);
  // What is ticked may be out of the list by now, behind a filter.
  const known = useMemo(
    () => count > 0 && ticks !== undefined && ticks.ticked.size >= count && loaded(rows).every((row) => ticks.ticked.has(rowKey(row))),
    [rows, count, ticks?.ticked],
  );
  // Rows stay as they are drawn while nothing about them changes; what they do is looked up when it is done.
  const acts = useRef<RowActs<Row>>(null!);
  acts.current = {
    select: (key) => {
      went.current = null;
      onSelect(key);
    },
    open: onOpen,
    tick: (index, how) => {
      if (how === 'one') ticking.toggle(index);
      else ticking.reach(index, how).catch(tellError);
    },
    tickWords: (row) => ticks?.words(row) ?? '',
    takeKeyboard: () => body.current?.focus({ preventScroll: true }),
    drag,
  };

  const head = useMemo(
    () => (
      <TableHead
        columns={columns}
        grid={grid}
        sort={onSort ? (sort ?? null) : columns.sort}
        onSort={onSort ?? (onSee ? null : columns.sortBy)}
        isOrderHeld={order !== undefined}
        isSorted={(column) => !column.unsorted && column.title !== '' && (onSort !== undefined || column.value !== undefined)}
        before={
          <>
            {drag && <span role="columnheader" />}
            {ticks && (
              <span role="columnheader">
                <Checkbox
                  size="xs"
                  tabIndex={-1}
                  aria-label={`Tick all of ${label}`}
                  title="All, or none"
                  checked={known}
                  indeterminate={!known && ticks.ticked.size > 0}
                  onChange={() => {
                    if (ticks.ticked.size > 0) ticks.onTick(new Set(), []);
                    else ticking.all(count).catch(tellError);
                  }}
                />
              </span>
            )}
          </>
        }
      />
    ),
    [columns, grid, label, count, known, onSee === undefined, sort?.key, sort?.down, onSort, ticks, hasGrip],
  );

  return (
    <div className="table panel" style={count > 0 ? tallAs(count) : undefined}>
      {asked && <StaleNote asked={asked} />}
      <div
        className="body"
        ref={body}
        tabIndex={0}
        role="grid"
        aria-label={label}
        aria-rowcount={count + 1}
        aria-multiselectable={ticks ? true : undefined}
        aria-activedescendant={selected !== null && at >= first && at <= last ? rowId(id, selected) : undefined}
        onKeyDown={onKeyDown}
        onMouseOver={tellWhole}
        data-list=""
      >
        {head}
        {count === 0 ? (
          asked && !asked.isThere ? (
            <Face asked={asked}>{null}</Face>
          ) : (
            empty
          )
        ) : (
          <div role="presentation" className="lines" style={{ height: virtual.getTotalSize() }}>
            {shown.map((item) => {
              const line = lines?.[item.index];
              const top = item.start - HEAD_PX;
              if (line?.is === 'group') return <GroupHead key={line.key} line={line} grid={grid} top={top} />;
              const row = rowAt(item.index);
              if (row === undefined) return <div key={`open ${item.index}`} role="row" aria-busy className="row" style={placed(grid, top)} />;
              const key = rowKey(row);
              return (
                <TableRow
                  key={key}
                  id={rowId(id, key)}
                  rowKey={key}
                  row={row}
                  index={item.index}
                  top={top}
                  grid={grid}
                  columns={columns.shown}
                  isSelected={key === selected}
                  isTicked={ticks ? ticks.ticked.has(key) : null}
                  isDraggable={hasGrip}
                  acts={acts as RefObject<RowActs<unknown>>}
                />
              );
            })}
          </div>
        )}
      </div>
      {count > 0 && <ColumnMenu label={label} columns={columns} onKeep={onKeep} />}
    </div>
  );
}

/** What others refer to a row by: names in a key may hold blanks, which an id may not. */
function rowId(table: string, key: string): string {
  return table + encodeURIComponent(key.toWellFormed());
}

/** As tall as what is in it; a list that has more than there is room for still shows some of it. */
function tallAs(count: number): CSSProperties {
  return { '--content': `${count * ROW_PX + HEAD_PX + 3}px` } as CSSProperties;
}

/** What is cut off is told as a whole under the pointer. */
function tellWhole({ target }: MouseEvent): void {
  const cell = (target as HTMLElement).closest<HTMLElement>('[role=gridcell], [role=columnheader]');
  if (!cell || cell.querySelector('[title]') || (cell.title !== '' && cell.dataset.whole === undefined)) return;
  const isCut = cell.scrollWidth > cell.clientWidth;
  if (isCut) cell.dataset.whole = '';
  cell.title = isCut ? cell.innerText : '';
}

/** Rows that have come. */
function loaded<Row>(rows: readonly (Row | undefined)[]): Row[] {
  const out: Row[] = [];
  // Passes over what is left out of a list of a hundred thousand.
  rows.forEach((row) => row !== undefined && out.push(row));
  return out;
}

const NO_TICKS = { ticked: new Set<string>(), onTick: () => undefined };
