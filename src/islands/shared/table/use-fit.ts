/** Fits the widths of a table to what stands in the rows that are in sight. */
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState, type RefObject } from 'react';
import type { Column } from './column';
import { fitWidths, trackOf, type Fitted } from './fit';

const LEAST_PX = 36;
/** Rows that come by scrolling are measured when they stand. */
const STANDS_MS = 250;

interface Measured {
  /** By the key of the column: as wide as its widest cell so far, its title among them (px). */
  readonly needs: ReadonlyMap<string, number>;
  /** For all columns together (px). */
  readonly room: number;
}

/** How wide what stands in a cell is, cut off or not. */
function widthOfContent(cell: HTMLElement): number {
  const path = cell.querySelector<HTMLElement>(':scope > .path');
  if (path) {
    const gap = Number.parseFloat(getComputedStyle(path).columnGap) || 0;
    return [...path.children].reduce((sum, part) => sum + part.scrollWidth, gap * (path.childElementCount - 1)) + 1;
  }
  if (cell.scrollWidth > cell.clientWidth) return cell.scrollWidth + 1;
  // What fills its cell, as a bar does, is never cut.
  if (cell.textContent.trim() === '' && !cell.querySelector('img, svg')) return 0;
  const range = document.createRange();
  range.selectNodeContents(cell);
  return Math.ceil(range.getBoundingClientRect().width) + 1;
}

function measure(body: HTMLElement, columns: readonly Column<never>[], before: number, known: ReadonlyMap<string, number>): Measured | null {
  const head = body.querySelector<HTMLElement>('.head');
  if (!head || body.clientWidth === 0) return null;
  const style = getComputedStyle(head);
  const [gap, left, right] = [style.columnGap, style.paddingLeft, style.paddingRight].map((text) => Number.parseFloat(text) || 0);
  const needs = new Map(known);
  const rows = [head, ...body.querySelectorAll<HTMLElement>('.lines > .row:not(.group):not([aria-busy])')];
  for (const row of rows)
    columns.forEach(({ key }, index) => {
      const cell = row.children[before + index] as HTMLElement | undefined;
      if (cell) needs.set(key, Math.max(needs.get(key) ?? 0, widthOfContent(cell)));
    });
  const others = [...head.children].slice(0, before).reduce((sum, cell) => sum + (cell as HTMLElement).offsetWidth, 0);
  return { needs, room: body.clientWidth - left! - right! - gap! * (before + columns.length - 1) - others };
}

function fitted(column: Column<never>, need: number, own: number | undefined): Fitted {
  const { least, grow } = trackOf(column.width);
  if (own !== undefined) return { least: own, need: own, wish: own, grow: 0 };
  if (column.fixed) return { least, need: least, wish: least, grow };
  return { least: Math.min(least, Math.max(LEAST_PX, need)), need, wish: Math.max(need, least), grow };
}

/**
 * Widths in pixels by the key of the column; null until rows were seen. `before`: columns that stand before those of the list.
 * `sight`: another whenever other rows are in sight.
 */
export function useFit(
  body: RefObject<HTMLElement | null>,
  columns: readonly Column<never>[],
  sizes: Readonly<Record<string, number>>,
  before: number,
  isFilled: boolean,
  sight: unknown,
): Readonly<Record<string, number>> | null {
  const [measured, setMeasured] = useState<Measured | null>(null);
  const known = useRef<ReadonlyMap<string, number>>(new Map());
  const look = useCallback(() => {
    const next = body.current && measure(body.current, columns, before, known.current);
    if (!next) return;
    known.current = next.needs;
    setMeasured((old) => (old && old.room === next.room && sameNeeds(old.needs, next.needs) ? old : next));
  }, [body, columns, before]);
  // Before the first rows are drawn, so that nothing jumps.
  useLayoutEffect(() => {
    if (isFilled) look();
  }, [isFilled, look]);
  useEffect(() => {
    if (!isFilled) return undefined;
    const timer = setTimeout(look, STANDS_MS);
    return () => clearTimeout(timer);
  }, [isFilled, look, sight]);
  useEffect(() => {
    const element = body.current;
    if (!element) return undefined;
    const observer = new ResizeObserver(() => known.current.size > 0 && look());
    observer.observe(element);
    return () => observer.disconnect();
  }, [body, look]);
  return useMemo(() => {
    if (!measured) return null;
    const widths = fitWidths(
      columns.map((column) => fitted(column, measured.needs.get(column.key) ?? 0, sizes[column.key])),
      measured.room,
    );
    return Object.fromEntries(columns.map(({ key }, index) => [key, Math.floor(widths[index]!)]));
  }, [measured, columns, sizes]);
}

function sameNeeds(a: ReadonlyMap<string, number>, b: ReadonlyMap<string, number>): boolean {
  return a.size === b.size && [...a].every(([key, need]) => b.get(key) === need);
}
