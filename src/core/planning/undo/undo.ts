/** Undo: what a finished run did, taken back, from its journal. Files are removed only while they are what the run made. */
import type { FileIdentity } from '../../media/identity';
import { fileName, placeKey, type Place } from '../../media/item';
import { notes, stops, warns, type Finding, type Hindrance } from '../../words/finding';
import type { CodeOf } from '../../words/finding-codes';
import { fewNames, formatCount, plural, oneOrMany } from '../../words/figures';
import { filesOf, linkStep, type CatalogueChange, type CopyOf, type KnownReaders, type Step } from '../plan/step';
import type { Plan } from '../plan/plan';

/** A file that a run made. */
export interface MadeFile {
  readonly place: Place;
  readonly bytes: number;
  readonly sha256: string;
  /** As the run left it; null in older journals. */
  readonly identity: FileIdentity | null;
  /** What it is a copy or a part of; null of texts. */
  readonly copyOf: Omit<CopyOf, 'isLastKnown'> | null;
  /** No other whole copy of it stands on a drive that is plugged in. */
  readonly isLast: boolean;
}

export interface DoneRun {
  readonly id: number;
  readonly title: string;
  readonly projectId: string | null;
  readonly made: readonly MadeFile[];
  /** Files that were there already, equal to what the run would have made: they are not its own. */
  readonly wasThere: number;
  /** Folders that the run made and that stand there. */
  readonly folders: number;
  /** What takes back what it did to files that it did not make: moves above all; see moveBack. */
  readonly steps: readonly Step[];
  /** Changes that bring the catalogue back, newest last. */
  readonly back: readonly CatalogueChange[];
  /** Other houses that read in the folders of its files, by the word they left there: name of the machine, and when. */
  readonly houses: readonly { readonly name: string; readonly at: string }[];
  /** Why it cannot be taken back any more; absent where it can. */
  readonly kept?: Hindrance<CodeOf<'stops'>>;
  /** The latest first. */
  readonly stoodOnBy: readonly StandingOnIt[];
}

/** A later run that moved on what the run did, or exchanged a timeline that it brought in. */
export interface StandingOnIt {
  readonly id: number;
  readonly title: string;
  /** Files of the run that it moved on; 0 where it exchanged a timeline. */
  readonly files: number;
}

/** A project with clips that read files which the undo would remove. */
export interface AffectedProject {
  readonly project: string;
  readonly clips: number;
  /** Names of those of which no other file is on a drive that is plugged in. */
  readonly lost: readonly string[];
}

/** The last word of an undo. */
export interface MarkUndone extends CatalogueChange {
  readonly type: 'mark-undone';
  readonly runId: number;
}

export interface UndoDetail {
  readonly files: readonly MadeFile[];
  readonly affected: readonly AffectedProject[];
  /** Files and sequences of which no other whole copy is plugged in. */
  readonly last: number;
  /** Other houses that read in their folders. */
  readonly houses: number;
}

