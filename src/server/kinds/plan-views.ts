/** Plans as the API tells them: the sheet whole, of what may be long the begin and how much there is. */
import type { Plan } from '../../core/planning/plan/plan';
import type { Step } from '../../core/planning/plan/step';
import { MAKERS } from './kinds';
import { stepToTell } from '../actions/step-views';
import { KINDS, type PlanKind } from './kinds';

const MOST_STEPS = 100;

export interface PlanView<Detail = unknown> extends Plan<Detail> {
  /** How many steps there are of each action; `steps` holds the first of them. */
  readonly stepCounts: Readonly<Partial<Record<Step['action'], number>>>;
}

export function planView(plan: Plan): PlanView {
  const stepCounts: Partial<Record<Step['action'], number>> = {};
  for (const { action } of plan.steps) stepCounts[action] = (stepCounts[action] ?? 0) + 1;
  return {
    ...plan,
    stepCounts,
    steps: plan.steps.slice(0, MOST_STEPS).map((step) => stepToTell(step, MAKERS)),
    detail: (KINDS[plan.kind as PlanKind].toTell ?? ((whole) => whole.detail))(plan),
  };
}
