/** Clip lists: CSV text (comma, semicolon or tab; RFC 4180) into a collection of bins and clips, as an OTIO document. */
import Papa from 'papaparse';
import { stops, warns, type Finding } from '../../words/finding';
import type { CodeOf } from '../../words/finding-codes';
import { formatRate, isRateNumber, rateFromNumber, rateLabel, type Rate } from '../../time/rate';
import { framesPerDay, parseTimecode } from '../../time/timecode';
import type { Json, OtioObject } from '../otio/otio-types';
import { clipDocument, externalReference, timeRange } from '../otio/otio-writer';
import { CLIP_LIST_FIELDS, type ClipListField, type ClipListRow, type ColumnMap, type TablePreview } from './clip-list-types';

const PREVIEW_ROWS = 8;
const MOST_ROWS = 200_000;

/** Titles that people give the columns, in lower case without spaces. */
const TITLES: Readonly<Record<ClipListField, RegExp>> = {
  name: /^(name|clip|clipname|shot|shotname|title|displayname)$/,
  file: /^((source|original|media)?file(name|path)?|(source|media)?path|source|media|mediafile|location)$/,
  reel: /^((source|camera|cam)?(reel|tape|roll)(name|id|number)?|card|cardname)$/,
  start: /^(start|starttc|starttimecode|mediastart|tcstart)$/,
  in: /^(in|inpoint|markin|sourcein|tcin)$/,
  out: /^(out|outpoint|markout|sourceout|tcout)$/,
  bin: /^(bin|folder|group|category)$/,
  notes: /^(notes?|comments?|description|remarks?)$/,
  rate: /^((frame|source|video)?rate|(source)?fps|framespersecond)$/,
};

/** The rows of a table, the first one its titles. Null when the text is no table of at least two columns. */
function parseTable(text: string): string[][] | null {
  const clean = text.replace(/^\ufeff/, '');
  const { data } = Papa.parse<string[]>(clean, { skipEmptyLines: 'greedy', delimiter: delimiterOf(clean) });
  return data.length > 0 && data[0]!.length >= 2 ? data : null;
}

/** The delimiter under which the first line has most known titles, else most columns: contents hold commas of their own. */
function delimiterOf(text: string): string {
  const line = text.slice(0, 65_536).trimStart().split(/\r\n|\r|\n/, 1)[0] ?? ''; // prettier-ignore
  const of = (delimiter: string) => {
    const titles = Papa.parse<string[]>(line, { delimiter }).data[0] ?? [];
    return { delimiter, known: knownTitles(titles), columns: titles.length };
  };
  return ['\t', ';', ','].map(of).sort((a, b) => b.known - a.known || b.columns - a.columns)[0]!.delimiter;
}

function knownTitles(titles: readonly string[]): number {
  return Object.keys(guessColumns(titles)).length;
}

/** How many known titles the first line of a text holds: a clip list has one at least. */
export function clipListTitles(text: string): number {
  const head = parseTable(text.slice(0, 65_536).split(/\r\n|\r|\n/, 1)[0] ?? '');
  return head === null ? 0 : knownTitles(head[0]!);
}

export function guessColumns(titles: readonly string[]): ColumnMap {
  const plain = titles.map((title) => title.toLowerCase().replace(/[^a-z]/g, ''));
  return Object.fromEntries(
    CLIP_LIST_FIELDS.flatMap((field) => {
      const at = plain.findIndex((title) => TITLES[field].test(title));
      return at < 0 ? [] : [[field, at]];
    }),
  );
}

export function previewClipList(text: string): TablePreview | null {
  const table = parseTable(text);
  if (!table) return null;
  const [columns, ...rows] = table as [string[], ...string[][]];
  return { columns, rows: rows.slice(0, PREVIEW_ROWS), rowCount: rows.length, guess: guessColumns(columns) };
}

/**
 * Reads a list: timecodes count at `rate` where a row states no other, the out point is the first frame no longer in. A row that cannot be used
 * is a finding with its number (row 1 is the one below the titles); the others are read. Never throws.
 */
export function readClipList(text: string, rate: Rate, columns?: ColumnMap): { document: OtioObject | null; findings: Finding[] } {
  const table = parseTable(text);
  if (!table) return refusal('clip-list-no-table', 'This is no table: there are not two columns.', 'Export the list as CSV with a line of titles.');
  const map = columns ?? guessColumns(table[0]!);
  if (map.name === undefined && map.file === undefined)
    return refusal('clip-list-no-name', 'No column is taken as name or file.', 'Say which column holds the name or the file of each clip.');
  if (table.length > MOST_ROWS) return refusal('clip-list-too-long', `The list has more than ${MOST_ROWS} rows.`, 'Split it into several lists.');
  const findings: Finding[] = [];
  const root: Bin = { clips: [], bins: new Map() };
  table.slice(1).forEach((cells, index) => {
    const row = Object.fromEntries(CLIP_LIST_FIELDS.map((field) => [field, unquoted(cells[map[field] ?? -1] ?? '')])) as unknown as ClipListRow;
    const clip = clipOfRow(row, rate, `row ${index + 1}`, findings);
    if (clip) binAt(root, row.bin).clips.push(clip);
  });
  return { document: collection('', root), findings };
}

