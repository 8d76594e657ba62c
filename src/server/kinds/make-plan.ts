/** From a stage's settings to its plan, through the table of kinds. */
import { createHash } from 'node:crypto';
import { blockedBy, type Blocking } from '../../core/planning/plan/destination';
import { samePlace, type Place } from '../../core/media/item';
import { KIND_TRAITS, type ShelfKind } from '../../core/media/shelf-kind';
import { guardedShelf, onlyOnTravel } from '../../core/planning/plan/guarded-shelves';
import type { Plan } from '../../core/planning/plan/plan';
import { plural } from '../../core/words/figures';
import { asItIs, type TextKeeper } from '../../core/planning/plan/plan-text';
import { withTextsApart } from '../../core/planning/plan/texts-apart';
import type { Catalogue } from '../catalogue/catalogue';
import { textNamer } from '../catalogue/run-texts';
import type { Mounts } from '../stock/mounts';
import { destinationOnDisk } from './destination-on-disk';
import { isUndoable, KINDS, type PlanKind, type PlanRequest } from './kinds';

/**
 * The plan of a request as things stand now. `projectId` is not looked at where the kind needs none. A plan whose texts
 * are `keepText` has taken over can run where they are given to its run.
 */
export async function makePlan(
  catalogue: Catalogue,
  mounts: Mounts,
  projectId: string | null,
  request: PlanRequest,
  keepText: TextKeeper = asItIs,
): Promise<Plan> {
  const problem = destinationOnDisk(mounts, request.settings);
  const plan = await KINDS[request.kind].plan({ catalogue, mounts, projectId, isUndoable, keepText }, request.settings);
  const shelves = new Map(catalogue.shelves.list().map((shelf) => [shelf.id, shelf]));
  const stop = problem ?? takenUp(catalogue, plan) ?? guardedShelf(plan.steps, shelves);
  const hasCopy = (place: Place) => catalogue.items.copiesOf(place).some(({ place: own }) => !samePlace(own, place) && isKept(shelves.get(own.shelfId)?.kind)); // prettier-ignore
  const warnings = stop ? [] : onlyOnTravel(plan.steps, shelves, hasCopy);
  if (warnings.length > 0) return { ...plan, findings: [...warnings, ...plan.findings] };
  return stop ? { ...plan, steps: [], blocked: stop.message, findings: [...blockedBy(stop), ...plan.findings] } : plan;
}

/** Whether a copy on a shelf of that kind is kept, and elsewhere than on the way. */
function isKept(kind: ShelfKind | undefined): boolean {
  return kind !== undefined && kind !== 'travel' && KIND_TRAITS[kind].keeps;
}

/** Files that another run is about to take are not offered once more. */
function takenUp(catalogue: Catalogue, { kind, steps }: Plan): Blocking | null {
  if (!KINDS[kind as PlanKind].takesOver) return null;
  const [first] = catalogue.outcomes.alsoTaking(steps);
  if (!first) return null;
  const message = `Run ${first.id}, ${first.title}, is about to take ${plural(first.files, 'file')} of these.`;
  return { code: 'taken-by-run', message, hint: 'Wait for its end or cancel it; then this is planned anew.' };
}

/** The same plan has the same digest, so that what runs is what was read. Step by step, long texts by their own: the text of them all may be long. */
export function planDigest(plan: Plan): string {
  const read = KINDS[plan.kind as PlanKind].mustBeRead?.(plan);
  const hash = createHash('sha256').update(JSON.stringify([plan.kind, plan.projectId]));
  const name = textNamer();
  for (const step of plan.steps) hash.update(JSON.stringify(withTextsApart(step, name)));
  return hash.update(JSON.stringify(read ?? null)).digest('hex');
}
