/** A crate that was made here is read once more: every file against its manifest, and the lists against theirs. */
import { CRATE_FORMAT } from '../../archive/archive-formats';
import type { Place } from '../../media/item';
import { fewNames, formatCount, plural, oneOrMany } from '../../words/figures';
import { notes, stops, warns, type Finding } from '../../words/finding';
import type { Plan } from '../plan/plan';
import { linkStep, type CatalogueChange } from '../plan/step';
import { checkSteps, payloadThere, tagFindings, type CrateContent, type CrateFiles } from '../package/crate-content';

/** Every file was read and is what it was: the crate is whole at this place and moment. */
export interface CrateChecked extends CatalogueChange {
  readonly type: 'crate-checked';
  readonly crateId: string;
  readonly root: Place;
}

/** Something was found that no stocktake sees: it is not whole until a check finds it so. */
export interface CrateDoubted extends CatalogueChange {
  readonly type: 'crate-doubted';
  readonly crateId: string;
  readonly found: string;
}

export interface CheckedCrate {
  readonly id: string;
  readonly name: string;
  readonly projectId: string | null;
  /** Files that it held when it was made; 0 where an earlier version made it. */
  readonly files: number;
  readonly checkedAt: string | null;
  /** Its list of lists is another than the one that was written: whatever the lists say now is no proof. */
  readonly isRelisted: boolean;
}

export function planCheckCrate(crate: CrateContent, own: CheckedCrate): Plan<CrateFiles> {
  const checks = checkSteps(crate);
  const missing = [...crate.entries, ...(crate.tags ?? [])].filter(({ path }) => !crate.sizes.has(path)).map(({ path }) => path);
  const listed = new Set(crate.entries.map(({ path }) => path));
  const extra = [...crate.sizes.keys()].filter((path) => CRATE_FORMAT.isPayload({ path }) && !listed.has(path)).sort();
  const payload = crate.entries.length;
  const findings: Finding[] = [
    ...tagFindings(crate).map((finding) => (finding.severity === 'stops' ? { ...finding, severity: 'warns' as const } : finding)),
    ...(own.isRelisted
      ? [
          warns(
            'crate-relisted',
            'The lists of the crate are not those that were written when it was made.',
            'Files may have been exchanged together with their checksums. Make a new crate.',
          ),
        ]
      : []),
    ...(missing.length > 0
      ? [
          warns(
            'crate-missing',
            `${plural(missing.length, 'file is', 'files are')} listed but missing: ${missing.slice(0, 3).join(', ')}${missing.length > 3 ? ' …' : ''}`,
            'The others are compared. The crate is no safe copy: make a new one.',
          ),
        ]
      : []),
    ...(extra.length > 0
      ? [
          warns(
            'crate-extra',
            `${plural(extra.length, 'file')} among its media ${oneOrMany(extra.length, 'is', 'are')} in no list: ${fewNames(extra)}.`,
            'Take them out of the crate: whoever receives it may refuse it with them.',
          ),
        ]
      : []),
    ...(crate.badLines.length > 0
      ? [warns('manifest-bad-line', `${plural(crate.badLines.length, 'line')} of the manifest cannot be read.`, 'Make a new crate.')]
      : []),
    ...(own.files > 0 && payload !== own.files
      ? [
          warns(
            'crate-fewer',
            `The manifest lists ${plural(payload, 'file')}; ${formatCount(own.files)} were written when the crate was made.`,
            'Make a new crate.',
          ),
        ]
      : []),
    ...(checks.length === 0 ? [stops('crate-nothing', 'No file of the crate is there.', 'Look where it went.')] : []),
    notes('crate-check', 'Nothing is written. Every file is read to its end and compared.'),
  ];
  const isWhole = findings.every(({ severity }) => severity === 'notes');
  const stop = findings.find(({ severity }) => severity === 'stops');
  // What is hidden no stocktake lists: that it was found is kept.
  const hidden = extra.filter((path) => path.split('/').some((name) => name.startsWith('.')));
  const found = `${plural(hidden.length, 'hidden file')} among its media ${oneOrMany(hidden.length, 'is', 'are')} in no list: ${fewNames(hidden)}`;
  const doubt = hidden.length > 0 ? [linkStep<CrateDoubted>(1, 'what was found is kept', { type: 'crate-doubted', crateId: own.id, found })] : [];
  const steps = [...checks, ...doubt, ...(isWhole ? [linkStep<CrateChecked>(1, 'the crate is whole', { type: 'crate-checked', crateId: own.id, root: crate.root })] : [])]; // prettier-ignore
  const there = payloadThere(crate);
  return {
    kind: 'check-crate',
    title: `Check the crate ${own.name}`,
    projectId: own.projectId,
    headline: { value: there.bytes, of: there.bytes, unit: 'bytes', words: 'are read and compared' },
    lines: [
      { label: 'Files to compare', ...there },
      ...(checks.length > there.files ? [{ label: 'Lists of the crate', files: checks.length - there.files }] : []),
      ...(missing.length > 0 ? [{ label: 'Missing', files: missing.length }] : []),
      { label: 'Last check', text: own.checkedAt === null ? 'never' : own.checkedAt.slice(0, 10) },
      { label: 'Originals', text: 'untouched' },
    ],
    fills: [],
    findings,
    steps: stop ? [] : steps,
    blocked: stop?.message ?? null,
    detail: { files: crate.entries.map(({ path }) => ({ path, bytes: crate.sizes.get(path) ?? null })) },
  };
}
