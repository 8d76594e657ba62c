/** The report inside a crate: a page that opens anywhere, without scripts. */
import { rateLabel } from '../../time/rate';
import { aboutLines } from './crate-about';
import type { CrateLabel } from './crate-label';
import type { LinkState } from '../../project/clip';
import { formatBytes, plural } from '../../words/figures';
import { htmlPage, markup, type Html } from '../../words/html';

export interface ReportFile {
  readonly path: string;
  readonly bytes: number;
  readonly sha256: string;
  readonly how: string;
  readonly from: string;
}

function decodedWords({ decoded }: CrateLabel): Html | string {
  if (!decoded) return '';
  if (decoded.sources === 0) return markup`<p>Its media was not decoded before it was made.</p>`;
  return markup`<p>Of ${decoded.sources} of ${plural(decoded.of, 'source')} every used frame was decoded before: ${plural(decoded.frames, 'frame')} without a fault.</p>`;
}

function aboutTable({ about = {} }: CrateLabel): Html | string {
  const rows = aboutLines(about).map(([name, value]) => markup`<tr><th>${name.replaceAll('-', ' ')}</th><td>${value}</td></tr>`);
  return rows.length === 0 ? '' : markup`<table>${rows}</table>`;
}

/** What is not in the crate, and why. */
function lackTable({ lacks = [] }: CrateLabel): Html | string {
  if (lacks.length === 0) return '';
  const rows = lacks.map(
    ({ name, state, events, damage }) =>
      markup`<tr><td>${name}</td><td>${WHY_LACKING[state]}${damage === undefined ? '' : `: ${damage}`}</td><td class="n">${events}</td></tr>`,
  );
  return markup`<h2>Not in this crate</h2>
<p>The timelines use ${plural(lacks.length, 'clip')} whose media is not here. Their events keep the name of the file.</p>
<table><thead><tr><th>Clip</th><th>Why</th><th class="n">Events</th></tr></thead><tbody>
${rows}
</tbody></table>
<h2>In this crate</h2>
`;
}

const WHY_LACKING: Record<LinkState, string> = {
  present: 'its file could not be taken',
  unplugged: 'its drive was not plugged in',
  missing: 'its file was not found',
  changed: 'another file stood under its name',
  damaged: 'not all of its file can be read',
  'set-aside': 'it was set aside',
  'by-proxy': 'only a proxy of it was there',
  'not-read': 'the read order stops before it',
};

export function crateReport(label: CrateLabel, files: readonly ReportFile[]): string {
  const total = files.reduce((sum, file) => sum + file.bytes, 0);
  const rows = files.map(
    (file) =>
      markup`<tr><td><code>${file.path}</code></td><td>${file.how}</td>${label.keepPaths ? markup`<td><code>${file.from}</code></td>` : ''}<td class="n">${file.bytes}</td><td><code>${file.sha256}</code></td></tr>`,
  );
  return htmlPage(
    `${label.crateName}: crate report`,
    label.crateName,
    markup`<p>Made from the project <b>${label.projectName}</b> (${rateLabel(label.rate)} frames a second) on ${label.madeAt}.</p>
${label.note ? markup`<p>${label.note}</p>` : ''}
${aboutTable(label)}
<p>${files.length + 1} files with this report; beside it ${formatBytes(total)} (${total} bytes). Timelines: ${label.timelineNames.join(', ') || 'none'}.</p>
<p>Each file was read back after it was written and compared. To check again later, run <code>sha256sum -c manifest-sha256.txt</code> in the crate's folder. The timelines in <code>data/timelines</code> are OpenTimelineIO with links relative to their own folder.</p>
${decodedWords(label)}
${lackTable(label)}<table><thead><tr><th>File</th><th>How</th>${label.keepPaths ? markup`<th>From</th>` : ''}<th class="n">Bytes</th><th>SHA-256</th></tr></thead><tbody>
${rows}
</tbody></table>`,
  );
}
