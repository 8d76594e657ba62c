/** From the journal of a run to the plan that takes it back, with everyone who uses what it would remove. */
import { existsSync } from 'node:fs';
import { folderOf, placeKey, type Place, type SequenceFacts } from '../../../core/media/item';
import { below } from '../../../core/media/item';
import { packIdentity } from '../../../core/media/identity';
import { moveBack, type CatalogueChange, type EncodeStep, type FramesStep, type MoveStep, type WriteStep } from '../../../core/planning/plan/step';
import type { Plan } from '../../../core/planning/plan/plan';
import type { ClipsAway } from '../../../core/planning/sort/sort-changes';
import { madeIds, type RenditionsAway } from '../../../core/planning/proxies/rendition-changes';
import { byName } from '../../../core/naming/by-name';
import { knownReaders, readersByPlace, type FileReader } from '../../../core/planning/taking/file-readers';
import { planUndo, type AffectedProject, type DoneRun, type MadeFile } from '../../../core/planning/undo/undo';
import type { UndoSettings } from '../../../core/planning/undo/settings';
import type { ExchangeBack } from '../../../core/planning/exchange/exchange';
import type { ForgetTimelines } from '../../../core/planning/package/adopt';
import type { Catalogue } from '../../catalogue/catalogue';
import type { StepRow } from '../../catalogue/runs';
import { findSequences, sequenceName } from '../../../core/media/image-sequence';
import { localDay } from '../../local-day';
import { otherHouses, readsIn } from '../../stock/house-notes';
import { lastCopies, type GoingFile } from '../../projects/last-copies';
import { readersOf } from '../../projects/readers';
import { PlanRequestError, type Asked } from '../kind';

/** `projectId`: the project that asks; its own runs only. Null asks for any. */
export function undoPlan({ catalogue, mounts, projectId, isUndoable }: Asked, { runId, confirmed = false }: UndoSettings): Plan {
  const run = catalogue.runs.get(runId);
  if (!run || (projectId !== null && run.projectId !== null && run.projectId !== projectId)) throw new PlanRequestError(`There is no run ${runId}.`);
  if (run.state === 'queued' || run.state === 'running' || run.state === 'paused')
    throw new PlanRequestError('The run is still going on. Cancel it first.');
  if (run.undoneBy !== null) throw new PlanRequestError(`It was undone already, by run ${run.undoneBy}.`);
  if (run.undoingBy !== null) throw new PlanRequestError(`Run ${run.undoingBy} is undoing it. Wait for its end, or resume it if it stopped.`);
  if (!isUndoable(run.kind)) throw new PlanRequestError('This kind of run has nothing to take back.');
  const rows = catalogue.runs.steps(runId);
  const made = withLast(
    rows.flatMap((row) => madeBy(catalogue, runId, row)),
    { catalogue, mounts },
  );
  const back = rows.flatMap(({ state, outcome }) => (state === 'done' && outcome?.back ? [outcome.back as CatalogueChange] : []));
  const moves = movesBack(rows);
  const linked = rows.flatMap((row) =>
    row.step.action === 'encode' && row.state !== 'done' && row.pending !== null ? [renditionsAway(row.step, { runId, ordinal: row.ordinal })] : [],
  );
  const wasThere = rows.flatMap(({ outcome }): { readonly wasThere?: boolean }[] => (outcome?.wasThere ? [outcome] : [...(outcome?.files ?? [])])).filter((file) => file.wasThere).length; // prettier-ignore
  const own = {
    id: runId,
    title: run.title,
    projectId: run.projectId,
    made,
    wasThere,
    folders: catalogue.runs.folders(runId).filter((folder) => stands(folder, mounts)).length,
    moves,
    ...keptBack(catalogue, runId),
    houses: housesReading(catalogue, mounts, [...made.map(({ place }) => place), ...moves.flatMap(({ from }) => (from ? [from] : []))]),
    back: [...back, ...linked],
    stoodOnBy: catalogue.outcomes.standingOn(runId, timelinesOf(back)),
  };
  return catalogue.moment(() => {
    const readers = readersOfMade({ catalogue, mounts }, rows, made);
    const byPlace = readersByPlace(readers);
    // Frames are known by the sequences in their folder.
    const folders = new Map<string, FileReader[]>();
    for (const reader of readers) {
      const key = placeKey({ ...reader.place, path: folderOf(reader.place.path) });
      folders.set(key, [...(folders.get(key) ?? []), reader]);
    }
    const ofFrames = new Set(rows.flatMap(({ step }) => (step.action === 'frames' && step.to ? [placeKey(step.to)] : [])));
    const known = (place: Place) => {
      const folder = placeKey({ ...place, path: folderOf(place.path) });
      return knownReaders([...(byPlace.get(placeKey(place)) ?? []), ...(ofFrames.has(folder) ? (folders.get(folder) ?? []) : [])]);
    };
    return planUndo(own, affectedProjects(catalogue, readers, back), known, confirmed);
  });
}

