/** Export: timelines as OTIO, bundles with media, CMX 3600 lists or clip lists, and what each format cannot carry. */
import { below, type Place } from '../../media/item';
import { EXPORT_TITLES, type ExportSettings } from './settings';
import { blockedBy, destinationProblem, hiddenProblem, shelfFills, type Blocking } from '../plan/destination';
import type { Plan } from '../plan/plan';
import type { Snapshot } from '../plan/snapshot';
import { plural } from '../../words/figures';
import { Exporting, type ExportContext, type ExportRow } from './exporting';
import { EXPORTERS } from './export-formats';

export interface ExportDetail {
  readonly rows: readonly ExportRow[];
}

export function planExport(snapshot: Snapshot, settings: ExportSettings, context: ExportContext): Plan<ExportDetail> {
  const root: Place = below(settings.destination ?? { shelfId: '', path: '' }, settings.folderName.trim());
  const out = new Exporting(snapshot, root, context, settings.sourceCount ?? null, settings.nested === 'flatten');
  const timelines = snapshot.timelines.filter((timeline) => settings.timelineIds.includes(timeline.id));
  const made = timelines.map((timeline) => EXPORTERS[settings.format].write(out, timeline));
  const steps = made.flatMap((one) => one.steps);
  const bytes = steps.reduce((sum, step) => sum + step.expectedBytes, 0);
  const problem: Blocking | null =
    timelines.length === 0
      ? { code: 'no-timeline', message: 'No timeline is chosen.', hint: 'Choose at least one timeline.' }
      : steps.length === 0
        ? { code: 'nothing-to-write', message: 'There is nothing that this format could hold.', hint: 'Choose another format.' }
        : (hiddenProblem(root.path) ?? destinationProblem(snapshot.shelves, root.shelfId, bytes, ' or fewer timelines'));
  const rows = made.flatMap((one) => one.rows);
  const found = made.flatMap((one, index) => one.findings.map((finding) => ({ ...finding, where: timelines[index]!.model.name })));
  const media = rows.reduce((sum, row) => sum + row.mediaFiles, 0);
  return {
    kind: 'export',
    title: `Export ${timelines.length === 1 ? timelines[0]!.model.name : `${timelines.length} timelines`} as ${EXPORT_TITLES[settings.format]}`,
    projectId: snapshot.project.id,
    headline: {
      value: rows.length,
      of: rows.length,
      unit: 'files',
      words: `· ${plural(timelines.length, 'timeline')}`,
    },
    lines: [
      { label: 'Format', text: EXPORT_TITLES[settings.format] },
      { label: 'Writes', files: rows.length, bytes },
      ...(media > 0 ? [{ label: 'Media inside', files: media }] : []),
      {
        label: 'Cannot be carried',
        text: found.length === 0 ? 'nothing is lost' : `${plural(found.length, 'finding')} below`,
      },
      { label: 'Checks', text: 'every file read back' },
      { label: 'Originals', text: 'untouched' },
    ],
    fills: shelfFills(steps, snapshot.shelves),
    findings: [...blockedBy(problem), ...found],
    steps: problem ? [] : steps,
    blocked: problem?.message ?? null,
    detail: { rows },
  };
}
