import { KIND_TRAITS } from '../../core/media/shelf-kind';
import { guardedShelf } from '../../core/planning/plan/guarded-shelves';
import type { Catalogue } from '../catalogue/catalogue';
import { RunRefused } from '../errors/explain-error';

/** What is left of a run, under the kinds that its shelves are of by now. Throws RunRefused. */
export function mustBeAllowed({ runs, shelves }: Catalogue, id: number): void {
  const kinds = new Map(shelves.list().map((shelf) => [shelf.id, shelf]));
  if ([...kinds.values()].every(({ kind }) => KIND_TRAITS[kind].letsGo && KIND_TRAITS[kind].takesFiles)) return;
  const left = runs.steps(id).flatMap(({ state, step }) => (state === 'done' ? [] : [step]));
  const guarded = guardedShelf(left, kinds);
  if (guarded) throw new RunRefused(`${guarded.message} ${guarded.hint}`);
}
