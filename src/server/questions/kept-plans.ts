/** Plans that were made last: the sheet, its rows and its run are about one. */
import type { Plan } from '../../core/planning/plan/plan';
import { asItIs } from '../../core/planning/plan/plan-text';
import { longTexts } from '../../core/planning/plan/texts-apart';
import type { Catalogue } from '../catalogue/catalogue';
import { LastMade } from '../catalogue/last-made';
import { nameText } from '../catalogue/run-texts';
import { KINDS, type PlanRequest } from '../kinds/kinds';
import { makePlan } from '../kinds/make-plan';
import type { Mounts } from '../stock/mounts';

type Kept = LastMade<Promise<Plan>>;

export class KeptPlans {
  private readonly plans: Kept = new LastMade(1);
  /** Plans that go by the disks too, without their steps: what their sheets list is the same while the catalogue is. */
  private readonly lists: Kept = new LastMade(1);

  constructor(
    private readonly catalogue: Catalogue,
    private readonly mounts: Mounts,
  ) {}

  /**
   * A plan that goes by the catalogue alone is made once for its sheet, its rows and its run, while nothing there is
   * another. One that looks at the disks is made anew for its sheet and its run: who looks at it needs no texts, they are
   * known by their SHA-256.
   */
  plan(projectId: string | null, request: PlanRequest, keepText = longTexts(nameText)): Promise<Plan> {
    const make = (keep = keepText) => makePlan(this.catalogue, this.mounts, projectId, request, keep);
    const { isKept, rows } = KINDS[request.kind];
    if (projectId === null) return make();
    if (isKept) return this.made(this.plans, projectId, request, () => make(asItIs));
    if (!rows) return make();
    this.lists.forget(keyOf(projectId, request));
    return new Promise((resolve) => {
      // Who asks hears of a failure by the plan itself.
      this.made(this.lists, projectId, request, () => {
        const made = make();
        resolve(made);
        return made.then(withoutSteps);
      }).catch(() => undefined);
    });
  }

  /** The plan as far as lists go by it. */
  listed(projectId: string, request: PlanRequest): Promise<Plan> {
    if (KINDS[request.kind].isKept) return this.plan(projectId, request);
    return this.made(this.lists, projectId, request, async () =>
      withoutSteps(await makePlan(this.catalogue, this.mounts, projectId, request, longTexts(nameText))),
    );
  }

  forget(projectId: string | null, request: PlanRequest): void {
    this.plans.forget(keyOf(projectId, request));
  }

  private made(kept: Kept, projectId: string, request: PlanRequest, make: () => Promise<Plan>): Promise<Plan> {
    const key = keyOf(projectId, request);
    return kept.of(key, this.madeOfHouse(), make).catch((error: unknown) => {
      kept.forget(key);
      throw error;
    });
  }

  /** All that a plan may read, of whatever project, shelf or run: no kind says by hand what it goes by. */
  private madeOfHouse(): string {
    const { catalogue, mounts } = this;
    return [catalogue.state(), ...catalogue.shelves.list().map(({ id }) => `${id} ${mounts.rootOf(id) !== null}`)].join();
  }
}

/** The texts of timelines lie in the steps. */
function withoutSteps(plan: Plan): Plan {
  return { ...plan, steps: [] };
}

function keyOf(projectId: string | null, request: PlanRequest): string {
  return JSON.stringify([projectId, request]);
}
