/**
 * Whether a card may be formatted: for each of its files, on which other drives a verified copy stands. Verified is a copy of which
 * every byte was read, as of the file itself, when neither was touched since. What was not read yet is read by the run, which then
 * tells it once more, file by file.
 */
import { fileName, placeKey, type Place, type SequenceFacts } from '../../media/item';
import { formatBytes, formatCount, fewNames, oneOrMany, plural } from '../../words/figures';
import { notes, stops, warns, type Finding } from '../../words/finding';
import type { Plan } from '../plan/plan';
import { linkStep, type CatalogueChange, type CheckStep } from '../plan/step';
import type { CheckCopiesSettings } from './settings';

/** `verified`: equal in every byte; `like`: of the same size and samples, not compared in full; `changed`: not as it was when it was read; `on-card`: a card is formatted too, so that a copy there does not count. */
export type CopyState = 'verified' | 'like' | 'changed' | 'unplugged' | 'on-card';

export interface SurveyedCopy {
  readonly place: Place;
  readonly state: CopyState;
  /** Every byte of it was read, and it is untouched since. */
  readonly isRead: boolean;
  /** The same text for shelves on one drive; null where it is unplugged. */
  readonly drive: string | null;
  readonly sequence: SequenceFacts | null;
}

/** A file as it stands now. */
export interface SurveyedFile {
  readonly path: string;
  readonly bytes: number;
  readonly isMedia: boolean;
  readonly sequence: SequenceFacts | null;
  /** `read`: every byte was read and it is untouched since; `unread`: it is as the last stocktake saw it; `unknown`: it is not. */
  readonly state: 'read' | 'unread' | 'unknown';
  readonly copies: readonly SurveyedCopy[];
}

export interface Survey {
  readonly shelf: { readonly id: string; readonly name: string; readonly drive: string | null };
  readonly files: readonly SurveyedFile[];
  /** Files that are hidden or lie in hidden folders: nobody looks at them. */
  readonly hidden: { readonly files: number; readonly bytes: number; readonly media: readonly string[] };
  /** Folders that could not be opened, and names that cannot be read. */
  readonly closed: readonly string[];
  readonly nameOf: (shelfId: string) => string;
}

export interface CopiesRow {
  readonly path: string;
  readonly bytes: number;
  readonly isMedia: boolean;
  readonly state: 'enough' | 'few' | 'compare' | 'none' | 'unknown' | 'empty';
  /** On how many other drives a verified copy is, and their shelves. */
  readonly drives: number;
  readonly shelves: readonly string[];
  /** Where a copy is that does not count: not compared yet, changed since, or unplugged. */
  readonly others: readonly { readonly shelf: string; readonly state: Exclude<CopyState, 'verified'> }[];
}

export interface CopiesDetail {
  readonly rows: readonly CopiesRow[];
  readonly counts: Readonly<Record<CopiesRow['state'], number>>;
}

/** Each file that is on the shelf was told with enough copies. */
export interface CopiesTold extends CatalogueChange {
  readonly type: 'copies-told';
  readonly shelfId: string;
  readonly name: string;
  readonly wanted: number;
}

export function planCheckCopies(survey: Survey, settings: CheckCopiesSettings, projectId: string | null = null): Plan<CopiesDetail> {
  const { shelf } = survey;
  const rows = survey.files.map((file) => rowOf(file, survey, settings));
  const counts = countsOf(rows);
  const steps = [...readSteps(survey, rows, settings), ...tellSteps(survey, settings)];
  const reads = steps.filter(({ phase }) => phase === READING);
  const readBytes = reads.reduce((sum, { expectedBytes }) => sum + expectedBytes, 0);
  const isDone = counts.enough > 0 && counts.enough + counts.empty === rows.length && survey.closed.length === 0;
  // With all that lacks its comparison compared, it may come out as done: the run tells.
  const mayBeDone = isDone || (counts.compare > 0 && counts.enough + counts.compare + counts.empty === rows.length && survey.closed.length === 0);
  const findings = findingsOf(survey, rows, settings, isDone);
  const stop = findings.find(({ severity }) => severity === 'stops');
  // A receipt that says of every file that it has no copy is of no use to anybody.
  const blocked =
    stop?.message ?? (counts.enough + counts.few + counts.compare === 0 ? `No file of ${shelf.name} has a copy on another drive.` : null);
  const told = mayBeDone
    ? [linkStep<CopiesTold>(TOLD, 'all files together', { type: 'copies-told', shelfId: shelf.id, name: shelf.name, wanted: settings.wanted })]
    : [];
  return {
    kind: 'check-copies',
    title: `Check before formatting: ${shelf.name}`,
    projectId,
    headline: {
      value: counts.enough,
      of: rows.length - counts.empty,
      unit: 'files',
      words: `verified on ${settings.wanted === 1 ? 'another drive' : `${settings.wanted} other drives`}`,
    },
    lines: [
      { label: 'Files on it', files: rows.length, bytes: bytesOf(rows) },
      ...lineOf('Verified on fewer', rows, 'few'),
      ...lineOf('Not compared yet', rows, 'compare'),
      ...lineOf('No copy found', rows, 'none'),
      ...lineOf('Not known yet', rows, 'unknown'),
      ...(counts.empty > 0 ? [{ label: 'Empty (0 bytes)', files: counts.empty }] : []),
      ...(reads.length > 0 ? [{ label: 'Read and compared', files: reads.length, bytes: readBytes }] : []),
      { label: 'Originals', text: 'untouched' },
    ],
    fills: [],
    findings,
    steps: blocked === null ? [...steps, ...told] : [],
    blocked,
    detail: { rows, counts },
  };
}

