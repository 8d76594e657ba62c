/** A list as it stands, kept as a table of text (CSV, RFC 4180) or as a page to print; what is not loaded is fetched. */
import { MantineProvider } from '@mantine/core';
import { QueryClientProvider, type QueryClient } from '@tanstack/react-query';
import dayjs from 'dayjs';
import { Fragment } from 'react';
import { theme } from '../../../styles/theme';
import { plural } from '../figures';
import { saveBlob } from '../save-text';
import type { Column } from './column';

/** What a row says beside its columns. */
export interface AlsoKept<Row> {
  readonly title: string;
  readonly text: (row: Row) => string;
}

export interface ListToKeep<Row> {
  /** What the file is called, without its ending. */
  readonly name: string;
  /** Which project it is of. */
  readonly of: string;
  readonly columns: readonly Column<Row>[];
  readonly count: number;
  /** Rows by their indexes, both inclusive. */
  readonly rowsIn: (first: number, last: number) => Promise<readonly Row[]>;
  readonly also: readonly AlsoKept<Row>[];
  readonly client: QueryClient;
}

/** How many are made at once; others are answered between them. */
const AT_ONCE = 200;

/** `told`: called with how many rows are done; `signal`: it is given up. Rejects where rows cannot be fetched. */
export async function keepList<Row>(list: ListToKeep<Row>, as: 'csv' | 'html', told: (done: number) => void, signal: AbortSignal): Promise<void> {
  const { renderToStaticMarkup } = await import('react-dom/server');
  const isExact = as === 'csv';
  // What is there for the hand alone has neither a title nor words.
  const columns = list.columns
    .map((column) => ({ ...column, title: column.title || (column.key === 'state' ? 'State' : '') }))
    .filter(({ title }) => title !== '');
  const units = new Map<number, string>();
  const lines: string[][] = [];
  for (let first = 0; first < list.count; first += AT_ONCE) {
    const rows = await list.rowsIn(first, Math.min(list.count, first + AT_ONCE) - 1);
    const drawn = new DOMParser().parseFromString(
      renderToStaticMarkup(
        <MantineProvider theme={theme} withCssVariables={false} withGlobalClasses={false}>
          <QueryClientProvider client={list.client}>
            {rows.map((row, index) => (
              <section key={index}>
                {columns.map(({ key, cell }) => (
                  <article key={key}>
                    <Fragment>{cell(row)}</Fragment>
                  </article>
                ))}
              </section>
            ))}
          </QueryClientProvider>
        </MantineProvider>,
      ),
      'text/html',
    );
    [...drawn.querySelectorAll('body section')].forEach((line, at) => {
      const cells = [...line.children].map((cell, index) => {
        const unit = cell.querySelector('[data-unit]')?.getAttribute('data-unit');
        if (unit) units.set(index, unit);
        return textOf(cell, isExact);
      });
      lines.push([...cells, ...list.also.map(({ text }) => text(rows[at]!))]);
    });
    told(lines.length);
    await new Promise((resolve) => setTimeout(resolve));
    if (signal.aborted) return;
  }
  const titles = [
    ...columns.map(({ title }, index) => (isExact && units.has(index) ? `${title} (${units.get(index)!})` : title)),
    ...list.also.map(({ title }) => title),
  ];
  const text = isExact ? await csvOf([titles, ...lines]) : pageOf(list, titles, lines, new Set(units.keys()));
  saveBlob(new Blob([text], { type: isExact ? 'text/csv;charset=utf-8' : 'text/html;charset=utf-8' }), `${list.name}.${as}`);
}

/** The words of a cell, its signs by their names; `isExact`: figures as they are, not as they are written for people. */
function textOf(cell: Element, isExact: boolean): string {
  for (const own of cell.querySelectorAll('.copy, script, style')) own.remove();
  if (isExact) for (const own of cell.querySelectorAll('[data-exact]')) own.textContent = own.getAttribute('data-exact');
  for (const sign of cell.querySelectorAll('[role=img][aria-label]')) sign.textContent = sign.getAttribute('aria-label');
  return cell.textContent.replaceAll(/\s+/g, ' ').trim();
}

/** What begins like a formula gets a ' before it, so that a spreadsheet shows it instead of running it. */
async function csvOf(table: readonly (readonly string[])[]): Promise<string> {
  const { default: Papa } = await import('papaparse');
  return `${Papa.unparse(table as string[][], { newline: '\r\n', escapeFormulae: /^'*[=+@\t\r]|^'*-(?!$|[\d.,]+$)/ })}\r\n`;
}

const STYLE = `body { font: 13px/1.5 "Atkinson Hyperlegible Next", system-ui, sans-serif; margin: 24px; color: #1d2523; }
h1 { font-size: 20px; margin: 0; } p { color: #5c625b; margin: 2px 0 16px; }
table { border-collapse: collapse; width: 100%; }
th, td { text-align: left; vertical-align: top; padding: 3px 10px 3px 0; border-bottom: 1px solid #ddd8c9; overflow-wrap: anywhere; }
th { border-bottom-color: #1d2523; } .num { text-align: right; white-space: nowrap; }
thead { display: table-header-group; } tr { break-inside: avoid; }`;

function pageOf<Row>(list: ListToKeep<Row>, titles: readonly string[], lines: readonly (readonly string[])[], numbers: ReadonlySet<number>): string {
  const page = document.implementation.createHTMLDocument(list.name);
  const add = <Tag extends keyof HTMLElementTagNameMap>(to: Element, tag: Tag, text = ''): HTMLElementTagNameMap[Tag] => {
    const element = page.createElement(tag);
    element.textContent = text;
    to.append(element);
    return element;
  };
  page.documentElement.lang = 'en';
  add(page.head, 'meta').setAttribute('charset', 'utf-8');
  add(page.head, 'style', STYLE);
  add(page.body, 'h1', list.name);
  add(page.body, 'p', [list.of, plural(lines.length, 'row'), dayjs().format('YYYY-MM-DD HH:mm')].filter((part) => part !== '').join(' · '));
  const table = add(page.body, 'table');
  const head = add(add(table, 'thead'), 'tr');
  const mark = (cell: Element, index: number) => numbers.has(index) && cell.classList.add('num');
  titles.forEach((title, index) => mark(add(head, 'th', title), index));
  const body = add(table, 'tbody');
  for (const line of lines) {
    const row = add(body, 'tr');
    line.forEach((text, index) => mark(add(row, 'td', text), index));
  }
  return `<!doctype html>\n${page.documentElement.outerHTML}\n`;
}
