/** Plans: the sheet, what it lists, its text, and the run that is entered by it. */
import type { Window, WindowQuery } from '../../core/lists/list-window';
import { PackedTexts } from '../catalogue/run-texts';
import { notFound, Problem } from '../errors/problem';
import { KINDS, type PlanRequest } from '../kinds/kinds';
import { planDigest } from '../kinds/make-plan';
import { planView, type PlanView } from '../kinds/plan-views';
import { claimFolder, claimOf } from '../runs/claim-folder';
import { enterRun } from '../runs/enter-run';
import type { QuestionOf } from './question';

interface Planned {
  readonly projectId: string | null;
  readonly request: PlanRequest;
}

const plan: QuestionOf<Planned, { readonly digest: string; readonly plan: PlanView }> = {
  lane: 'plan',
  namesTimelines: true,
  async answer({ plans }, { projectId, request }) {
    const made = await plans.plan(projectId, request);
    return { digest: planDigest(made), plan: planView(made) };
  },
};

type RowsAsked = Planned & { readonly projectId: string; readonly group: string; readonly query: WindowQuery<string> };

const planRows: QuestionOf<RowsAsked, Window<unknown>> = {
  lane: 'plan',
  // What was planned is there already as a rule.
  weight: 1,
  namesTimelines: true,
  async answer({ plans }, { projectId, request, group, query }) {
    const { rows } = KINDS[request.kind];
    if (!rows) throw notFound('list of this plan');
    return rows.of(await plans.listed(projectId, request), request.settings, group, query as WindowQuery<never>);
  },
};

const planText: QuestionOf<Planned & { readonly projectId: string; readonly as: 'csv' | 'html' }, { readonly text: string }> = {
  lane: 'plan',
  namesTimelines: true,
  async answer({ plans, catalogue }, { projectId, request, as }) {
    const { toKeep } = KINDS[request.kind];
    if (!toKeep) throw notFound('text of this plan');
    return { text: toKeep(await plans.plan(projectId, request), request.settings, catalogue)[as]() };
  },
};

/** A plan that was read, as a run that is about to begin; see POST /api/runs. */
const enterRunAsked: QuestionOf<Planned & { readonly digest: string; readonly actor: string }, { readonly id: number }> = {
  lane: 'plan',
  weight: 2,
  namesTimelines: true,
  changes: true,
  async answer({ plans, catalogue, mounts }, { projectId, request, digest, actor }) {
    const texts = new PackedTexts();
    const { goesByDisks } = KINDS[request.kind];
    // What nobody told the catalogue of is looked at once more.
    if (goesByDisks?.(await plans.plan(projectId, request))) plans.forget(projectId, request);
    const made = await plans.plan(projectId, request, texts.keep);
    const stop = made.findings.find(({ severity }) => severity === 'stops' || severity === 'asks');
    if (made.blocked !== null) throw new Problem('blocked', made.blocked, stop?.hint);
    if (planDigest(made) !== digest)
      throw new Problem('plan-changed', 'Things have changed since you read this plan.', 'Read the new plan, then run it.');
    const claim = claimOf(made);
    const id = enterRun(
      catalogue,
      made,
      { digest, actor, texts: texts.bySha },
      claim && ((runId) => claimFolder(claim, runId, { catalogue, mounts })),
    );
    // From now on the run is looked at: a plan of many clips takes much room.
    plans.forget(projectId, request);
    return { id };
  },
};

export const planQuestions = { plan, 'plan-rows': planRows, 'plan-text': planText, 'enter-run': enterRunAsked };
