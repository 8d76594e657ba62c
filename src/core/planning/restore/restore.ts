/** Opening a crate: every file is read and compared, then its timelines become a project of their own. */
import { CRATE_FORMAT } from '../../archive/archive-formats';
import { below, type Place } from '../../media/item';
import type { Rate } from '../../time/rate';
import { notes, stops, warns, type Finding } from '../../words/finding';
import { hiddenProblem } from '../plan/destination';
import type { AdoptedTimeline } from '../package/adopt';
import { checkSteps, payloadThere, tagFindings, type CrateContent, type CrateFiles } from '../package/crate-content';
import type { Plan } from '../plan/plan';
import { linkStep, type CatalogueChange } from '../plan/step';
import { plural, oneOrMany } from '../../words/figures';

/** A project is made of the crate. */
export interface OpenCrate extends CatalogueChange {
  readonly type: 'open-crate';
  readonly projectId: string;
  readonly name: string;
  readonly rate: Rate;
  readonly dropFrame: boolean;
  readonly timelines: readonly AdoptedTimeline[];
  readonly base: Place;
  /** What was wrong with it; absent where nothing was. */
  readonly trouble?: readonly string[];
  /** Name of the crate; absent in plans of earlier versions. */
  readonly crateName?: string;
}

export type RestoreDetail = CrateFiles;

export function planRestore(crate: CrateContent, newProjectId: string, projectName: string): Plan<RestoreDetail> {
  const missing = crate.entries.filter((entry) => !crate.sizes.has(entry.path));
  const listed = new Set(crate.entries.map((entry) => entry.path));
  const extra = [...crate.sizes.keys()].filter((path) => CRATE_FORMAT.isPayload({ path }) && !listed.has(path));
  const sums = new Map(crate.entries.map((entry) => [entry.path, entry.checksum]));
  // Only what the manifest vouches for comes in.
  const timelines = crate.timelines.filter((timeline) => sums.get(timeline.path) === timeline.sha256);
  const checks = checkSteps(crate);
  const findings = restoreFindings(
    crate,
    sums,
    missing.map((entry) => entry.path),
    extra,
  );
  const trouble = findings.filter(({ severity }) => severity === 'warns').map(({ message }) => message);
  const open = linkStep<OpenCrate>(1, 'the project is made from the crate', {
    type: 'open-crate',
    projectId: newProjectId,
    name: projectName,
    rate: crate.rate,
    dropFrame: crate.dropFrame,
    timelines: timelines.map(({ name, text, folder }) => ({ name, text, folder })),
    base: below(crate.root, 'data'),
    crateName: crate.name,
    ...(trouble.length > 0 ? { trouble } : {}),
  });
  const blocked = findings.find((finding) => finding.severity === 'stops')?.message ?? null;
  const there = payloadThere(crate);
  return {
    kind: 'restore',
    title: `Open the crate ${crate.name}`,
    projectId: null,
    headline: { value: there.files, of: crate.entries.length, unit: 'files', words: 'are there to be checked' },
    lines: [
      { label: 'New project', text: projectName },
      { label: 'Timelines', text: timelines.map((timeline) => timeline.name).join(', ') || 'none' },
      { label: 'Read and compared', ...there },
      ...(checks.length > there.files ? [{ label: 'Lists of the crate', files: checks.length - there.files }] : []),
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
  findings.push(...tagFindings(crate));
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
        `${unlisted.map((timeline) => timeline.name).join(', ')} ${oneOrMany(unlisted.length, 'is', 'are')} not in the manifest, so nobody vouches for it: left out.`,
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
        `${plural(missing.length, 'file is', 'files are')} listed but not there: ${missing.slice(0, 3).join(', ')}${missing.length > 3 ? ' …' : ''}`,
        'Copy the crate again. Opening goes on with what is there.',
      ),
    );
  if (extra.length > 0)
    findings.push(
      notes(
        'crate-extra',
        `${plural(extra.length, 'file is', 'files are')} there but not listed: ${extra.slice(0, 3).join(', ')}${extra.length > 3 ? ' …' : ''}`,
        'They were added later and are not checked.',
      ),
    );
  const there = [...crate.sizes].filter(([path]) => CRATE_FORMAT.isPayload({ path }));
  const bytes = there.reduce((sum, [, size]) => sum + size, 0);
  const { oxum } = crate;
  if (oxum && (oxum.bytes !== bytes || oxum.files !== there.length)) {
    const message = `The crate says it holds ${oxum.files} files of ${oxum.bytes} bytes; ${there.length} of ${bytes} are there.`;
    findings.push(warns('crate-oxum', message, 'Copy it again.'));
  }
  return findings;
}
