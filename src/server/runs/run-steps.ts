/** What the runner tells its steps apart by. */
import { fileName } from '../../core/media/item';
import type { Step } from '../../core/planning/plan/step';
import type { StepOutline } from '../catalogue/runs';
import { standsAlone } from '../kinds/kinds';

export function isLoneChange({ action, what }: StepOutline): boolean {
  return action === 'link' && what !== null && standsAlone(what);
}

export function isLoneChangeStep(step: Step): boolean {
  return step.action === 'link' && standsAlone(step.change.type);
}

export function stepName(step: Step): string {
  return fileName((step.to ?? step.from)?.path ?? step.reason);
}