/** `readers`: of a file that goes, by its place. */
export function planUndo(
  run: DoneRun,
  affected: readonly AffectedProject[],
  readers: (place: Place) => KnownReaders,
  confirmed: boolean,
): Plan<UndoDetail> {
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
    known: readers(file.place),
    ...(file.copyOf ? { copyOf: { ...file.copyOf, isLastKnown: file.isLast } } : {}),
  }));
  const after = Math.max(1, ...new Set(run.steps.map(({ phase }) => phase))) + 1;
  const atLast = back.filter((change) => change.last).map((change) => linkStep(after + 1, 'as it was before', change));
  const mark = linkStep<MarkUndone>(after, 'the run counts as undone; folders it made go when they are empty', {
    type: 'mark-undone',
    runId: run.id,
  });
  // Frames count as files, as they did when they were moved.
  const movedFiles = run.steps.reduce((sum, step) => sum + filesOf(step), 0);
  const bytes = run.made.reduce((sum, file) => sum + file.bytes, 0);
  const nothing = links.length + removes.length + run.steps.length + run.folders === 0 ? 'This run left nothing to take back.' : null;
  const last = lastOf(run.made);
  const unread =
    nothing !== null || confirmed
      ? null
      : last.length > 0
        ? 'Read which files have no other copy, then tick the box.'
        : affected.length + run.houses.length > 0
          ? 'Read who uses these files, then tick the box.'
          : null;
  const findings: Finding[] = [
    ...run.stoodOnBy.map((later) =>
      stops('undo-below', `Run ${later.id}, ${later.title}, ${doneSince(later)}.`, 'Undo that run first, then this one.', run.title),
    ),
    ...(run.kept ? [stops(run.kept.code, run.kept.message, run.kept.hint)] : []),
    ...(last.length > 0 ? [lastFinding(last)] : []),
    ...run.houses.map(houseFinding),
    ...affected.map((entry) => usedFinding(entry)),
    ...(removes.length > 0 ? removalFindings(removes.length) : []),
    ...(run.steps.length > 0
      ? [notes('undo-moves', 'Names, places, times and links are put back. A file that was changed or moved since is left where it is.')]
      : []),
    ...(run.wasThere > 0
      ? [
          notes(
            'undo-was-there',
            `${plural(run.wasThere, 'file was', 'files were')} there before that run, equal to its own: ${oneOrMany(run.wasThere, 'it stays', 'they stay')}.`,
          ),
        ]
      : []),
  ];
  const [latest] = run.stoodOnBy;
  const below = latest ? `Undo run ${latest.id}, ${latest.title}, first: it ${doneSince(latest)}.` : null;
  const blocked = nothing ?? run.kept?.message ?? below ?? unread;
  return {
    kind: 'undo',
    title: `Undo: ${run.title}`,
    projectId: run.projectId,
    headline:
      links.length + removes.length + run.steps.length === 0
        ? { value: run.folders, of: run.folders, unit: 'folders', words: 'go where they are empty' }
        : run.steps.length > 0 && bytes === 0
          ? { value: movedFiles, of: movedFiles, unit: 'files', words: 'go back to where they were' }
          : { value: bytes, of: bytes, unit: 'bytes', words: 'made by that run' },
    lines: [
      { label: 'Changes of the project put back', text: String(links.length) },
      ...(run.steps.length > 0
        ? [{ label: 'Moved back', files: movedFiles, bytes: run.steps.reduce((sum, { expectedBytes }) => sum + expectedBytes, 0) }]
        : []),
      { label: 'Files removed', files: removes.length, bytes },
      ...(run.folders > 0 ? [{ label: 'Folders it made, if empty', text: formatCount(run.folders) }] : []),
      ...(run.wasThere > 0 ? [{ label: 'Were there before', files: run.wasThere }] : []),
      ...(run.steps.length === 0 ? [{ label: 'Originals', text: 'untouched' }] : []),
    ],
    fills: [],
    findings,
    steps: blocked ? [] : [...links, ...removes, ...run.steps, mark, ...atLast],
    blocked,
    detail: { files: run.made, affected, last: last.length, houses: run.houses.length },
  };
}

/** Each file or sequence once. */
function lastOf(made: readonly MadeFile[]): string[] {
  return [...new Map(made.flatMap(({ isLast, copyOf }) => (isLast && copyOf ? [[placeKey(copyOf.listed), fileName(copyOf.listed.path)] as const] : []))).values()]; // prettier-ignore
}

function lastFinding(names: readonly string[]): Finding {
  const one = names.length === 1;
  return warns(
    'undo-last',
    `${fewNames(names)} ${one ? 'has' : 'have'} no other whole copy on a drive that is plugged in; what ${one ? 'it was' : 'they were'} made from is not there either.`,
    `The undo would remove the last copy that can be read. Copy ${one ? 'it' : 'them'} first, or plug in the drive that has another.`,
  );
}

function houseFinding({ name, at }: DoneRun['houses'][number]): Finding {
  return warns(
    'undo-elsewhere',
    `Another Mill Shelf, on ${name}, reads files in these folders (seen ${at.slice(0, 10)}).`,
    'Its clips would be offline. Ask there first.',
  );
}

function doneSince({ files }: StandingOnIt): string {
  return files > 0 ? `moved ${plural(files, 'file')} of this run on` : 'exchanged a timeline of this run';
}

function usedFinding({ project, clips, lost }: AffectedProject): Finding {
  const which = `${plural(clips, 'clip')} of "${project}" ${oneOrMany(clips, 'reads', 'read')} files that would be removed.`;
  if (lost.length === 0)
    return warns('undo-used', `${which} Each has another file on a drive that is plugged in.`, 'They read that afterwards, or relink them.', project);
  const last = `${fewNames(lost)} ${oneOrMany(lost.length, 'has', 'have')} no other file on a drive that is plugged in.`;
  return warns('undo-used', `${which} ${last}`, 'They will be offline afterwards.', project);
}

function removalFindings(files: number): Finding[] {
  return [
    warns('undo-removes', `${plural(files, 'file')} that this run made will be removed.`, 'Originals are not touched.'),
    notes('undo-unchanged-only', 'A file that was changed since, or another in its place, is left where it is.'),
  ];
}