const READING = 1;
const TELLING = 2;
const TOLD = 3;

export function rowOf(file: SurveyedFile, { shelf, nameOf }: Pick<Survey, 'shelf' | 'nameOf'>, { wanted }: { readonly wanted: number }): CopiesRow {
  const elsewhere = file.copies.filter(({ drive }) => drive === null || drive !== shelf.drive);
  const verified = elsewhere.filter(({ state }) => state === 'verified');
  const drives = new Set(verified.map(({ drive }) => drive)).size;
  const others = elsewhere.flatMap(({ place, state }) => (state === 'verified' ? [] : [{ shelf: nameOf(place.shelfId), state }]));
  const mayBeCompared = others.some(({ state }) => state === 'like');
  return {
    path: file.path,
    bytes: file.bytes,
    isMedia: file.isMedia,
    state: stateOf(file, drives, wanted, mayBeCompared),
    drives,
    shelves: [...new Set(verified.map(({ place }) => nameOf(place.shelfId)))].sort(),
    others: [...new Map(others.map((other) => [`${other.shelf} ${other.state}`, other])).values()].sort((a, b) => (a.shelf < b.shelf ? -1 : 1)),
  };
}

function stateOf(file: SurveyedFile, drives: number, wanted: number, mayBeCompared: boolean): CopiesRow['state'] {
  if (file.bytes === 0) return 'empty';
  if (file.state === 'unknown') return 'unknown';
  if (drives >= wanted) return 'enough';
  if (mayBeCompared) return 'compare';
  return drives > 0 ? 'few' : 'none';
}

function countsOf(rows: readonly CopiesRow[]): CopiesDetail['counts'] {
  const counts = { enough: 0, few: 0, compare: 0, none: 0, unknown: 0, empty: 0 };
  for (const { state } of rows) counts[state]++;
  return counts;
}

function bytesOf(rows: readonly CopiesRow[]): number {
  return rows.reduce((sum, { bytes }) => sum + bytes, 0);
}

function lineOf(label: string, rows: readonly CopiesRow[], state: CopiesRow['state']) {
  const own = rows.filter((row) => row.state === state);
  return own.length === 0 ? [] : [{ label, files: own.length, bytes: bytesOf(own) }];
}

function drivesWanted({ wanted }: { readonly wanted: number }): string {
  return wanted === 1 ? 'another drive' : `at least ${wanted} other drives`;
}

/** What is read: files that have a copy and were not read yet, and those copies; or all of both. */
function readSteps({ shelf, files }: Survey, rows: readonly CopiesRow[], { readAgain }: CheckCopiesSettings): CheckStep[] {
  const steps = new Map<string, CheckStep>();
  const read = (place: Place, bytes: number, sequence: SequenceFacts | null, reason: string) =>
    steps.set(placeKey(place), { action: 'check', phase: READING, from: place, to: null, expectedBytes: bytes, bytesExact: true, reason, mustHold: null, sha256: null, ...(sequence ? { frames: sequence } : {}) }); // prettier-ignore
  for (const [index, { path, bytes, state, sequence, copies }] of files.entries()) {
    if (!(readAgain ? ['enough', 'few', 'compare'] : ['compare']).includes(rows[index]!.state)) continue;
    const there = copies.filter((copy) => (copy.state === 'verified' || copy.state === 'like') && copy.drive !== shelf.drive);
    if (readAgain || state === 'unread') read({ shelfId: shelf.id, path }, bytes, sequence, 'on the card');
    for (const copy of there) if (readAgain || !copy.isRead) read(copy.place, bytes, copy.sequence, 'a copy');
  }
  return [...steps.values()];
}

/** A line for each file on the receipt, told when all is read. */
function tellSteps({ shelf, files }: Survey, { wanted }: CheckCopiesSettings): CheckStep[] {
  return files
    .filter(({ bytes }) => bytes > 0)
    .map(({ path }) => ({ action: 'check', phase: TELLING, from: { shelfId: shelf.id, path }, to: null, expectedBytes: 0, bytesExact: true, reason: 'where its verified copies are', mustHold: null, sha256: null, copies: { wanted } })); // prettier-ignore
}

