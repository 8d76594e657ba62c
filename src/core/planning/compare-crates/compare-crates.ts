/** Two crates side by side: which media and which timelines one holds and the other does not. A plan with nothing to do. */
import { compareTimelines, type ChangeKind } from '../../project/compare';
import { activeReference, clipEvents, type ClipEvent, type Timeline } from '../../project/timeline';
import { fileName } from '../../media/item';
import { readAddress } from '../../interchange/otio/target-url';
import { rateLabel, sameRate } from '../../time/rate';
import { formatBytes, formatCount, plural, upperFirst, oneOrMany } from '../../words/figures';
import { htmlPage, markup } from '../../words/html';
import { notes, warns, type Finding } from '../../words/finding';
import type { Plan } from '../plan/plan';

export interface CrateFile {
  /** Below its root; of a sequence the name that the stock gives it. */
  readonly path: string;
  readonly bytes: number;
  /** Equal for equal bytes; null of an empty file. */
  readonly content: string | null;
}

export interface ComparedCrate {
  readonly name: string;
  readonly files: readonly CrateFile[];
  /** Null where they cannot be read now. */
  readonly timelines: readonly NamedTimeline[] | null;
}

export interface NamedTimeline {
  readonly name: string;
  /** Where its file lies, below the root of the crate: its addresses count from there. */
  readonly folder: string;
  readonly model: Timeline;
}

/** `part`: of a source all frames that are used; `short`: not all of them. Of the project alone, as `renamed` is of crates. */
export const FILE_CHANGES = ['added', 'short', 'removed', 'changed', 'renamed', 'part', 'same'] as const;
export type FileChange = (typeof FILE_CHANGES)[number];

/** `added`: only the later crate has it. */
export interface ComparedFile {
  readonly path: string;
  readonly change: FileChange;
  /** Path in the earlier one, where it is another. */
  readonly was: string | null;
  readonly beforeBytes: number | null;
  readonly afterBytes: number | null;
  /** Frames, where they say more; absent where not. */
  readonly words?: string;
}

export interface ComparedTimeline {
  readonly name: string;
  readonly words: string;
}

export interface CompareCratesDetail {
  readonly against: Against;
  readonly before: string;
  readonly after: string;
  readonly rows: readonly ComparedFile[];
  readonly timelines: readonly ComparedTimeline[];
  readonly counts: Readonly<Record<FileChange, number>>;
}

export function planCompareCrates(projectId: string | null, before: ComparedCrate, after: ComparedCrate): Plan<CompareCratesDetail> {
  const timelines = before.timelines && after.timelines ? compareAll(before.timelines, after.timelines) : [];
  const findings = [
    ...compareFindings([before, after]),
    notes('crate-compare', 'Media is compared by the checksums noted when each crate was made or checked.'),
  ];
  return planOf(projectId, before.name, after.name, compareFiles(mediaOf(before), mediaOf(after)), timelines, findings);
}

/** `before`, `after`: names of what is compared. */
export function planOf(
  projectId: string | null,
  before: string,
  after: string,
  rows: readonly ComparedFile[],
  timelines: readonly ComparedTimeline[],
  findings: readonly Finding[],
  against: Against = 'crate',
): Plan<CompareCratesDetail> {
  const counts = Object.fromEntries(FILE_CHANGES.map((change) => [change, rows.filter((row) => row.change === change).length])) as CompareCratesDetail['counts']; // prettier-ignore
  const differ = rows.length - counts.same - counts.part;
  return {
    kind: 'compare-crates',
    title: `Compare ${before} with ${after}`,
    projectId,
    headline: { value: differ, of: rows.length, unit: 'files', words: oneOrMany(differ, 'of media differs', 'of media differ') },
    lines: [
      ...FILE_CHANGES.filter((change) => counts[change] > 0 || change === 'added' || change === 'same').map((change) => ({ label: upperFirst(changeWords(change, against)), files: counts[change] })), // prettier-ignore
      ...timelines.map(({ name, words }) => ({ label: name, text: words })),
    ],
    fills: [],
    findings: [...findings],
    steps: [],
    blocked: 'A comparison changes nothing.',
    detail: { against, before, after, rows, timelines, counts },
  };
}

/** What it carries, apart from timelines and report. */
export function mediaOf({ files }: ComparedCrate): CrateFile[] {
  return files.filter(({ path }) => path.startsWith('data/') && !path.startsWith('data/timelines/') && path !== 'data/report.html');
}

/** By path; what is left, by content. Each file once, in the order of their paths. */
export function compareFiles(before: readonly CrateFile[], after: readonly CrateFile[]): ComparedFile[] {
  const earlier = new Map(before.map((file) => [file.path, file]));
  const rows: ComparedFile[] = [];
  const left: CrateFile[] = [];
  for (const file of after) {
    const own = earlier.get(file.path);
    if (!own) {
      left.push(file);
      continue;
    }
    earlier.delete(file.path);
    const isSame = own.bytes === file.bytes && own.content === file.content;
    rows.push({ path: file.path, change: isSame ? 'same' : 'changed', was: null, beforeBytes: own.bytes, afterBytes: file.bytes });
  }
  const byContent = new Map<string, CrateFile[]>();
  for (const file of earlier.values()) if (file.content !== null) byContent.set(file.content, [...(byContent.get(file.content) ?? []), file]);
  for (const file of left) {
    const own = file.content === null ? undefined : byContent.get(file.content)?.shift();
    if (own) earlier.delete(own.path);
    rows.push({
      path: file.path,
      change: own ? 'renamed' : 'added',
      was: own?.path ?? null,
      beforeBytes: own?.bytes ?? null,
      afterBytes: file.bytes,
    });
  }
  for (const file of earlier.values()) rows.push({ path: file.path, change: 'removed', was: null, beforeBytes: file.bytes, afterBytes: null });
  return rows.sort((a, b) => (a.path < b.path ? -1 : a.path > b.path ? 1 : 0));
}

