/** Steps as the API tells them: without what is large and nobody reads. */
import type { Step } from '../../core/planning/plan/step';
import type { Catalogue } from '../catalogue/catalogue';
import type { StepOutcome, StepRow } from '../catalogue/runs';
import { changeToTell } from '../kinds/kinds';
import type { Window, WindowQuery } from '../list-window';

/** So many files of a step that makes several are told. */
const MOST_FILES = 100;

export interface StepView extends StepRow {
  /** How many files it made, where it makes several; `outcome.files` holds the first of them. */
  readonly fileCount: number | null;
}

export function stepWindow(catalogue: Catalogue, runId: number, query: WindowQuery<'ordinal'>): Window<StepView> {
  const { total, rows } = catalogue.runs.stepWindow(runId, query);
  return { total, rows: rows.map(stepView) };
}

export function stepView(row: StepRow): StepView {
  const { step, outcome, pending } = row;
  return { ...row, step: withoutText(step), outcome: firstFiles(outcome), pending: firstFiles(pending), fileCount: outcome?.files?.length ?? null };
}

function firstFiles<Outcome extends StepOutcome>(outcome: Outcome | null): Outcome | null {
  return outcome?.files ? { ...outcome, files: outcome.files.slice(0, MOST_FILES) } : outcome;
}

/** Texts of files can be large and nobody reads them in a plan: their length says enough. */
export function withoutText(step: Step): Step {
  if (step.action === 'write' && (step.content.type === 'text' || step.content.type === 'timeline'))
    return { ...step, content: { type: 'text' as const, text: '' } };
  if (step.action === 'write' && step.content.type === 'zip')
    return {
      ...step,
      content: { type: 'zip' as const, entries: step.content.entries.map((entry) => ('text' in entry ? { ...entry, text: '' } : entry)) },
    };
  if (step.action === 'link') return { ...step, change: changeToTell(step.change) };
  if (step.action === 'frames') return { ...step, holds: null };
  return step;
}
