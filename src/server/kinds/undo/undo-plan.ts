/** From the journal of a run to the plan that takes it back, with everyone who uses what it would remove. */
import { existsSync } from 'node:fs';
import { folderOf, placeKey, type Place } from '../../../core/media/item';
import type { CatalogueChange, Step } from '../../../core/planning/plan/step';
import type { Plan } from '../../../core/planning/plan/plan';
import type { ClipsAway } from '../../../core/planning/sort/sort-changes';
import type { RenditionsAway } from '../../../core/planning/proxies/rendition-changes';
import { byName } from '../../../core/naming/by-name';
import { knownReaders, readersByPlace, type FileReader } from '../../../core/planning/taking/file-readers';
import { planUndo, type AffectedProject, type DoneRun, type MadeFile, type UndoDetail } from '../../../core/planning/undo/undo';
import type { UndoSettings } from '../../../core/planning/undo/settings';
import type { ExchangeBack } from '../../../core/planning/exchange/exchange';
import type { ForgetTimelines } from '../../../core/planning/package/adopt';
import type { Catalogue } from '../../catalogue/catalogue';
import type { StepRow } from '../../catalogue/runs';
import { actionOf, isKnownAction } from '../../actions/actions';
import { localDay } from '../../../core/time/local-day';
import { otherHouses, readsIn } from '../../stock/house-notes';
import { lastCopies, type GoingFile } from '../../projects/last-copies';
import { readersOf } from '../../projects/readers';
import { type PlanContext } from '../kind';
import { PlanRequestError } from '../../errors/problem';

/** `projectId`: the project that asks; its own runs only. Null asks for any. */
export function undoPlan({ catalogue, mounts, projectId, isUndoable }: PlanContext, { runId, confirmed = false }: UndoSettings): Plan<UndoDetail> {
  const run = catalogue.runs.get(runId);
  if (!run || (projectId !== null && run.projectId !== null && run.projectId !== projectId)) throw new PlanRequestError(`There is no run ${runId}.`);
  if (run.state === 'queued' || run.state === 'running' || run.state === 'paused')
    throw new PlanRequestError('The run is still going on. Cancel it first.');
  if (run.undoneBy !== null) throw new PlanRequestError(`It was undone already, by run ${run.undoneBy}.`);
  if (run.undoingBy !== null) throw new PlanRequestError(`Run ${run.undoingBy} is undoing it. Wait for its end, or resume it if it stopped.`);
  if (!isUndoable(run.kind)) throw new PlanRequestError('This kind of run has nothing to take back.');
  const rows = catalogue.runs.steps(runId);
  if (rows.some(({ step, state }) => state === 'done' && !isKnownAction(step)))
    throw new PlanRequestError('A later version of Mill Shelf did something in this run that this one cannot take back. Start that version.');
  const made = withLast(
    rows.flatMap((row) => actionOf(row.step).made?.(row, { catalogue, runId }) ?? []),
    { catalogue, mounts },
  );
  const back = rows.flatMap(({ state, outcome }) => (state === 'done' && outcome?.back ? [outcome.back as CatalogueChange] : []));
  const steps = stepsBack(rows);
  const half = rows.flatMap((row) => (row.state === 'done' ? [] : (actionOf(row.step).undoHalf?.(row, runId) ?? [])));
  const wasThere = rows.flatMap(({ outcome }): { readonly wasThere?: boolean }[] => (outcome?.wasThere ? [outcome] : [...(outcome?.files ?? [])])).filter((file) => file.wasThere).length; // prettier-ignore
  const own = {
    id: runId,
    title: run.title,
    projectId: run.projectId,
    made,
    wasThere,
    folders: catalogue.runs.folders(runId).filter((folder) => stands(folder, mounts)).length,
    steps,
    ...keptBack(catalogue, runId),
    houses: housesReading(catalogue, mounts, [...made.map(({ place }) => place), ...steps.flatMap(({ from }) => (from ? [from] : []))]),
    back: [...back, ...half],
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

function stands(folder: Place, mounts: PlanContext['mounts']): boolean {
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

/** Steps that came to their end, and those that may stand in their middle, taken back: the last phase first. */
function stepsBack(rows: readonly StepRow[]): Step[] {
  const undone = rows.filter((row) => (actionOf(row.step).undo?.(row, 0) ?? null) !== null);
  const deepest = Math.max(0, ...new Set(undone.map(({ step }) => step.phase)));
  return undone.map((row) => actionOf(row.step).undo!(row, 1 + deepest - row.step.phase)!);
}

/** Tells which of the files are the last whole copy that is plugged in. */
function withLast(made: readonly MadeFile[], { catalogue, mounts }: Pick<PlanContext, 'catalogue' | 'mounts'>): MadeFile[] {
  const going = new Map<string, GoingFile>();
  for (const { copyOf } of made)
    if (copyOf) going.set(placeKey(copyOf.listed), { place: copyOf.listed, source: copyOf.source, sourcePrint: copyOf.sourcePrint });
  const last = lastCopies(catalogue, mounts, [...going.values()]);
  return made.map((file) => (file.copyOf && last.has(placeKey(file.copyOf.listed)) ? { ...file, isLast: true } : file));
}

/** Other houses that read in the folders of files that would go. */
function housesReading(catalogue: Catalogue, mounts: PlanContext['mounts'], going: readonly Place[]): DoneRun['houses'] {
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
  { catalogue, mounts }: Pick<PlanContext, 'catalogue' | 'mounts'>,
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
