import type { ReactNode } from 'react';

export interface Column<Row> {
  readonly key: string;
  /** Empty for columns that are always there: signs, menus. */
  readonly title: string;
  /** A track of the CSS grid: "16px", "1fr", "minmax(120px, 2fr)". */
  readonly width: string;
  readonly numeric?: boolean;
  /** The list cannot be sorted by it. */
  readonly unsorted?: boolean;
  /** What a list that is there as a whole is sorted by. Without it the server sorts, or nobody. */
  readonly value?: (row: Row) => string | number | null;
  /** Words that rows are put together by, where the list can be grouped by this column. */
  readonly group?: (row: Row) => string;
  readonly cell: (row: Row) => ReactNode;
  /** What stands in its head instead of the title, which is then told on hover. */
  readonly head?: ReactNode;
  /** What stands in it is a name, whole before anything else is; left open: where it is called "name", "file" or "title". False: nor does it give way to names. */
  readonly isName?: boolean;
  /** It keeps its width. */
  readonly fixed?: boolean;
}

/** An order of columns that means something: kept by who gives it, not in this browser. */
export interface HeldOrder {
  /** Keys of all columns that have a title. */
  readonly keys: readonly string[];
  readonly onOrder: (keys: readonly string[]) => void;
}

const NARROWEST_PX = 36;
const WIDEST_PX = 1200;
const GAP_PX = 12;
const PADDING_PX = 42;

export function clampWidth(px: number): number {
  return Math.round(Math.min(WIDEST_PX, Math.max(NARROWEST_PX, px)));
}

/** Least width of a grid track, in pixels: "96px", or the first of "minmax(96px, 1fr)". */
function leastWidth(track: string): number {
  const number = Number.parseFloat(track.replace('minmax(', ''));
  return Number.isNaN(number) || !track.includes('px') ? 0 : number;
}

type Widths = Readonly<Record<string, number>>;

/** The grid of a row: each column's own track, or the width that the user gave it; once rows are there, as they fit. */
export function gridOf(columns: readonly Column<never>[], sizes: Widths, fitted: Widths | null) {
  const tracks = columns.map(({ key, width }) => (sizes[key] === undefined ? width : `${sizes[key]}px`));
  const least = tracks.reduce((sum, track) => sum + leastWidth(track), GAP_PX * (tracks.length - 1) + PADDING_PX);
  const own = columns.map(({ key }, index) => (fitted?.[key] === undefined ? tracks[index]! : `${fitted[key]}px`));
  return { gridTemplateColumns: own.join(' '), minWidth: least };
}

/** Keys of the columns that a list can be sorted by. */
export function sortedBy(columns: readonly Column<never>[]): string[] {
  return columns.filter(({ title, unsorted }) => title !== '' && !unsorted).map(({ key }) => key);
}
