/**
 * Changes of the catalogue, each all or nothing together with its entry in the journal: after a crash it was either
 * made and can be taken back, or it was not made. Each leaves behind the change that takes it back.
 */
import type { LinkStep } from '../../../core/planning/plan/step';
import type { StepRow } from '../../catalogue/runs';
import type { StepOutcome } from '../../catalogue/step-outcome';
import { StepFailure } from '../../errors/explain-error';
import type { ChangeContext, Makers } from '../step-context';

/** Makes the change and journals it, in one transaction. Throws StepFailure where it cannot be made. */
export function changeCatalogue(row: StepRow, context: ChangeContext, makers: Makers): StepOutcome {
  const { catalogue, runId } = context;
  return catalogue.transaction(() => {
    const outcome = makeChange(row.step as LinkStep, context, makers);
    catalogue.runs.finish(runId, row.ordinal, outcome, new Date().toISOString());
    return outcome;
  });
}

/** Several that do not stand on each other, in one transaction; those that cannot be made fail by themselves. Leaves none over. */
export function changeMany(rows: readonly StepRow[], context: ChangeContext, makers: Makers): readonly number[] {
  const { catalogue, runId } = context;
  const { runs } = catalogue;
  catalogue.transaction(() => {
    for (const row of rows) {
      try {
        runs.finish(runId, row.ordinal, makeChange(row.step as LinkStep, context, makers), new Date().toISOString());
      } catch (error) {
        if (!(error instanceof StepFailure)) throw error;
        runs.fail(runId, row.ordinal, 'failed', error.message, new Date().toISOString());
      }
    }
  });
  return [];
}

function makeChange(step: LinkStep, context: ChangeContext, makers: Makers): StepOutcome {
  return makers.change(step.change.type).make(step.change, context, step);
}
