/** From a stage's settings to its plan, through the table of kinds. */
import { createHash } from 'node:crypto';
import type { Plan } from '../../core/planning/plan/plan';
import { asItIs, type TextKeeper } from '../../core/planning/plan/plan-text';
import { withTextsApart } from '../../core/planning/plan/texts-apart';
import type { Catalogue } from '../catalogue/catalogue';
import { textNamer } from '../catalogue/run-texts';
import type { Mounts } from '../stock/mounts';
import { isUndoable, KINDS, type PlanKind, type PlanRequest } from './kinds';

/**
 * The plan of a request as things stand now. `projectId` is not looked at where the kind needs none. A plan whose texts
 * are `keepText` has taken over can run where they are given to its run.
 */
export function makePlan(
  catalogue: Catalogue,
  mounts: Mounts,
  projectId: string | null,
  request: PlanRequest,
  keepText: TextKeeper = asItIs,
): Promise<Plan> {
  return KINDS[request.kind].plan({ catalogue, mounts, projectId, isUndoable, keepText }, request.settings);
}

/** The same plan has the same digest, so that what runs is what was read. Step by step, long texts by their own: the text of them all may be long. */
export function planDigest(plan: Plan): string {
  const read = KINDS[plan.kind as PlanKind].mustBeRead?.(plan);
  const hash = createHash('sha256').update(JSON.stringify([plan.kind, plan.projectId]));
  const name = textNamer();
  for (const step of plan.steps) hash.update(JSON.stringify(withTextsApart(step, name)));
  return hash.update(JSON.stringify(read ?? null)).digest('hex');
}