function refusal(code: CodeOf<'stops'>, message: string, hint: string) {
  return { document: null, findings: [stops(code, message, hint, 'line 1')] };
}

/** A leading ' protects spreadsheets from what begins like a formula; one that stood there before is behind it. */
function unquoted(cell: string): string {
  return cell.trim().replace(/^'(?='*[=+\-@\t\r])/, '');
}

/** The rate a row states, "23.976" or "25p"; that of the list where it states none. */
function rateOf(row: ClipListRow, listRate: Rate, where: string, findings: Finding[]): Rate {
  if (row.rate === '') return listRate;
  const number = Number(/^\d+(?:\.\d+)?/.exec(row.rate.replace(',', '.'))?.[0] ?? NaN);
  if (isRateNumber(number)) return rateFromNumber(number);
  findings.push(warns('clip-list-bad-rate', `"${row.rate.slice(0, 20)}" is no frame rate.`, `The row counts at ${rateLabel(listRate)}.`, where));
  return listRate;
}

function clipOfRow(row: ClipListRow, listRate: Rate, where: string, findings: Finding[]): OtioObject | null {
  const name = row.name || row.file.split(/[\\/]/).at(-1)!;
  if (name === '') {
    findings.push(warns('clip-list-empty-row', 'There is neither a name nor a file; the row was left out.', undefined, where));
    return null;
  }
  const rate = rateOf(row, listRate, where, findings);
  const at = (field: 'start' | 'in' | 'out'): { frame: number; dropFrame: boolean } | null => {
    if (row[field] === '') return null;
    const timecode = parseTimecode(row[field], rate);
    if (timecode.ok) return timecode;
    findings.push(warns('clip-list-bad-timecode', `${field}: ${timecode.reason}.`, 'The clip comes without it.', where));
    return null;
  };
  const start = at('start')?.frame ?? null;
  const [markIn, markOut] = [at('in'), at('out')];
  const inFrame = markIn?.frame ?? null;
  // An out point more than half a day before the in point is of the next day.
  const day = framesPerDay(rate, markOut?.dropFrame ?? false);
  const isNextDay = markIn !== null && markOut !== null && markIn.frame - markOut.frame > day / 2;
  const outFrame = markOut === null ? null : markOut.frame + (isNextDay ? day : 0);
  const marked = inFrame !== null && outFrame !== null;
  const hasLone = !marked && (inFrame !== null || outFrame !== null);
  const lone: OtioObject = hasLone ? { mark_in: inFrame, mark_out: outFrame, mark_rate: formatRate(rate) } : {};
  if (marked && outFrame <= inFrame)
    findings.push(warns('clip-list-no-length', 'The out point is not after the in point; the clip comes without them.', undefined, where));
  const metadata: OtioObject = { mill_shelf: { reel: row.reel, ...(start === null ? {} : { start_frame: start, start_rate: formatRate(rate) }) } };
  const reference: OtioObject =
    row.file === ''
      ? { OTIO_SCHEMA: 'MissingReference.1', metadata, name, available_range: null, available_image_bounds: null }
      : externalReference(row.file, name, null, metadata);
  const range = marked && outFrame > inFrame ? timeRange(inFrame, outFrame - inFrame, rate) : null;
  return clipDocument(name, range, reference, [], { mill_shelf: { note: row.notes, ...lone } });
}

interface Bin {
  readonly clips: Json[];
  readonly bins: Map<string, Bin>;
}

function binAt(root: Bin, path: string): Bin {
  let bin = root;
  for (const name of path.split(/[\\/]/).map((part) => part.trim())) {
    if (name === '') continue;
    const next = bin.bins.get(name) ?? { clips: [], bins: new Map<string, Bin>() };
    bin.bins.set(name, next);
    bin = next;
  }
  return bin;
}

function collection(name: string, bin: Bin): OtioObject {
  const bins = [...bin.bins].map(([inner, content]) => collection(inner, content));
  return { OTIO_SCHEMA: 'SerializableCollection.1', metadata: {}, name, children: [...bin.clips, ...bins] };
}
