/** Somebody else's house: another catalogue, with what was handed over copied to a drive of its own. */
import { cpSync, mkdirSync, mkdtempSync, renameSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { PlanRequest } from '../../src/server/kinds/kinds';
import { makePlan } from '../../src/server/kinds/make-plan';
import { registerShelf } from '../../src/server/stock/register-shelf';
import { openHouse } from './small-house';
import { stockNow } from './take-stock';

export class Colleague {
  readonly folder = mkdtempSync(join(tmpdir(), 'mill-colleague-'));
  readonly house = openHouse(this.folder);
  readonly root = join(this.folder, 'TRAVEL');
  readonly shelfId: string;
  projectId = '';

  constructor() {
    mkdirSync(this.root);
    this.shelfId = registerShelf(this.house.catalogue, this.house.mounts, this.root).id;
  }

  /** Takes a folder in, opens it as a crate, and is in its project from then on. */
  async openCrate(folder: string, name: string): Promise<void> {
    cpSync(folder, join(this.root, name), { recursive: true });
    await stockNow(this.house, this.shelfId);
    const plan = await makePlan(this.house.catalogue, this.house.mounts, null, {
      kind: 'restore',
      settings: { crate: { shelfId: this.shelfId, path: name }, projectName: null },
    });
    const id = this.house.runner.submit(plan);
    const run = await this.house.runner.finished(id);
    if (run.state !== 'done') throw new Error(JSON.stringify(this.house.catalogue.runs.steps(id).map(({ message }) => message)));
    this.projectId = this.house.catalogue.projects.list()[0]!.id;
  }

  async run(request: PlanRequest): Promise<void> {
    const plan = await makePlan(this.house.catalogue, this.house.mounts, this.projectId, request);
    if (plan.blocked !== null) throw new Error(plan.blocked);
    await this.house.runner.finished(this.house.runner.submit(plan));
  }

  async remove(): Promise<void> {
    await this.house.close();
    rmSync(this.folder, { recursive: true, force: true });
  }
}

/** Takes a drive away, and gives what brings it back. */
export function eject(root: string): () => void {
  renameSync(root, `${root}-ejected`);
  // Its folder is no shelf as long as its marker bears another name.
  renameSync(join(`${root}-ejected`, '.mill-shelf.json'), join(`${root}-ejected`, 'marker.json'));
  return () => {
    renameSync(join(`${root}-ejected`, 'marker.json'), join(`${root}-ejected`, '.mill-shelf.json'));
    renameSync(`${root}-ejected`, root);
  };
}
