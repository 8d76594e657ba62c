/** From the journal of a run to the plan that takes it back, with everyone who uses what it would remove. */
import { placeKey, type Place } from '../../../core/media/item';
import { below } from '../../../core/media/item';
import { packIdentity } from '../../../core/media/identity';
import { moveBack, type CatalogueChange, type EncodeStep, type MoveStep } from '../../../core/planning/plan/step';
import type { Plan } from '../../../core/planning/plan/plan';
import type { ClipsAway } from '../../../core/planning/sort/sort-changes';
import { madeIds, type RenditionsAway } from '../../../core/planning/proxies/rendition-changes';
import { planUndo, type AffectedProject, type MadeFile } from '../../../core/planning/undo/undo';
import type { UndoSettings } from '../../../core/planning/undo/settings';
import type { ForgetTimelines } from '../../../core/planning/package/adopt';
import type { Catalogue } from '../../catalogue/catalogue';
import type { StepRow } from '../../catalogue/runs';
import { PlanRequestError, type Asked } from '../kind';

/** `projectId`: the project that asks; its own runs only. Null asks for any. */
export function undoPlan({ catalogue, projectId, isUndoable }: Asked, { runId, confirmed = false }: UndoSettings): Plan {
  const run = catalogue.runs.get(runId);
  if (!run || (projectId !== null && run.projectId !== null && run.projectId !== projectId)) throw new PlanRequestError(`There is no run ${runId}.`);
  if (run.state === 'queued' || run.state === 'running' || run.state === 'paused')
    throw new PlanRequestError('The run is still going on. Cancel it first.');
  if (run.undoneBy !== null) throw new PlanRequestError(`It was undone already, by run ${run.undoneBy}.`);
  if (run.undoingBy !== null) throw new PlanRequestError(`Run ${run.undoingBy} is undoing it. Wait for its end, or resume it if it stopped.`);
  if (!isUndoable(run.kind)) throw new PlanRequestError('This kind of run has nothing to take back.');
  const rows = catalogue.runs.steps(runId);
  const made = rows.flatMap((row) => madeBy(catalogue, runId, row));
  const back = rows.flatMap(({ state, outcome }) => (state === 'done' && outcome?.back ? [outcome.back as CatalogueChange] : []));
  const moves = movesBack(rows);
  const linked = rows.flatMap((row) =>
    row.step.action === 'encode' && row.state !== 'done' && row.pending !== null ? [renditionsAway(row.step, { runId, ordinal: row.ordinal })] : [],
  );
  const wasThere = rows.flatMap(({ outcome }): { readonly wasThere?: boolean }[] => (outcome?.wasThere ? [outcome] : [...(outcome?.files ?? [])])).filter((file) => file.wasThere).length; // prettier-ignore
  const affected = affectedProjects(catalogue, rows, made, back);
  return planUndo({ id: runId, title: run.title, projectId: run.projectId, made, wasThere, moves, back: [...back, ...linked] }, affected, confirmed);
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
    return frames.map(({ name, bytes, sha256, identity }) => ({ place: below(to, name), bytes, sha256, identity: identity ?? null }));
  }
  const left = outcome ?? pending;
  return left?.sha256 && !left.wasThere ? [{ place: to, bytes: left.bytes, sha256: left.sha256, identity: left.identity ?? null }] : [];
}

/** Who links the files, apart from clips that go with the timelines the undo takes out. */
function affectedProjects(
  catalogue: Catalogue,
  rows: readonly StepRow[],
  made: readonly MadeFile[],
  back: readonly CatalogueChange[],
): AffectedProject[] {
  const folders = rows.flatMap(({ step }) => (step.action === 'frames' && step.to ? [step.to] : []));
  const sequences = folders.flatMap((folder) => catalogue.items.sequencesIn(folder).map((item) => item.place));
  const places: Place[] = [...made.map((file) => file.place), ...sequences];
  const removed = new Set(places.map(placeKey));
  const going = catalogue.clips.goingWith(
    back.flatMap((change) => (change.type === 'forget-timelines' ? (change as ForgetTimelines).timelineIds : [])),
  );
  const clipsMade = back.flatMap((change) => (change.type === 'clips-away' ? (change as ClipsAway).clipIds : []));
  for (const id of catalogue.clips.untouchedOf(clipsMade)) going.add(id);
  const projects = new Map<string, { project: string; clips: Set<string>; last: Set<string> }>();
  const unlinked = new Set(back.flatMap((change) => (change.type === 'renditions-away' ? (change as RenditionsAway).renditionIds : [])));
  for (const { projectId, project, clipId, renditionId, place, expected } of catalogue.clips.linking(places)) {
    if (going.has(clipId) || unlinked.has(renditionId)) continue;
    const entry = projects.get(projectId) ?? { project, clips: new Set(), last: new Set() };
    entry.clips.add(clipId);
    const fingerprint = catalogue.items.at(place)?.fingerprint ?? expected.fingerprint;
    const copies = fingerprint === null ? [] : catalogue.items.placesOf(fingerprint).filter((copy) => !removed.has(placeKey(copy)));
    if (copies.length === 0) entry.last.add(clipId);
    projects.set(projectId, entry);
  }
  return [...projects.values()].map(({ project, clips, last }) => ({ project, clips: clips.size, lastCopies: last.size }));
}