function compareAll(before: readonly NamedTimeline[], after: readonly NamedTimeline[]): ComparedTimeline[] {
  const names = [...new Set([...before, ...after].map(({ name }) => name))].sort();
  return names.map((name) => {
    const [old, now] = [before, after].map((list) => list.find((timeline) => timeline.name === name));
    if (!old || !now) return { name, words: old ? 'only in the earlier one' : 'only in the later one' };
    return { name, words: changesOf(old.model, now.model) };
  });
}

const WORDS: Readonly<Record<Exclude<ChangeKind, 'same' | 'pushed'>, string>> = {
  added: 'added',
  removed: 'removed',
  exchanged: 'with other media',
  moved: 'moved',
  trimmed: 'trimmed',
  retimed: 'at another speed',
  switched: 'switched on or off',
};

/** What an event of a crate shows: by what it says of its source, else by the name of its file, as links inside a crate are its own. */
export function sourceKey(event: ClipEvent): string {
  const active = activeReference(event);
  return active?.source?.id ?? (fileName(readAddress(active?.url ?? '')?.segments.join('/') ?? '') || event.name);
}

/** Events by what became of them. */
export function changesOf(
  before: Timeline,
  after: Timeline,
  keyOf: (version: 'before' | 'after', event: ClipEvent) => string = (_version, event) => sourceKey(event),
): string {
  if (!sameRate(before.rate, after.rate)) return `${rateLabel(before.rate)} before, ${rateLabel(after.rate)} after`;
  const changes = compareTimelines(before, after, keyOf, () => 0);
  const counts = new Map<ChangeKind, number>();
  for (const { kind } of changes) counts.set(kind, (counts.get(kind) ?? 0) + 1);
  const told = (Object.keys(WORDS) as (keyof typeof WORDS)[]).flatMap((kind) =>
    counts.has(kind) ? [`${formatCount(counts.get(kind)!)} ${WORDS[kind]}`] : [],
  );
  const events = [...clipEvents(after.tracks)].length;
  return told.length === 0 ? `the same ${plural(events, 'event')}` : `${told.join(', ')}; ${plural(events, 'event')} after`;
}

export function compareFindings(crates: readonly ComparedCrate[]): Finding[] {
  return [
    ...crates.flatMap(({ name, files }) =>
      files.length === 0 ? [warns('crate-unlisted', `What ${name} holds is not known yet.`, 'Check that crate first.')] : [],
    ),
    ...crates.flatMap(({ name, timelines }) =>
      timelines === null
        ? [warns('crate-timelines-away', `The timelines of ${name} cannot be read now.`, 'Plug in its drive to compare the timelines too.')]
        : [],
    ),
  ];
}

/** What a crate is held against. */
export type Against = 'crate' | 'project';

const CHANGE_WORDS: Readonly<Record<Against, Readonly<Record<FileChange, string>>>> = {
  crate: {
    added: 'only in the later',
    short: 'used frames not in the earlier',
    removed: 'only in the earlier',
    changed: 'other content',
    renamed: 'other path',
    part: 'all used frames',
    same: 'the same',
  },
  project: {
    added: 'not in the crate',
    short: 'used frames not in it',
    removed: 'only in the crate',
    changed: 'another file in the crate',
    renamed: 'other path',
    part: 'all used frames in the crate',
    same: 'whole in the crate',
  },
};

export function changeWords(change: FileChange, against: Against): string {
  return CHANGE_WORDS[against][change];
}

/** The comparison as a page to keep or print. */
export function compareHtml({ against, before, after, rows, timelines }: CompareCratesDetail): string {
  const size = (bytes: number | null) => (bytes === null ? '–' : formatBytes(bytes));
  const list = rows
    .filter(({ change }) => change !== 'same' && change !== 'part')
    .map(({ path, change, was, beforeBytes, afterBytes, words }) => markup`<tr><td><code>${path}</code>${was === null ? '' : markup`<br>was <code>${was}</code>`}</td><td>${changeWords(change, against)}${words === undefined ? '' : `: ${words}`}</td><td class="n">${size(beforeBytes)}</td><td class="n">${size(afterBytes)}</td></tr>`); // prettier-ignore
  const cuts = timelines.map(({ name, words }) => markup`<tr><td>${name}</td><td>${words}</td></tr>`);
  return htmlPage(
    `${before} and ${after}`,
    `${before} and ${after}`,
    markup`<p>${plural(list.length, 'file')} of media ${oneOrMany(list.length, 'differs', 'differ')}, ${plural(rows.length - list.length, 'file is', 'files are')} the same.</p>
<h2>Timelines</h2><table><tbody>${cuts.length > 0 ? cuts : markup`<tr><td>none compared</td></tr>`}</tbody></table>
<h2>Media that differs</h2><table><thead><tr><th>File</th><th>Difference</th><th class="n">Before</th><th class="n">After</th></tr></thead><tbody>
${list}
</tbody></table>`,
  );
}
