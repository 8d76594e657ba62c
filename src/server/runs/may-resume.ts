import { KIND_TRAITS } from '../../core/media/shelf-kind';
import { guardedShelf } from '../../core/planning/plan/guarded-shelves';
import type { Catalogue } from '../catalogue/catalogue';
import { RunRefused } from '../errors/explain-error';

/** Whether there is something left to do of a run that is over. Throws RunRefused where it is not allowed any more. */
export function mayResume(catalogue: Catalogue, id: number): boolean {
  const run = catalogue.runs.get(id);
  if (!run || (run.state !== 'failed' && run.state !== 'cancelled') || run.undoneBy !== null) return false;
  if (run.undoingBy !== null) throw new RunRefused(`Run ${run.undoingBy} is undoing this run. Resume that one to its end.`);
  mustBeAllowed(catalogue, id);
  return true;
}

/** What is left of it, under the kinds that its shelves are of by now. */
function mustBeAllowed({ runs, shelves }: Catalogue, id: number): void {
  const kinds = new Map(shelves.list().map((shelf) => [shelf.id, shelf]));
  if ([...kinds.values()].every(({ kind }) => KIND_TRAITS[kind].letsGo && KIND_TRAITS[kind].takesFiles)) return;
  const left = runs.steps(id).flatMap(({ state, step }) => (state === 'done' ? [] : [step]));
  const guarded = guardedShelf(left, kinds);
  if (guarded) throw new RunRefused(`${guarded.message} ${guarded.hint}`);
}
