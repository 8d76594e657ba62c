/** Opening a crate: every file is read and compared, then its timelines become a project of their own. */
import type { ManifestEntry } from '../../manifest/bag';
import { below, type Place } from '../../media/item';
import type { Rate } from '../../time/rate';
import { notes, stops, warns, type Finding } from '../../words/finding';
import { hiddenProblem } from '../plan/destination';
import type { AdoptedTimeline } from '../package/adopt';
import type { Plan } from '../plan/plan';
import { linkStep, type CatalogueChange, type Step } from '../plan/step';

/** A crate as it stands on the disk, read by the server. Paths are relative to its root. */
export interface CrateContent {
  readonly root: Place;
  readonly name: string;
  readonly projectName: string;
  readonly rate: Rate;
  readonly dropFrame: boolean;
  readonly entries: readonly ManifestEntry[];
  /** Sizes of the files that are there. */
  readonly sizes: ReadonlyMap<string, number>;
  readonly timelines: readonly CrateTimeline[];
  readonly badLines: readonly number[];
  /** Payload-Oxum of bag-info.txt as bytes and files; null when not stated. */
  readonly oxum: { readonly bytes: number; readonly files: number } | null;
}

export interface CrateTimeline extends AdoptedTimeline {
  /** Below the crate's root. */
  readonly path: string;
  /** Checksum of the bytes that were read. */
  readonly sha256: string;
}

/** A project is made of the crate. */
export interface OpenCrate extends CatalogueChange {
  readonly type: 'open-crate';
  readonly projectId: string;
  readonly name: string;
  readonly rate: Rate;
  readonly dropFrame: boolean;
  readonly timelines: readonly AdoptedTimeline[];
  readonly base: Place;
}

export interface RestoreDetail {
  readonly files: readonly { readonly path: string; readonly bytes: number | null }[];
}

export function planRestore(crate: CrateContent, newProjectId: string, projectName: string): Plan<RestoreDetail> {
  const missing = crate.entries.filter((entry) => !crate.sizes.has(entry.path));
  const listed = new Set(crate.entries.map((entry) => entry.path));
  const extra = [...crate.sizes.keys()].filter((path) => path.startsWith('data/') && !listed.has(path));
  const sums = new Map(crate.entries.map((entry) => [entry.path, entry.checksum]));
  // Only what the manifest vouches for comes in.
  const timelines = crate.timelines.filter((timeline) => sums.get(timeline.path) === timeline.sha256);
  const checks = crate.entries.flatMap((entry): Step[] => {
    const bytes = crate.sizes.get(entry.path);
    if (bytes === undefined) return [];
    return [
      {
        action: 'check',
        phase: 0,
        from: below(crate.root, entry.path),
        to: null,
        expectedBytes: bytes,
        bytesExact: true,
        reason: 'compare with the manifest',
        mustHold: null,
        sha256: entry.checksum,
      },
    ];
  });
  const open = linkStep<OpenCrate>(1, 'the project is made from the crate', {
    type: 'open-crate',
    projectId: newProjectId,
    name: projectName,
    rate: crate.rate,
    dropFrame: crate.dropFrame,
    timelines: timelines.map(({ name, text, folder }) => ({ name, text, folder })),
    base: below(crate.root, 'data'),
  });
  const findings = restoreFindings(
    crate,
    sums,
    missing.map((entry) => entry.path),
    extra,
  );
  const blocked = findings.find((finding) => finding.severity === 'stops')?.message ?? null;
  const bytes = checks.reduce((sum, step) => sum + step.expectedBytes, 0);
  return {
    kind: 'restore',
    title: `Open the crate ${crate.name}`,
    projectId: null,
    headline: { value: checks.length, of: crate.entries.length, unit: 'files', words: 'are there to be checked' },
    lines: [
      { label: 'New project', text: projectName },
      { label: 'Timelines', text: timelines.map((timeline) => timeline.name).join(', ') || 'none' },
      { label: 'Read and compared', files: checks.length, bytes },
      { label: 'Missing', files: missing.length },
      { label: 'Files moved or written', text: 'none' },
    ],
    fills: [],
    findings,
    steps: blocked ? [] : [...checks, open],
    blocked,
    detail: { files: crate.entries.map((entry) => ({ path: entry.path, bytes: crate.sizes.get(entry.path) ?? null })) },
  };
}

function restoreFindings(crate: CrateContent, sums: ReadonlyMap<string, string>, missing: readonly string[], extra: readonly string[]): Finding[] {
  const findings: Finding[] = [];
  const hidden = hiddenProblem(crate.root.path);
  if (hidden) findings.push(stops(hidden.code, hidden.message, 'Move the crate to a folder whose name does not begin with a dot.'));
  const altered = crate.timelines.filter((timeline) => sums.has(timeline.path) && sums.get(timeline.path) !== timeline.sha256);
  if (altered[0])
    findings.push(
      stops(
        'crate-timeline-altered',
        `${altered[0].path} is not what the manifest says: it was altered or damaged.`,
        'Copy the crate again from where it came.',
      ),
    );
  const unlisted = crate.timelines.filter((timeline) => !sums.has(timeline.path));
  if (unlisted.length > 0)
    findings.push(
      warns(
        'crate-timeline-unlisted',
        `${unlisted.map((timeline) => timeline.name).join(', ')} ${unlisted.length === 1 ? 'is' : 'are'} not in the manifest, so nobody vouches for it: left out.`,
        'Bring it in by hand on Timelines if you trust it.',
      ),
    );
  if (crate.timelines.length === unlisted.length)
    findings.push(
      stops('crate-no-timeline', 'There is no timeline in this crate that its manifest lists.', 'Choose the folder that holds bagit.txt.'),
    );
  if (crate.badLines.length > 0)
    findings.push(
      warns(
        'manifest-bad-line',
        `The manifest has ${crate.badLines.length} lines that cannot be read.`,
        'Those files cannot be checked.',
        `line ${crate.badLines[0]}`,
      ),
    );
  if (missing.length > 0)
    findings.push(
      warns(
        'crate-missing',
        `${missing.length} ${missing.length === 1 ? 'file is' : 'files are'} listed but not there: ${missing.slice(0, 3).join(', ')}${missing.length > 3 ? ' …' : ''}`,
        'Copy the crate again. Opening goes on with what is there.',
      ),
    );
  if (extra.length > 0)
    findings.push(
      notes(
        'crate-extra',
        `${extra.length} ${extra.length === 1 ? 'file is' : 'files are'} there but not listed: ${extra.slice(0, 3).join(', ')}${extra.length > 3 ? ' …' : ''}`,
        'They were added later and are not checked.',
      ),
    );
  const there = [...crate.sizes].filter(([path]) => path.startsWith('data/'));
  const bytes = there.reduce((sum, [, size]) => sum + size, 0);
  const { oxum } = crate;
  if (oxum && (oxum.bytes !== bytes || oxum.files !== there.length)) {
    const message = `The crate says it holds ${oxum.files} files of ${oxum.bytes} bytes; ${there.length} of ${bytes} are there.`;
    findings.push(warns('crate-oxum', message, 'Copy it again.'));
  }
  return findings;
}
