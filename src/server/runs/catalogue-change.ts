/**
 * Changes of the catalogue, each all or nothing together with its entry in the journal: after a crash it was either
 * made and can be taken back, or it was not made. Each leaves behind the change that takes it back.
 */
import type { LinkStep } from '../../core/planning/plan/step';
import type { StepOutcome, StepRow } from '../catalogue/runs';
import type { ChangeContext } from '../kinds/kind';
import { changeMaker } from '../kinds/kinds';
import { StepFailure } from './explain-error';

/** Makes the change and journals it, in one transaction. Throws StepFailure where it cannot be made. */
export function changeCatalogue(row: StepRow, context: ChangeContext): StepOutcome {
  const { catalogue, runId } = context;
  return catalogue.transaction(() => {
    const outcome = makeChange(row.step as LinkStep, context);
    catalogue.runs.finish(runId, row.ordinal, outcome, new Date().toISOString());
    return outcome;
  });
}

/** Several that do not stand on each other, in one transaction; those that cannot be made fail by themselves. */
export function changeMany(rows: readonly StepRow[], context: ChangeContext): void {
  const { catalogue, runId } = context;
  const { runs } = catalogue;
  catalogue.transaction(() => {
    for (const row of rows) {
      try {
        runs.finish(runId, row.ordinal, makeChange(row.step as LinkStep, context), new Date().toISOString());
      } catch (error) {
        if (!(error instanceof StepFailure)) throw error;
        runs.fail(runId, row.ordinal, 'failed', error.message, new Date().toISOString());
      }
    }
  });
}

function makeChange(step: LinkStep, context: ChangeContext): StepOutcome {
  return changeMaker(step.change.type).make(step.change, context, step);
}