function stands(folder: Place, mounts: Asked['mounts']): boolean {
  try {
    return existsSync(mounts.resolve(folder));
  } catch {
    // Its shelf is away.
    return false;
  }
}

/** Timelines that a run made. */
function timelinesOf(back: readonly CatalogueChange[]): string[] {
  return back.flatMap((change) => {
    if (change.type === 'forget-timelines') return (change as ForgetTimelines).timelineIds;
    return change.type === 'exchange-back' ? [(change as ExchangeBack).timelineId] : [];
  });
}

/** A step that did not come to its end may have linked what it made. */
function renditionsAway(step: EncodeStep, at: { readonly runId: number; readonly ordinal: number }): RenditionsAway {
  return { type: 'renditions-away', renditionIds: madeIds(step, at) };
}

/** Moves that came to their end, and those that may stand in their middle, taken back: the last phase first. */
function movesBack(rows: readonly StepRow[]): MoveStep[] {
  const begun = rows.flatMap(({ step, state, outcome, pending }) => {
    if (step.action !== 'move' || outcome?.left || (state !== 'done' && pending === null)) return [];
    return [{ step, left: state === 'done' ? outcome : pending, settles: state !== 'done' }];
  });
  const deepest = Math.max(0, ...new Set(begun.map(({ step }) => step.phase)));
  return begun.map(({ step, left, settles }) => {
    const frames = left?.files?.every(({ identity }) => identity) ? left.files.map(({ identity }) => packIdentity(identity!)) : null;
    return moveBack(step, 1 + deepest - step.phase, { identity: left?.identity ?? null, frames }, settles);
  });
}

/** Files of a step that are the run's own: finished ones, and those of a step that did not come to its end. */
function madeBy(catalogue: Catalogue, runId: number, { ordinal, step, outcome, pending }: StepRow): MadeFile[] {
  if (!step.to || step.action === 'link' || step.action === 'remove' || step.action === 'check' || step.action === 'move') return [];
  const { to } = step;
  if (step.action === 'frames') {
    const journalled = [...catalogue.runs.frames(runId, ordinal).values()];
    // Older journals have the frames in the outcome alone.
    const frames = journalled.length > 0 ? journalled : (outcome?.files ?? []).filter((file) => !file.wasThere);
    const copyOf = { listed: below(to, sequenceName(sequenceMade(step))), source: below(step.from!, sequenceName(step.sequence)), sourcePrint: step.mustHold?.fingerprint ?? null }; // prettier-ignore
    return frames.map(({ name, bytes, sha256, identity }) => ({
      place: below(to, name),
      bytes,
      sha256,
      identity: identity ?? null,
      copyOf,
      isLast: false,
    }));
  }
  const left = outcome ?? pending;
  const copyOf = step.action === 'write' ? packedIn(step, catalogue) : step.from ? { listed: to, source: step.from, sourcePrint: step.mustHold?.fingerprint ?? null } : null; // prettier-ignore
  return left?.sha256 && !left.wasThere
    ? [{ place: to, bytes: left.bytes, sha256: left.sha256, identity: left.identity ?? null, copyOf, isLast: false }]
    : [];
}

/** What a bundle in one file holds: the first of its media that is not there any more, else the first. Null for other texts. */
function packedIn({ content, to }: WriteStep, catalogue: Catalogue): MadeFile['copyOf'] {
  if (content.type !== 'zip') return null;
  const whole = content.entries.flatMap((entry) => ('from' in entry && entry.mustHold?.fingerprint ? [{ place: entry.from, print: entry.mustHold.fingerprint }] : [])); // prettier-ignore
  const standing = new Set(catalogue.items.atPlaces(whole.map(({ place }) => place)).map(({ place }) => placeKey(place)));
  const one = whole.find(({ place }) => !standing.has(placeKey(place))) ?? whole[0];
  return one ? { listed: to!, source: one.place, sourcePrint: one.print } : null;
}

/** A sequence as it is named where its frames were written. */
function sequenceMade({ sequence, names, asNames }: FramesStep): SequenceFacts {
  // Some of the frames are another sequence.
  return findSequences(asNames ?? names).sequences[0]?.facts ?? sequence;
}

