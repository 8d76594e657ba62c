/** The columns of a table as the user wants them, kept in this browser: shown, hidden, sized, ordered; sorted and grouped where the list is there as a whole. */
import {
  getCoreRowModel,
  getExpandedRowModel,
  getGroupedRowModel,
  getSortedRowModel,
  useReactTable,
  type ColumnDef,
  type ExpandedState,
  type Row as TableRow,
  type Updater,
} from '@tanstack/react-table';
import { useMemo, useState } from 'react';
import { byName } from '../../../core/naming/by-name';
import { clampWidth, type Column, type HeldOrder } from './column';
import { AS_IT_COMES, useKeptTable, type KeptTable } from './kept-table';

/** A row as it is drawn: one of the list, or the head of a group. */
export type Line<Row> =
  | { readonly is: 'row'; readonly row: Row }
  | {
      readonly is: 'group';
      readonly key: string;
      readonly words: string;
      readonly count: number;
      readonly isOpen: boolean;
      readonly toggle: () => void;
    };

export interface TableColumns<Row> {
  /** In their order, without hidden ones. */
  readonly shown: readonly Column<Row>[];
  /** In their order, hidden ones too, without those that are always there. */
  readonly choosable: readonly { readonly column: Column<Row>; readonly isShown: boolean }[];
  readonly sizes: Readonly<Record<string, number>>;
  readonly sort: { readonly key: string; readonly down: boolean } | null;
  readonly group: string | null;
  readonly isChanged: boolean;
  show: (key: string, isShown: boolean) => void;
  move: (key: string, toKey: string) => void;
  /** One place on, 1 to the right, -1 to the left. */
  shift: (key: string, by: 1 | -1) => void;
  size: (key: string, px: number) => void;
  sortBy: (key: string) => void;
  groupBy: (key: string | null) => void;
  reset: () => void;
}

function ordered<Row>(columns: readonly Column<Row>[], order: readonly string[]): Column<Row>[] {
  // What is always there keeps its place; the others are put where the user had them.
  const movable = columns.filter((column) => column.title !== '');
  const places = new Map(order.map((key, index) => [key, index]));
  const sorted = order.length === 0 ? movable : [...movable].sort((a, b) => (places.get(a.key) ?? 1e6) - (places.get(b.key) ?? 1e6));
  return columns.map((column) => (column.title === '' ? column : sorted.shift()!));
}

/** Where a column comes to stand that goes one place on; hidden ones on the way are passed over. */
function placeBeyond(keys: readonly string[], key: string, by: number, hidden: ReadonlySet<string>): number {
  const way = Math.sign(by);
  let to = keys.indexOf(key) + way;
  while (!hidden.has(key) && keys[to + way] !== undefined && hidden.has(keys[to]!)) to += way;
  return Math.min(keys.length - 1, Math.max(0, to));
}

function moved(keys: readonly string[], key: string, to: number): string[] {
  const rest = keys.filter((entry) => entry !== key);
  return [...rest.slice(0, to), key, ...rest.slice(to)];
}

/**
 * `name`: what the choices are kept under. `rows`: the whole list, or null where it comes in windows; then `lines` is
 * null and the server sorts.
 */
