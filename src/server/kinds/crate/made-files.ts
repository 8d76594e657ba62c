/** What a run has made so far, as its journal has it. */
import type { ReportFile } from '../../../core/planning/crate/crate-report';
import { joinPath } from '../../../core/media/item';
import type { StepRow } from '../../catalogue/runs';

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
    const how = outcome.whole ? outcome.checked : step.reason;
    return outcome.sha256 ? [{ path, bytes: outcome.bytes, sha256: outcome.sha256, how, from }] : [];
  });
}