/** Tells which of the files are the last whole copy that is plugged in. */
function withLast(made: readonly MadeFile[], { catalogue, mounts }: Pick<Asked, 'catalogue' | 'mounts'>): MadeFile[] {
  const going = new Map<string, GoingFile>();
  for (const { copyOf } of made)
    if (copyOf) going.set(placeKey(copyOf.listed), { place: copyOf.listed, source: copyOf.source, sourcePrint: copyOf.sourcePrint });
  const last = lastCopies(catalogue, mounts, [...going.values()]);
  return made.map((file) => (file.copyOf && last.has(placeKey(file.copyOf.listed)) ? { ...file, isLast: true } : file));
}

/** Other houses that read in the folders of files that would go. */
function housesReading(catalogue: Catalogue, mounts: Asked['mounts'], going: readonly Place[]): DoneRun['houses'] {
  const folders = new Map<string, Set<string>>();
  for (const { shelfId, path } of going) folders.set(shelfId, (folders.get(shelfId) ?? new Set()).add(folderOf(path)));
  const found = new Map<string, { name: string; at: string }>();
  for (const [shelfId, own] of folders) {
    const root = mounts.rootOf(shelfId);
    if (root === null) continue;
    for (const note of otherHouses(root, catalogue.id))
      if ([...own].some((folder) => readsIn(note, folder))) found.set(note.house, { name: note.name, at: note.at });
  }
  return [...found.values()];
}

/** A crate that was handed over, carried away or locked is no undo's any more. */
function keptBack(catalogue: Catalogue, runId: number): Pick<DoneRun, 'kept'> {
  const crate = catalogue.crates.ofRun(runId);
  if (!crate) return {};
  const { isMoved, place } = catalogue.crates.standing(crate);
  const today = localDay(new Date());
  if (crate.acceptedAt !== null)
    return { kept: { code: 'crate-accepted', message: `The crate ${crate.name} was handed over on ${crate.acceptedAt.slice(0, 10)}.`, hint: 'Take that mark back in Crates made, if it was a mistake.' } }; // prettier-ignore
  if (crate.lockedUntil !== null && crate.lockedUntil >= today)
    return { kept: { code: 'crate-locked', message: `The crate ${crate.name} is locked until ${crate.lockedUntil}.`, hint: 'Unlock it in Crates made, if it may go.' } }; // prettier-ignore
  if (isMoved) {
    const shelf = catalogue.shelves.names().get(place.shelfId) ?? 'another shelf';
    return { kept: { code: 'crate-moved', message: `The crate ${crate.name} was moved: it stands on ${shelf} in ${place.path}.`, hint: 'An undo takes nothing that was carried away. Remove it by hand, if it may go.' } }; // prettier-ignore
  }
  return {};
}

/** Who reads what the run made, numbered frames too: those are known as one sequence. */
function readersOfMade(
  { catalogue, mounts }: Pick<Asked, 'catalogue' | 'mounts'>,
  rows: readonly StepRow[],
  made: readonly MadeFile[],
): FileReader[] {
  const folders = rows.flatMap(({ step }) => (step.action === 'frames' && step.to ? [step.to] : []));
  const sequences = folders.flatMap((folder) => catalogue.items.sequencesIn(folder).map((item) => item.place));
  return readersOf(catalogue, mounts, [...made.map((file) => file.place), ...sequences]);
}

/** Projects whose clips read the files, apart from clips that go with the timelines the undo takes out. */
function affectedProjects(catalogue: Catalogue, readers: readonly FileReader[], back: readonly CatalogueChange[]): AffectedProject[] {
  const going = catalogue.clips.goingWith(
    back.flatMap((change) => (change.type === 'forget-timelines' ? (change as ForgetTimelines).timelineIds : [])),
  );
  const clipsMade = back.flatMap((change) => (change.type === 'clips-away' ? (change as ClipsAway).clipIds : []));
  for (const id of catalogue.clips.untouchedOf(clipsMade)) going.add(id);
  const projects = new Map<string, { project: string; clips: Set<string>; lost: Map<string, string> }>();
  const unlinked = new Set(back.flatMap((change) => (change.type === 'renditions-away' ? (change as RenditionsAway).renditionIds : [])));
  for (const { projectId, project, clipId, clip, renditionId, losesLast } of readers) {
    if (going.has(clipId) || (unlinked.has(renditionId) && !losesLast)) continue;
    const entry = projects.get(projectId) ?? { project, clips: new Set(), lost: new Map<string, string>() };
    entry.clips.add(clipId);
    if (losesLast) entry.lost.set(clipId, clip);
    projects.set(projectId, entry);
  }
  return [...projects.values()].map(({ project, clips, lost }) => ({ project, clips: clips.size, lost: [...lost.values()].sort(byName) }));
}
