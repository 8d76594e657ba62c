/** The plan of a sort as files to keep: a table of every file, and a page that opens anywhere. */
import Papa from 'papaparse';
import { fileName } from '../../media/item';
import { formatBytes, formatCount } from '../../words/figures';
import { htmlPage, markup, type Html } from '../../words/html';
import type { Plan } from '../plan/plan';
import type { SortDetail } from './sort';
import type { SortRow, TreeFolder } from './sort-rows';

type ShelfName = (shelfId: string) => string;

function fateOf(row: SortRow): string {
  return row.stays === null ? (row.oldName === row.newName ? 'goes' : 'goes and gets another name') : `stays: ${row.stays}`;
}

/** A line a file, a card or a sequence (RFC 4180). Names that begin like formulas are not taken for some. */
export function sortCsv({ detail }: Plan<SortDetail>, shelfName: ShelfName, destination: string): string {
  const rows = detail.rows.map((row) => ({
    Shelf: shelfName(row.from.shelfId),
    'Path now': row.from.path,
    'To shelf': row.stays === null ? destination : shelfName(row.from.shelfId),
    'Path then': row.stays === null ? `${row.folder}/${row.newName}` : row.from.path,
    What: fateOf(row),
    Why: [row.why, ...row.renamed].join('; '),
    Files: row.files,
    Bytes: row.bytes,
    Clips: row.clips,
  }));
  return Papa.unparse(rows, { escapeFormulae: /^'*[=+\-@\t\r]/, newline: '\r\n' });
}

/** Both trees side by side with counts and bytes, what is renamed and why, what stays and why. */
export function sortHtml(plan: Plan<SortDetail>, shelfName: ShelfName, destination: string): string {
  const { detail, title, findings, lines } = plan;
  const now = [...new Set(detail.now.map(({ shelfId }) => shelfId))].map((id) => markup`<h3>${shelfName(id)}</h3>${tree(detail.now.filter(({ shelfId }) => shelfId === id))}`); // prettier-ignore
  const renamed = detail.rows.filter((row) => row.stays === null && row.oldName !== row.newName);
  const stays = detail.rows.filter((row) => row.stays !== null && row.stays !== 'in its place');
  return htmlPage(
    title,
    title,
    markup`<p>A plan: nothing was done yet.</p>
<table><tbody>${lines.map(({ label, files, bytes, text }) => markup`<tr><td>${label}</td><td class="n">${files === undefined ? '' : `${formatCount(files)} files`}</td><td class="n">${bytes === undefined ? (text ?? '') : formatBytes(bytes)}</td></tr>`)}</tbody></table>
${findings.length > 0 ? markup`<h2>To read before it runs</h2><ul>${findings.map(({ message, hint }) => markup`<li>${message} ${hint ?? ''}</li>`)}</ul>` : ''}
<div class="two"><section><h2>Now</h2>${now}</section><section><h2>Then</h2><h3>${destination}</h3>${tree(detail.then)}</section></div>
${list('Get another name', renamed, shelfName, (row) => markup`${row.newName}<br>${row.renamed.join(', ')}`)}
${list('Stay where they are', stays, shelfName, (row) => row.stays ?? '')}`,
  );
}

function tree(folders: readonly TreeFolder[]): Html {
  const rows = folders.map(({ path, files, bytes }) => {
    const depth = path === '' ? 0 : path.split('/').length;
    return markup`<tr><td class="m" style="padding-left:${0.6 + depth}rem">${path === '' ? '/' : fileName(path)}</td><td class="n">${formatCount(files)}</td><td class="n">${formatBytes(bytes)}</td></tr>`;
  });
  return markup`<table><thead><tr><th>Folder</th><th class="n">Files</th><th class="n">Size</th></tr></thead><tbody>${rows}</tbody></table>`;
}

function list(title: string, rows: readonly SortRow[], shelfName: ShelfName, words: (row: SortRow) => Html | string): Html | string {
  if (rows.length === 0) return '';
  const cells = rows.map(
    (row) => markup`<tr><td class="m">${shelfName(row.from.shelfId)} / ${row.from.path}</td><td class="m">${words(row)}</td></tr>`,
  );
  return markup`<h2>${title}</h2><table><tbody>${cells}</tbody></table>`;
}
