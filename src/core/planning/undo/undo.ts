/** Undo: what a finished run did, taken back, from its journal. Files are removed only while they are what the run made. */
import type { FileIdentity } from '../../media/identity';
import type { Place } from '../../media/item';
import { notes, warns, type Finding } from '../../words/finding';
import { linkStep, type CatalogueChange, type MoveStep, type Step } from '../plan/step';
import type { Plan } from '../plan/plan';

/** A file that a run made. */
export interface MadeFile {
  readonly place: Place;
  readonly bytes: number;
  readonly sha256: string;
  /** As the run left it; null in older journals. */
  readonly identity: FileIdentity | null;
}

export interface DoneRun {
  readonly id: number;
  readonly title: string;
  readonly projectId: string | null;
  readonly made: readonly MadeFile[];
  /** Files that were there already, equal to what the run would have made: they are not its own. */
  readonly wasThere: number;
  /** Moves to take back, in the order in which they were made; see moveBack. */
  readonly moves: readonly MoveStep[];
  /** Changes that bring the catalogue back, newest last. */
  readonly back: readonly CatalogueChange[];
}

/** A project with clips that read files which the undo would remove. */
export interface AffectedProject {
  readonly project: string;
  readonly clips: number;
  /** Of these, clips whose file has no other copy that is known. */
  readonly lastCopies: number;
}

/** The last word of an undo. */
export interface MarkUndone extends CatalogueChange {
  readonly type: 'mark-undone';
  readonly runId: number;
}

export interface UndoDetail {
  readonly files: readonly MadeFile[];
  readonly affected: readonly AffectedProject[];
}

export function planUndo(run: DoneRun, affected: readonly AffectedProject[], confirmed: boolean): Plan<UndoDetail> {
  const back = [...run.back].reverse();
  const links = back.filter(({ last }) => !last).map((change) => linkStep(0, 'as it was before', change));
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
    made: file.identity,
  }));
  const after = Math.max(1, ...new Set(run.moves.map(({ phase }) => phase))) + 1;
  const last = back.filter((change) => change.last).map((change) => linkStep(after + 1, 'as it was before', change));
  const mark = linkStep<MarkUndone>(after, 'the run counts as undone; folders it made go when they are empty', {
    type: 'mark-undone',
    runId: run.id,
  });
  const bytes = run.made.reduce((sum, file) => sum + file.bytes, 0);
  const nothing = links.length + removes.length + run.moves.length === 0 ? 'This run left nothing to take back.' : null;
  const unread = nothing === null && affected.length > 0 && !confirmed ? 'Read who uses these files, then tick the box.' : null;
  const findings: Finding[] = [
    ...affected.map((entry) => usedFinding(entry)),
    ...(removes.length > 0 ? removalFindings(removes.length) : []),
    ...(run.moves.length > 0
      ? [notes('undo-moves', 'Names, places, times and links are put back. A file that was changed or moved since is left where it is.')]
      : []),
    ...(run.wasThere > 0
      ? [
          notes(
            'undo-was-there',
            `${run.wasThere} ${run.wasThere === 1 ? 'file was' : 'files were'} there before that run, equal to its own: ${run.wasThere === 1 ? 'it stays' : 'they stay'}.`,
          ),
        ]
      : []),
  ];
  const blocked = nothing ?? unread;
  return {
    kind: 'undo',
    title: `Undo: ${run.title}`,
    projectId: run.projectId,
    headline:
      run.moves.length > 0 && bytes === 0
        ? { value: run.moves.length, of: run.moves.length, unit: 'files', words: 'go back to where they were' }
        : { value: bytes, of: bytes, unit: 'bytes', words: 'made by that run' },
    lines: [
      { label: 'Changes of the project put back', text: String(links.length) },
      ...(run.moves.length > 0
        ? [{ label: 'Moved back', files: run.moves.length, bytes: run.moves.reduce((sum, { expectedBytes }) => sum + expectedBytes, 0) }]
        : []),
      { label: 'Files removed', files: removes.length, bytes },
      ...(run.wasThere > 0 ? [{ label: 'Were there before', files: run.wasThere }] : []),
      ...(run.moves.length === 0 ? [{ label: 'Originals', text: 'untouched' }] : []),
    ],
    fills: [],
    findings,
    steps: blocked ? [] : [...links, ...removes, ...run.moves, mark, ...last],
    blocked,
    detail: { files: run.made, affected },
  };
}

function usedFinding({ project, clips, lastCopies }: AffectedProject): Finding {
  const which = `${clips} ${clips === 1 ? 'clip' : 'clips'} of "${project}" ${clips === 1 ? 'reads' : 'read'} files that would be removed`;
  const copies =
    lastCopies === 0
      ? 'each has another copy on a shelf'
      : lastCopies === clips
        ? `no other copy of ${clips === 1 ? 'it' : 'any of them'} is known`
        : `no other copy is known of ${lastCopies} of them`;
  return warns('undo-used', `${which}; ${copies}.`, lastCopies > 0 ? 'They will be missing afterwards.' : 'Relink them afterwards.', project);
}

function removalFindings(files: number): Finding[] {
  return [
    warns('undo-removes', `${files} ${files === 1 ? 'file' : 'files'} that this run made will be removed.`, 'Originals are not touched.'),
    notes('undo-unchanged-only', 'A file that was changed since, or another in its place, is left where it is.'),
  ];
}
