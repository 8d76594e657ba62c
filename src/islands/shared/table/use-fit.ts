/** Fits the widths of a table to what stands in the rows that are in sight. */
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState, type RefObject } from 'react';
import type { Column } from './column';
import { fitWidths, trackOf, type Fitted } from './fit';

const LEAST_PX = 40;
/** Rows that come by scrolling are measured when they stand. */
const STANDS_MS = 250;
const NAMES: ReadonlySet<string> = new Set(['name', 'file', 'title']);
/** What stands around letters: the edge of a mark, the sign of an order. */
const SPARE_PX = 6;
const NOTHING: Need = { all: 0, name: 0 };

/** In pixels: all that stands in a cell, and the name in it, where it is known to be one. */
interface Need {
  readonly all: number;
  readonly name: number;
}

interface Measured {
  /** By the key of the column: as wide as its widest cell so far, its title among them. */
  readonly needs: ReadonlyMap<string, Need>;
  /** For all columns together (px). */
  readonly room: number;
}

/** How wide what stands in a cell is, cut off or not. */
function contentOf(cell: HTMLElement): Need {
  const path = cell.querySelector<HTMLElement>(':scope > .path');
  if (path) {
    const gap = Number.parseFloat(getComputedStyle(path).columnGap) || 0;
    const parts = [...path.children].map((part) => ({
      width: part.scrollWidth + gap + (part.matches('.copy') ? SPARE_PX : 1),
      isName: part.matches('.file, .copy'),
    }));
    const sum = (own: typeof parts) => own.reduce((total, { width }) => total + width, 0);
    return { all: sum(parts), name: sum(parts.filter(({ isName }) => isName)) };
  }
  const whole = (width: number): Need => ({ all: width, name: 0 });
  if (cell.scrollWidth > cell.clientWidth) return whole(cell.scrollWidth + 1);
  // Letters and pictures; what fills its cell, as a bar does, is never cut.
  const boxes = [...cell.querySelectorAll('img, svg')].map((picture) => picture.getBoundingClientRect());
  const range = document.createRange();
  const texts = document.createTreeWalker(cell, NodeFilter.SHOW_TEXT);
  while (texts.nextNode()) {
    range.selectNodeContents(texts.currentNode);
    boxes.push(range.getBoundingClientRect());
  }
  const seen = boxes.filter(({ width }) => width > 0);
  if (seen.length === 0) return whole(0);
  return whole(Math.ceil(Math.max(...seen.map(({ right }) => right)) - Math.min(...seen.map(({ left }) => left))) + SPARE_PX);
}

function measure(body: HTMLElement, columns: readonly Column<never>[], before: number, known: ReadonlyMap<string, Need>): Measured | null {
  const head = body.querySelector<HTMLElement>('.head');
  if (!head || body.clientWidth === 0) return null;
  const style = getComputedStyle(head);
  const [gap, left, right] = [style.columnGap, style.paddingLeft, style.paddingRight].map((text) => Number.parseFloat(text) || 0);
  const needs = new Map(known);
  const rows = [head, ...body.querySelectorAll<HTMLElement>('.lines > .row:not(.group):not([aria-busy])')];
  for (const row of rows)
    columns.forEach(({ key }, index) => {
      const cell = row.children[before + index] as HTMLElement | undefined;
      if (!cell) return;
      const [was, now] = [needs.get(key) ?? NOTHING, contentOf(cell)];
      needs.set(key, { all: Math.max(was.all, now.all), name: Math.max(was.name, now.name) });
    });
  const others = [...head.children].slice(0, before).reduce((sum, cell) => sum + (cell as HTMLElement).offsetWidth, 0);
  return { needs, room: body.clientWidth - left! - right! - gap! * (before + columns.length - 1) - others };
}

function fitted(column: Column<never>, { all, name }: Need, own: number | undefined): Fitted {
  const { least, grow } = trackOf(column.width);
  if (own !== undefined) return { least: own, name: own, need: own, wish: own, grow: 0 };
  if (column.fixed) return { least, name: least, need: least, wish: least, grow };
  const isName = column.isName ?? NAMES.has(column.key);
  // Names come first: what grows beside them gives way to its least.
  const floor = grow > 0 && !isName && name === 0 && column.isName === undefined ? LEAST_PX : least;
  return { least: Math.min(floor, Math.max(LEAST_PX, all)), name: isName ? all : name, need: all, wish: Math.max(all, least), grow };
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
  const known = useRef<ReadonlyMap<string, Need>>(new Map());
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
      columns.map((column) => fitted(column, measured.needs.get(column.key) ?? NOTHING, sizes[column.key])),
      measured.room,
    );
    return Object.fromEntries(columns.map(({ key }, index) => [key, Math.floor(widths[index]!)]));
  }, [measured, columns, sizes]);
}

function sameNeeds(a: ReadonlyMap<string, Need>, b: ReadonlyMap<string, Need>): boolean {
  return a.size === b.size && [...a].every(([key, { all, name }]) => b.get(key)?.all === all && b.get(key)?.name === name);
}
