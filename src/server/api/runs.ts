import type { House } from '../house';
import type { ListedRun, RunRow } from '../catalogue/runs';
import { isUndoable, type PlanRequest } from '../kinds/kinds';
import { stepView } from '../projects/step-views';
import { endpoint, endpointWithBody, LARGEST_LIST_BYTES } from './endpoint';
import { notFound, Problem } from './problem';
import { keepPlanSchema, mustBeQuery, planRequestSchema, planRowsSchema, runPrioritySchema, runRequestSchema } from './schemas';
import type { RunProgress } from '../runs/live-run';
import { secondsLeft } from '../runs/time-left';
import type { RunSummary, RunView } from './views';
import type { Window } from '../list-window';
import { windowOf } from './window';

/** What would happen now. Free and harmless. */
export const addPlan = endpointWithBody(
  planRequestSchema,
  ({ house, body: { projectId, ...request } }) => house.study({ ask: 'plan', projectId, request }),
  LARGEST_LIST_BYTES,
);

/** A window of what a plan lists: the clips of a reason, the files of a folder. */
export const listPlanRows = endpointWithBody(
  planRowsSchema,
  ({ house, body: { projectId, kind, settings, group, ...query } }) =>
    house.study({ ask: 'plan-rows', projectId, request: { kind, settings } as PlanRequest, group, query: mustBeQuery(kind, query) }),
  LARGEST_LIST_BYTES,
);

/** The plan as a text to keep, without running it: `csv` or `html`. */
export const keepPlan = endpointWithBody(
  keepPlanSchema,
  async ({ house, body: { projectId, as, ...request } }) => {
    const { json } = await house.study({ ask: 'plan-text', projectId, request, as });
    const { text } = JSON.parse(json) as { text: string };
    return new Response(text, {
      headers: {
        'content-type': as === 'csv' ? 'text/csv; charset=utf-8' : 'text/html; charset=utf-8',
        'content-disposition': `attachment; filename="${request.kind}-plan.${as}"`,
        'cache-control': 'no-store',
      },
    });
  },
  LARGEST_LIST_BYTES,
);

/** Runs the plan that was read: refused when the plan would be another one by now. */
export const addRun = endpointWithBody(
  runRequestSchema,
  async ({ house, body: { projectId, digest, ...request } }) => {
    const { runner, catalogue } = house;
    try {
      const { json } = await house.study({ ask: 'enter-run', projectId, request, digest });
      const { id } = JSON.parse(json) as { id: number };
      runner.begin(id);
      return { id };
    } catch (error) {
      // It may have been entered though the answer did not come.
      const entered = catalogue.runs.unfinishedWith(digest);
      if (entered === null || !runner.begin(entered)) throw error;
      return { id: entered };
    }
  },
  LARGEST_LIST_BYTES,
);

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
  };
}

function timeLeft(planned: number | null, bytes: number, bytesDone: number, { speed, bytesBefore, worked }: RunProgress): number | null {
  // Copies go as fast as they just went; encoders do not.
  if (planned === null) return speed ? Math.ceil((bytes - bytesDone) / speed) : null;
  const share = (part: number) => (bytes > 0 ? part / bytes : 0);
  const left = secondsLeft({ planned, share: share(bytesDone), ownShare: share(bytesDone - bytesBefore), worked });
  return left === null ? null : Math.ceil(left);
}

/** A window of the runs of a project (`?project=`) or of all, newest first. */
export const listRuns = endpoint(({ house, query }): Window<RunSummary> => {
  const { total, rows } = house.catalogue.runs.window(query.get('project'), windowOf(query, ['id']));
  return { total, rows: rows.map((run) => runSummary(house, run)) };
});

function runOf(house: House, id: string | undefined): RunRow {
  const run = /^\d{1,15}$/.test(id ?? '') ? house.catalogue.runs.get(Number(id)) : null;
  if (!run) throw notFound('run');
  return run;
}

/** The run with its receipt. `wait=end` answers when it is over. */
export const getRun = endpoint(async ({ house, params, query }): Promise<RunView> => {
  const { id } = runOf(house, params.run);
  if (query.get('wait') === 'end') await house.runner.finished(id);
  const run = runOf(house, params.run);
  const remarks = house.catalogue.runs.remarks(run.id);
  return { ...runSummary(house, run), plan: run.plan, ...remarks, troubled: remarks.troubled.map(stepView) };
});

/** A window of its journal, step by step. Looking through all of a long one is no work for this thread. */
export const listSteps = endpoint(({ house, params, query }) =>
  house.study({ ask: 'steps', runId: runOf(house, params.run).id, query: windowOf(query, ['ordinal']) }),
);

const orders = { pause: 'It is not going on.', resume: 'There is nothing to resume.', cancel: 'It is over already.' } as const;

function orderRun(what: keyof typeof orders) {
  return endpoint(({ house, params }) => {
    const run = runOf(house, params.run);
    if (!house.runner[what](run.id)) throw new Problem(409, 'not-possible', orders[what]);
  });
}

/** Its steps get their turn before those of other runs, or after them. */
export const preferRun = endpointWithBody(runPrioritySchema, ({ house, params, body }) => {
  if (!house.runner.prefer(runOf(house, params.run).id, body.priority)) throw new Problem(409, 'not-possible', orders.pause);
});

export const pauseRun = orderRun('pause');
export const resumeRun = orderRun('resume');
export const cancelRun = orderRun('cancel');
