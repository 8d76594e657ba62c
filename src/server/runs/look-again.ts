/** What a run has finished, looked at before something is made of it, or when the run is taken up again. */
import type { Catalogue } from '../catalogue/catalogue';
import type { StepRow } from '../catalogue/runs';
import type { ActionTable } from '../actions/action';
import { inspectStep } from '../actions/inspect';
import type { Makers } from '../actions/step-context';
import type { LiveRun } from './live-run';
import { takeBack } from '../actions/made/safe-write';

interface Looking {
  readonly catalogue: Catalogue;
  readonly live: LiveRun;
  readonly makers: Makers;
  readonly table: ActionTable;
  readonly journal: <T>(write: () => T | Promise<T>) => Promise<T>;
}

/**
 * Looks at everything the run has finished. What is gone is to be made again (true when there is such); what was
 * altered or cannot be looked at fails. What was made of their results goes, to be made anew.
 */
export async function lookAgain(looking: Looking, makeAgain: boolean): Promise<boolean> {
  const { catalogue, live, journal, table } = looking;
  const { runs } = catalogue;
  let gone = false;
  let doubtFrom = Infinity;
  for (const row of runs.outline(live.id)) {
    // A list of an earlier version may be done though what it lists is not.
    if (row.state !== 'done') doubtFrom = Math.min(doubtFrom, row.phase);
    if (row.state !== 'done' || live.stopping) continue;
    const found = await inspectStep(runs.step(live.id, row.ordinal), live.places, table);
    if (found.is === 'whole') {
      const { outcome } = found;
      if (outcome) await journal(() => runs.update(live.id, row.ordinal, outcome));
      continue;
    }
    doubtFrom = Math.min(doubtFrom, row.phase);
    gone ||= found.is === 'gone' && makeAgain;
    const message = found.is === 'gone' ? (makeAgain ? null : 'It was taken away again and again while the run went on.') : found.message;
    await journal(() => runs.doubt(live.id, row.ordinal, message === null ? 'waiting' : 'failed', message));
  }
  for (const row of runs.outline(live.id)) {
    if (row.state !== 'done' || row.phase <= doubtFrom || !row.isDerived) continue;
    await retract(looking, runs.step(live.id, row.ordinal));
  }
  return gone;
}

/** A list made of results that no longer hold does not stay, and a crate is no safe copy until it is whole again. */
async function retract({ catalogue, live, journal, makers }: Looking, row: StepRow): Promise<void> {
  const { runs } = catalogue;
  if (row.step.action === 'link') {
    const { change } = row.step;
    const { retract: take } = makers.change(change.type);
    if (!take) return;
    await journal(() => take(change, catalogue));
  } else if (row.step.to && row.outcome) {
    await takeBack(live.places.resolve(row.step.to), row.outcome).catch(() => false);
  }
  await journal(() => runs.doubt(live.id, row.ordinal, 'waiting', null));
}
