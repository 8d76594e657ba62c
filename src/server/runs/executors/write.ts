import { BAG_DECLARATION, formatBagInfo, formatManifest, payloadOxum } from '../../../core/manifest/bag';
import { crateReport, type ReportFile } from '../../../core/manifest/crate-report';
import { formatBytes } from '../../../core/manifest/words';
import { formatRate } from '../../../core/time/rate';
import type { WriteStep } from '../../../core/planning/plan';
import { joinPath } from '../../../core/media/item';
import type { StepRow } from '../../catalogue/runs';
import { runCopy } from '../../workers/pool';
import { StepStopped } from '../explain-error';
import { makeFile, type Executor, type StepContext } from '../step-context';

/** A text: given by the plan, or made of what the run has done so far. */
export const writeFile: Executor<WriteStep> = (step, context) =>
  makeFile(step.to!, 0, context, async (part) => {
    const bytes = new TextEncoder().encode(textOf(step, context));
    const result = await runCopy({
      write: { source: null, segments: [{ type: 'bytes', bytes }], keepTimes: false },
      target: part,
      control: context.control,
    });
    if (result.stopped) throw new StepStopped();
    return { bytes: result.bytes, sha256: result.sha256, checked: 'read back' };
  });

function textOf(step: WriteStep, context: StepContext): string {
  const { content } = step;
  if (content.type === 'text') return content.text;
  const { root, label } = content;
  const files = madeFiles(context.journal(), root, (place) => shelfPath(place, context));
  const payload = files.filter((file) => file.path.startsWith('data/'));
  switch (content.what) {
    case 'bag-declaration':
      return BAG_DECLARATION;
    case 'bag-manifest':
      return formatManifest(payload.map((file) => ({ checksum: file.sha256, path: file.path })));
    case 'bag-tag-manifest':
      return formatManifest(files.filter((file) => !file.path.startsWith('data/')).map((file) => ({ checksum: file.sha256, path: file.path })));
    case 'crate-report':
      return crateReport(label, payload);
    case 'bag-info':
      return formatBagInfo([
        ['Bagging-Date', label.madeAt.slice(0, 10)],
        ['Bag-Software-Agent', 'Mill Shelf'],
        ['External-Identifier', label.crateName],
        ['External-Description', label.note || `Project ${label.projectName} with its used media`],
        ['Bag-Size', formatBytes(payload.reduce((sum, file) => sum + file.bytes, 0))],
        ['Payload-Oxum', payloadOxum(payload)],
        ['Project-Name', label.projectName],
        ['Project-Rate', formatRate(label.rate)],
        ['Project-Drop-Frame', label.dropFrame ? 'yes' : 'no'],
      ]);
  }
}

function shelfPath(place: { shelfId: string; path: string }, context: StepContext): string {
  return `${context.catalogue.shelves.get(place.shelfId)?.name ?? 'shelf'} / ${place.path}`;
}

/** Every file a run has made below `root`, as the journal has it. Paths are relative to the root. */
export function madeFiles(journal: readonly StepRow[], root: string, nameOf: (place: { shelfId: string; path: string }) => string): ReportFile[] {
  return journal.flatMap(({ step, state, outcome }): ReportFile[] => {
    if (state !== 'done' || !outcome || !step.to || step.action === 'link') return [];
    const path = step.to.path.slice(root === '' ? 0 : root.length + 1);
    const from = step.from ? nameOf(step.from) : 'made by Mill Shelf';
    if (outcome.files)
      return outcome.files.map((file) => ({
        path: joinPath(path, file.name),
        bytes: file.bytes,
        sha256: file.sha256,
        how: step.reason,
        from: `${from}/${file.name}`,
      }));
    return outcome.sha256 ? [{ path, bytes: outcome.bytes, sha256: outcome.sha256, how: step.reason, from }] : [];
  });
}