export function useTable<Row>(
  name: string,
  columns: readonly Column<Row>[],
  rows: readonly Row[] | null,
  held: HeldOrder | null = null,
): { readonly columns: TableColumns<Row>; readonly lines: readonly Line<Row>[] | null } {
  const [kept, keep] = useKeptTable(name);
  const [expanded, setExpanded] = useState<ExpandedState>(true);
  const change = (part: Partial<KeptTable>) => keep((old) => ({ ...old, ...part }));
  const definitions = useMemo(
    (): ColumnDef<Row>[] =>
      columns.map((column) => ({
        id: column.key,
        // What has no value stands last, up and down.
        accessorFn: (row) => column.value?.(row) ?? undefined,
        getGroupingValue: (row) => column.group?.(row) ?? '',
        sortingFn: (a, b) => compare(column.value?.(a.original) ?? '', column.value?.(b.original) ?? ''),
        enableHiding: column.title !== '',
        enableGrouping: column.group !== undefined,
        sortUndefined: 'last',
      })),
    [columns],
  );
  const orderKept = held?.keys ?? kept.order;
  const inOrder = ordered(columns, orderKept);
  const keepOrder = (keys: readonly string[]) => (held ? held.onOrder(keys) : change({ order: keys }));
  const canGroup = rows !== null && columns.some((column) => column.key === kept.group && column.group);
  const data = useMemo(() => (rows ?? []) as Row[], [rows]);
  const order = inOrder.map((column) => column.key).join('\n');
  const state = useMemo(
    () => ({
      columnOrder: order.split('\n'),
      // Where all would be hidden none is.
      columnVisibility: columns.some((column) => column.title !== '' && !kept.hidden.includes(column.key))
        ? Object.fromEntries(kept.hidden.map((hidden) => [hidden, false]))
        : {},
      columnSizing: kept.sizes,
      sorting: [...kept.sort],
      grouping: canGroup ? [kept.group!] : [],
      expanded,
    }),
    [order, kept, columns, canGroup, expanded],
  );
  const table = useReactTable<Row>({
    data,
    columns: definitions,
    state,
    onExpandedChange: (updater: Updater<ExpandedState>) => setExpanded(updater),
    manualSorting: rows === null,
    // The columns keep their places.
    groupedColumnMode: false,
    // What is open stays so when rows come; pages there are none.
    autoResetAll: false,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
    getGroupedRowModel: getGroupedRowModel(),
    getExpandedRowModel: getExpandedRowModel(),
  });
  const byKey = new Map(columns.map((column) => [column.key, column]));
  const shown = useKept(
    table.getVisibleLeafColumns().map((column) => byKey.get(column.id)!),
    sameItems,
  );
  const choosable = inOrder
    .filter((column) => column.title !== '')
    .map((column) => ({ column, isShown: table.getColumn(column.key)?.getIsVisible() ?? true }));
  const keys = choosable.map(({ column }) => column.key);
  const model = rows === null ? null : table.getRowModel().rows;
  const lines = useMemo(() => model?.map((row) => lineOf(row, byKey)) ?? null, [model]);
  const isWhole = rows !== null;
  // The same while nothing is another: heads and menus are not drawn anew with every row that scrolls by.
  const chosen = useMemo((): TableColumns<Row> => {
    const [sort] = kept.sort;
    return {
      shown,
      choosable,
      sizes: kept.sizes,
      sort: isWhole && sort ? { key: sort.id, down: sort.desc } : null,
      group: canGroup ? kept.group : null,
      isChanged: kept.hidden.length + (held ? 0 : kept.order.length) + Object.keys(kept.sizes).length > 0,
      show: (key, isShown) => change({ hidden: isShown ? kept.hidden.filter((entry) => entry !== key) : [...kept.hidden, key] }),
      move: (key, toKey) => keepOrder(moved(keys, key, keys.indexOf(toKey))),
      shift: (key, by) => keepOrder(moved(keys, key, placeBeyond(keys, key, by, new Set(kept.hidden)))),
      size: (key, px) => change({ sizes: { ...kept.sizes, [key]: clampWidth(px) } }),
      // Up, down, and as it comes.
      sortBy: (key) => change({ sort: sort?.id !== key ? [{ id: key, desc: false }] : sort.desc ? [] : [{ id: key, desc: true }] }),
      groupBy: (key) => (setExpanded(true), change({ group: key })),
      reset: () => keep(AS_IT_COMES),
    };
  }, [shown, columns, kept, held, canGroup, isWhole]);
  return { lines, columns: chosen };
}

function lineOf<Row>(row: TableRow<Row>, columns: ReadonlyMap<string, Column<Row>>): Line<Row> {
  if (!row.getIsGrouped()) return { is: 'row', row: row.original };
  const leaves = row.getLeafRows().filter((leaf) => !leaf.getIsGrouped());
  const words = columns.get(row.groupingColumnId ?? '')?.group?.(leaves[0]!.original) ?? '';
  return { is: 'group', key: row.id, words, count: leaves.length, isOpen: row.getIsExpanded(), toggle: () => row.toggleExpanded() };
}

function compare(a: string | number, b: string | number): number {
  return typeof a === 'number' && typeof b === 'number' ? a - b : byName(String(a), String(b));
}

function sameItems<T>(a: readonly T[], b: readonly T[]): boolean {
  return a.length === b.length && a.every((item, index) => item === b[index]);
}

/** The earlier one while the new one says the same. */
function useKept<T>(value: T, isSame: (a: T, b: T) => boolean): T {
  const [held, hold] = useState(value);
  if (held !== value && !isSame(held, value)) {
    hold(value);
    return value;
  }
  return held;
}
