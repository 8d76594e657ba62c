/** Runs: plans that were read are begun, told of, held and ended. */
import type { ListedRun, RunPriority, RunRow } from '../catalogue/runs';
import { stepView } from '../actions/step-views';
import { notFound, Problem } from '../errors/problem';
import { isUndoable, MAKERS, type PlanRequest } from '../kinds/kinds';
import type { RunProgress } from '../runs/live-run';
import { secondsLeft } from '../runs/time-left';
import type { RunSummary, RunView } from '../runs/views/run';
import type { Actor, House } from './use-case';

export interface Planned {
  readonly projectId: string | null;
  readonly request: PlanRequest;
}

/** Runs the plan that was read: refused when the plan would be another one by now. */
export async function beginRun(house: House, actor: Actor, { digest, ...planned }: Planned & { readonly digest: string }): Promise<{ id: number }> {
  const { runner, catalogue } = house;
  try {
    const { id } = await house.ask({ ask: 'enter-run', ...planned, digest, actor });
    runner.begin(id);
    return { id };
  } catch (error) {
    // It may have been entered though the answer did not come.
    const entered = catalogue.runs.unfinishedWith(digest);
    if (entered === null || !runner.begin(entered)) throw error;
    return { id: entered };
  }
}

export function runSummary(house: House, run: ListedRun | RunRow): RunSummary {
  const { plan: _plan, ...rest } = { plan: null, ...run };
  const progress = house.runner.progress(run.id);
  const counts = house.catalogue.runs.counts(run.id);
  // While it goes on as the plan expects it; afterwards as it came out.
  const journalled = progress === null ? counts.doneBytes : counts.doneExpectedBytes;
  const bytes = counts.expectedBytes - counts.doneExpectedBytes + journalled;
  const bytesDone = Math.min(bytes, progress?.bytes ?? journalled);
  return {
    ...rest,
    undoable: isUndoable(run.kind),
    steps: counts.steps,
    stepsDone: counts.done,
    failed: counts.failed,
    bytes,
    bytesDone,
    speed: progress?.paused ? null : (progress?.speed ?? null),
    secondsLeft: progress && !progress.paused ? timeLeft(run.seconds, bytes, bytesDone, progress) : null,
    current: progress?.current ?? [],
    trouble: progress?.trouble ?? null,
    waitsFor: progress?.waitsFor ?? null,
    figures: progress?.figures ?? null,
  };
}

function timeLeft(planned: number | null, bytes: number, bytesDone: number, { speed, bytesBefore, worked }: RunProgress): number | null {
  // Copies go as fast as they just went; encoders do not.
  if (planned === null) return speed ? Math.ceil((bytes - bytesDone) / speed) : null;
  const share = (part: number) => (bytes > 0 ? part / bytes : 0);
  const left = secondsLeft({ planned, share: share(bytesDone), ownShare: share(bytesDone - bytesBefore), worked });
  return left === null ? null : Math.ceil(left);
}

export function runOf(house: House, id: string | undefined): RunRow {
  const run = /^\d{1,15}$/.test(id ?? '') ? house.catalogue.runs.get(Number(id)) : null;
  if (!run) throw notFound('run');
  return run;
}

/** The run with its receipt; `atEnd`: when it is over. */
export async function runView(house: House, id: string | undefined, atEnd: boolean): Promise<RunView> {
  const found = runOf(house, id);
  if (atEnd) await house.runner.finished(found.id);
  const run = runOf(house, id);
  const remarks = house.catalogue.runs.remarks(run.id);
  return { ...runSummary(house, run), plan: run.plan, ...remarks, troubled: remarks.troubled.map((row) => stepView(row, MAKERS)) };
}

const ORDERS = { pause: 'It is not going on.', resume: 'There is nothing to resume.', cancel: 'It is over already.' } as const;

export function orderRun(house: House, _actor: Actor, { id, order }: { readonly id: string | undefined; readonly order: keyof typeof ORDERS }): void {
  if (!house.runner[order](runOf(house, id).id)) throw new Problem('not-possible', ORDERS[order]);
}

/** Its steps get their turn before those of other runs, or after them. */
export function preferRun(house: House, _actor: Actor, { id, priority }: { readonly id: string | undefined; readonly priority: RunPriority }): void {
  if (!house.runner.prefer(runOf(house, id).id, priority)) throw new Problem('not-possible', ORDERS.pause);
}
