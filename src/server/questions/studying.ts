/** What every question is answered from: one catalogue, where its shelves stand, and what was made last. */
import type { Snapshot } from '../../core/planning/plan/snapshot';
import type { UsageReport } from '../../core/usage/usage-report';
import type { Catalogue } from '../catalogue/catalogue';
import { LastMade } from '../catalogue/last-made';
import type { ProjectRow } from '../catalogue/projects';
import type { DriveBay } from '../devices/drive-bay';
import { notFound } from '../errors/problem';
import type { ProjectLines } from '../projects/project-lines';
import { lookAt, partsStamp } from '../projects/snapshot';
import type { Mounts } from '../stock/mounts';
import { KeptPlans } from './kept-plans';

export abstract class Studying {
  /** Reports that lists are windows of. */
  readonly reports = new LastMade<UsageReport>(2);
  readonly plans: KeptPlans;

  constructor(
    readonly catalogue: Catalogue,
    readonly mounts: Mounts,
    readonly bay: DriveBay | null = null,
  ) {
    this.plans = new KeptPlans(catalogue, mounts);
  }

  /** The answer to another question, as it was told before where nothing is another. */
  abstract answerJson(question: { readonly ask: 'head'; readonly projectId: string }): Promise<string>;

  /** Whatever views of a project are made of. */
  readonly madeOf = (projectId: string): string => {
    const { catalogue, mounts } = this;
    const attached = catalogue.shelves.list().map(({ id }) => `${id} ${mounts.rootOf(id) !== null}`);
    const crates = catalogue.crates.shelvesOf(projectId).map((id) => `${id} ${catalogue.stamp(id)}`);
    return [partsStamp(catalogue, projectId), catalogue.stamp(`words ${projectId}`), ...crates, ...attached].join();
  };

  /** Like `madeOf`, and changes with every item of every shelf too. */
  madeOfAllStock(projectId: string): string {
    const stock = this.catalogue.shelves.list().map(({ id }) => this.catalogue.stamp(id));
    return [this.madeOf(projectId), ...stock].join();
  }

  /** A project as it is at this moment. Throws Problem for one that is not there. */
  readonly look = async <T>(projectId: string, view: (snapshot: Snapshot, project: ProjectRow, lines: () => ProjectLines) => T): Promise<T> => {
    const seen = await lookAt(this.catalogue, this.mounts, projectId, (snapshot, lines) => ({
      view: view(snapshot, this.catalogue.projects.get(projectId)!, lines),
    }));
    if (!seen) throw notFound('project');
    return seen.view;
  };
}
