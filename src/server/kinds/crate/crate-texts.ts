/** The report of a crate, and the lists of its archive format, made of what its run has written. */
import { createHash } from 'node:crypto';
import type { ArchiveAbout } from '../../../core/archive/archive-format';
import { CRATE_FORMAT } from '../../../core/archive/archive-formats';
import { aboutLines } from '../../../core/planning/crate/crate-about';
import type { CrateLabel } from '../../../core/planning/crate/crate-label';
import { crateReport, type ReportFile } from '../../../core/planning/crate/crate-report';
import { formatRate } from '../../../core/time/rate';
import type { StepContext, TextMaker } from '../../actions/step-context';
import { madeFiles } from './made-files';

type CrateText = TextMaker<CrateLabel>;

const report: CrateText = (root, label, context) => crateReport(label, filesBelow(root, context).filter(CRATE_FORMAT.isPayload));

const lists = CRATE_FORMAT.lists.map(({ what, text }): [string, CrateText] => [
  what,
  (root, label, context) => text(filesBelow(root, context), aboutOf(label), sha256Of),
]);

export const crateTexts: Record<string, CrateText> = { 'crate-report': report, ...Object.fromEntries(lists) };

function sha256Of(text: string): string {
  return createHash('sha256').update(text).digest('hex');
}

function aboutOf(label: CrateLabel): ArchiveAbout {
  return {
    name: label.crateName,
    description: label.note || `Project ${label.projectName} with its used media`,
    madeAt: label.madeAt.slice(0, 10),
    projectName: label.projectName,
    rate: formatRate(label.rate),
    dropFrame: label.dropFrame,
    more: aboutLines(label.about ?? {}),
  };
}

function filesBelow(root: string, context: StepContext): ReportFile[] {
  const names = context.catalogue.shelves.names();
  return madeFiles(context.journal(), root, ({ shelfId, path }) => `${names.get(shelfId) ?? 'shelf'} / ${path}`);
}
