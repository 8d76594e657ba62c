import type { Plan } from '../../core/planning/plan/plan';
import type { Catalogue } from '../catalogue/catalogue';
import type { RunRow } from '../catalogue/runs';
import { RunRefused } from '../errors/explain-error';
import { kindOf } from '../kinds/kinds';
import { undoneRun } from '../kinds/undo/mark-undone';

export interface Entry {
  readonly digest: string | null;
  /** On whose word; see actor.ts. */
  readonly actor: string;
  /** Texts that were packed while the plan was made. */
  readonly texts?: ReadonlyMap<string, Uint8Array>;
}

/** Enters the plan as a run that is about to begin; gives its number. Throws RunRefused. `also`: what must go well for it to be entered. */
export function enterRun(
  catalogue: Catalogue,
  plan: Plan,
  { digest, actor, texts = new Map() }: Entry,
  also: ((runId: number) => void) | null = null,
): number {
  const { runs } = catalogue;
  return catalogue.transaction(() => {
    const same = digest === null ? null : runs.unfinishedWith(digest);
    if (same !== null) throw new RunRefused(`Run ${same} does this very thing just now. Wait for its end, or cancel it.`);
    const undone = undoneRun(plan.steps);
    if (undone !== null) mustBeUndoable(catalogue, undone);
    const added = runs.add(plan, new Date().toISOString(), digest, texts, actor);
    if (undone !== null) runs.setUndoing(undone, added);
    kindOf(plan.kind)?.begun?.(plan, catalogue);
    also?.(added);
    return added;
  });
}

function mustBeUndoable(catalogue: Catalogue, id: number): void {
  const run = catalogue.runs.get(id);
  if (!run) throw new RunRefused(`There is no run ${id}.`);
  if (run.undoneBy !== null) throw new RunRefused(`Run ${id} was undone already, by run ${run.undoneBy}.`);
  if (run.undoingBy !== null) throw new RunRefused(`Run ${run.undoingBy} is undoing run ${id}. Wait for its end, or resume it if it stopped.`);
  if (isUnfinished(run)) throw new RunRefused(`Run ${id} is still going on. Cancel it first.`);
}

function isUnfinished(run: RunRow): boolean {
  return run.state === 'queued' || run.state === 'running' || run.state === 'paused';
}
