/** A finish check to keep or print: a page that opens anywhere, and a table. */
import Papa from 'papaparse';
import { htmlPage, markup } from '../../words/html';
import type { Plan } from '../plan/plan';
import type { FinishDetail, FinishRow } from './finish';

type ShelfName = (shelfId: string) => string;

const fileOf = ({ place }: FinishRow, shelfName: ShelfName) => (place ? `${shelfName(place.shelfId)}/${place.path}` : '');
const wordsOf = ({ problems }: FinishRow) => problems.map(({ words }) => words).join('; ');

/** A line an event (RFC 4180). Names that begin like formulas are not taken for some. */
export function finishCsv({ detail }: Plan<FinishDetail>, shelfName: ShelfName): string {
  const rows = detail.rows.map((row) => ({
    Record: row.record,
    Track: row.track,
    Event: row.name,
    Reads: row.read ?? '',
    File: fileOf(row, shelfName),
    Ready: row.problems.length === 0 ? 'yes' : 'no',
    Why: wordsOf(row),
  }));
  return Papa.unparse(rows, { escapeFormulae: /^'*[=+\-@\t\r]/, newline: '\r\n' });
}

export function finishHtml({ title, headline, lines, findings, detail }: Plan<FinishDetail>, shelfName: ShelfName): string {
  const open = detail.rows.filter(({ problems }) => problems.length > 0);
  const rows = open.map((row) => markup`<tr><td class="m">${row.record}</td><td>${row.track}</td><td>${row.name}</td><td>${wordsOf(row)}</td><td class="m">${fileOf(row, shelfName)}</td></tr>`); // prettier-ignore
  return htmlPage(
    title,
    title,
    markup`<p><b>${headline.value} of ${headline.of} events ${headline.words}.</b> ${findings.map(({ message }) => message).join(' ')}</p>
<table><tbody>${lines.map(({ label, text }) => markup`<tr><td>${label}</td><td>${text ?? ''}</td></tr>`)}</tbody></table>
${open.length === 0 ? '' : markup`<h2>Where not</h2><table><thead><tr><th>Record</th><th>Track</th><th>Event</th><th>Why</th><th>File</th></tr></thead><tbody>${rows}</tbody></table>`}`,
  );
}
