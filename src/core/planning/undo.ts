/** Undo: what a finished run did, taken back, from its journal. Files are removed only while they are what the run made. */
import type { Place } from '../media/item';
import { notes, warns, type Finding } from './finding';
import type { LinkChange, Plan, Step } from './plan';

/** A file that a run made. */
export interface MadeFile {
  readonly place: Place;
  readonly bytes: number;
  readonly sha256: string;
}

export interface DoneRun {
  readonly id: number;
  readonly title: string;
  readonly projectId: string | null;
  readonly made: readonly MadeFile[];
  /** Changes that bring the catalogue back, newest last. */
  readonly back: readonly LinkChange[];
}

export function planUndo(run: DoneRun): Plan<{ files: readonly MadeFile[] }> {
  const links = [...run.back].reverse().map((change): Step => ({
    action: 'link',
    phase: 0,
    from: null,
    to: null,
    expectedBytes: 0,
    bytesExact: true,
    reason: 'as it was before',
    mustHold: null,
    change,
  }));
  const removes = run.made.map((file): Step => ({
    action: 'remove',
    phase: 1,
    from: file.place,
    to: null,
    expectedBytes: file.bytes,
    bytesExact: true,
    reason: 'made by that run',
    mustHold: null,
    sha256: file.sha256,
  }));
  const mark: Step = {
    action: 'link',
    phase: 2,
    from: null,
    to: null,
    expectedBytes: 0,
    bytesExact: true,
    reason: 'the run counts as undone',
    mustHold: null,
    change: { type: 'mark-undone', runId: run.id },
  };
  const bytes = run.made.reduce((sum, file) => sum + file.bytes, 0);
  const findings: Finding[] = [];
  if (removes.length > 0) {
    findings.push(
      warns(
        'undo-removes',
        `${removes.length} ${removes.length === 1 ? 'file' : 'files'} that this run made will be removed.`,
        'Originals are not touched.',
      ),
    );
    findings.push(notes('undo-unchanged-only', 'A file that was changed since is left where it is.'));
  }
  const blocked = links.length + removes.length === 0 ? 'This run left nothing to take back.' : null;
  return {
    kind: 'undo',
    title: `Undo: ${run.title}`,
    projectId: run.projectId,
    headline: { value: bytes, of: bytes, unit: 'bytes', words: 'made by that run' },
    lines: [
      { label: 'Links put back', clips: links.length },
      { label: 'Files removed', files: removes.length, bytes },
      { label: 'Originals', text: 'untouched' },
    ],
    fills: [],
    findings,
    steps: blocked ? [] : [...links, ...removes, mark],
    blocked,
    detail: { files: run.made },
  };
}
