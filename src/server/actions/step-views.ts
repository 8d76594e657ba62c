/** Steps as the API tells them: without what is large and nobody reads. */
import type { Window, WindowQuery } from '../../core/lists/list-window';
import type { Step } from '../../core/planning/plan/step';
import type { Catalogue } from '../catalogue/catalogue';
import type { StepRow } from '../catalogue/runs';
import type { StepOutcome } from '../catalogue/step-outcome';
import { actionOf } from './actions';
import type { Makers } from './step-context';

/** How many files of a step that makes several are told. */
const MOST_FILES = 100;

export interface StepView extends StepRow {
  /** How many files it made, where it makes several; `outcome.files` holds the first of them. */
  readonly fileCount: number | null;
}

export function stepWindow(catalogue: Catalogue, runId: number, query: WindowQuery<'ordinal'>, makers: Makers): Window<StepView> {
  const { total, rows } = catalogue.runs.stepWindow(runId, query);
  return { total, rows: rows.map((row) => stepView(row, makers)) };
}

export function stepView(row: StepRow, makers: Makers): StepView {
  const { step, outcome, pending } = row;
  return { ...row, step: stepToTell(step, makers), outcome: firstFiles(outcome), pending: firstFiles(pending), fileCount: outcome?.files?.length ?? null }; // prettier-ignore
}

function firstFiles<Outcome extends StepOutcome>(outcome: Outcome | null): Outcome | null {
  return outcome?.files ? { ...outcome, files: outcome.files.slice(0, MOST_FILES) } : outcome;
}

export function stepToTell(step: Step, makers: Makers): Step {
  const { toTell } = actionOf(step);
  return toTell ? toTell(step, makers) : step;
}