/** "All 48 files of A-CARD are verified on 2 other drives: TRAVEL, VAULT." `shelves`: of each file those with a verified copy. */
export function allVerified(name: string, shelves: readonly (readonly string[])[], wanted: { readonly wanted: number }): string {
  const count = shelves.length;
  const all = count === 1 ? 'The one file' : `All ${formatCount(count)} files`;
  return `${all} of ${name} ${oneOrMany(count, 'is', 'are')} verified on ${drivesWanted(wanted)}: ${[...new Set(shelves.flat())].sort().join(', ')}.`;
}

/** Of one file: "on 2 other drives: TRAVEL, VAULT". */
export function verifiedOn(drives: number, shelves: readonly string[]): string {
  return `verified on ${plural(drives, 'other drive')}: ${shelves.join(', ')}`;
}

function findingsOf(survey: Survey, rows: readonly CopiesRow[], settings: CheckCopiesSettings, isDone: boolean): Finding[] {
  const { shelf, hidden, closed } = survey;
  const of = (state: CopiesRow['state'], media: boolean | null = null) =>
    rows.filter((row) => row.state === state && (media === null || row.isMedia === media));
  const names = (own: readonly CopiesRow[]) => fewNames(own.map(({ path }) => fileName(path)));
  const [unknown, none, noneElse, few, compare] = [of('unknown'), of('none', true), of('none', false), of('few'), of('compare')];
  const changed = rows.filter(({ state, others }) => state !== 'enough' && others.some((other) => other.state === 'changed'));
  const unplugged = [...new Set(rows.flatMap(({ others }) => others.filter(({ state }) => state === 'unplugged').map((other) => other.shelf)))];
  return [
    ...(rows.length === 0 ? [stops('copies-nothing', `There is no file on ${shelf.name}.`, 'Nothing needs to be checked.')] : []),
    ...(isDone
      ? [
          notes(
            'copies-enough',
            allVerified(
              shelf.name,
              of('enough').map((row) => row.shelves),
              settings,
            ),
            'Run the check for a receipt to print. Then the card can be formatted.',
          ),
        ]
      : []),
    ...(unknown.length > 0
      ? [
          stops(
            'copies-unknown',
            `${plural(unknown.length, 'file is', 'files are')} not as the last stocktake saw ${oneOrMany(unknown.length, 'it', 'them')}: ${names(unknown)}.`,
            `Look for changes on ${shelf.name} first.`,
          ),
        ]
      : []),
    ...(none.length > 0
      ? [warns('copies-none', `${plural(none.length, 'media file has', 'media files have')} no copy on another drive: ${names(none)}.`, `Do not format ${shelf.name}. Copy ${oneOrMany(none.length, 'it', 'them')} first.`)] // prettier-ignore
      : []),
    ...(noneElse.length > 0
      ? [
          warns(
            'copies-none-other',
            `${plural(noneElse.length, 'file')} that ${oneOrMany(noneElse.length, 'is', 'are')} no media ${oneOrMany(noneElse.length, 'has', 'have')} no copy on another drive: ${names(noneElse)}.`,
            'Cameras write lists and previews beside the media. Copy them too if your software reads the card as a whole.',
          ),
        ]
      : []),
    ...(few.length > 0
      ? [
          warns(
            'copies-few',
            `${plural(few.length, 'file is', 'files are')} verified on 1 ${settings.wanted > 2 ? 'or 2 other drives' : 'other drive'} only: ${names(few)}.`,
            `Make a second copy on another drive before you format ${shelf.name}.`,
          ),
        ]
      : []),
    ...(compare.length > 0
      ? [notes('copies-compare', `${plural(compare.length, 'file has', 'files have')} a copy that was not compared in full yet: ${names(compare)}.`, 'Run the check: it reads both to the end and compares them.')] // prettier-ignore
      : []),
    ...(changed.length > 0
      ? [warns('copies-changed', `Copies of ${plural(changed.length, 'file')} were changed since they were last read: ${names(changed)}.`, 'Look for changes on the drive that holds them.')] // prettier-ignore
      : []),
    ...(unplugged.length > 0
      ? [notes('copies-unplugged', `Copies on ${fewNames(unplugged)} do not count: ${oneOrMany(unplugged.length, 'it is', 'they are')} unplugged.`, 'Plug in the drive to count them.')] // prettier-ignore
      : []),
    ...(closed.length > 0
      ? [warns('copies-closed', `${plural(closed.length, 'folder or file name', 'folders or file names')} could not be read: ${fewNames(closed)}.`, 'Nothing is known of what is in them. Change the rights or the name, then look for changes.')] // prettier-ignore
      : []),
    ...hiddenFinding(hidden),
  ];
}

function hiddenFinding({ files, bytes, media }: Survey['hidden']): Finding[] {
  if (media.length > 0)
    return [warns('copies-hidden', `${plural(media.length, 'hidden media file')}, for instance in a trash folder, ${oneOrMany(media.length, 'is', 'are')} not checked: ${fewNames(media)}.`, 'Look whether they are still needed before you format.')]; // prettier-ignore
  return files === 0
    ? []
    : [notes('copies-hidden', `${plural(files, 'hidden file')} (${formatBytes(bytes)}) ${oneOrMany(files, 'is', 'are')} not checked.`)];
}
