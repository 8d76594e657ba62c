/** All a planner needs of a project, read at one moment. */
import { readTimeline } from '../../core/interchange/otio/otio-reader';
import type { OtioObject } from '../../core/interchange/otio/otio-types';
import type { ShelfSnapshot, Snapshot, TimelineSnapshot } from '../../core/planning/plan';
import type { Timeline } from '../../core/project/timeline';
import type { Catalogue } from '../catalogue/catalogue';
import type { Mounts } from '../stock/mounts';

const MOST_KEPT = 200;
/** Documents never change once brought in, so their models can be kept. */
const kept = new Map<string, { model: Timeline; document: OtioObject }>();

export async function shelfSnapshots(catalogue: Catalogue, mounts: Mounts): Promise<ShelfSnapshot[]> {
  return Promise.all(
    catalogue.shelves.list().map(async (shelf): Promise<ShelfSnapshot> => {
      const root = mounts.rootOf(shelf.id);
      if (root === null)
        return { id: shelf.id, name: shelf.name, attached: false, writable: false, capacityBytes: shelf.capacityBytes, freeBytes: shelf.freeBytes };
      const space = await mounts.space(root);
      catalogue.shelves.sawIfRoom(shelf.id, new Date().toISOString(), space.capacityBytes, space.freeBytes);
      return { id: shelf.id, name: shelf.name, attached: true, ...space };
    }),
  );
}

export function timelineSnapshots(catalogue: Catalogue, projectId: string): TimelineSnapshot[] {
  const project = catalogue.projects.get(projectId);
  if (!project) return [];
  return catalogue.timelines.ofProject(projectId).flatMap((row): TimelineSnapshot[] => {
    let entry = kept.get(row.id);
    if (!entry) {
      const document = JSON.parse(row.document) as OtioObject;
      const model = readTimeline(document, project.rate);
      if (!model) return [];
      entry = { model, document };
      if (kept.size >= MOST_KEPT) kept.delete(kept.keys().next().value!);
      kept.set(row.id, entry);
    }
    return [{ id: row.id, ...entry, ...catalogue.timelines.eventClips(row.id) }];
  });
}

/** Null when there is no such project. */
export async function takeSnapshot(catalogue: Catalogue, mounts: Mounts, projectId: string): Promise<Snapshot | null> {
  const project = catalogue.projects.get(projectId);
  if (!project) return null;
  const shelves = await shelfSnapshots(catalogue, mounts);
  return {
    project: { id: project.id, name: project.name, rate: project.rate, dropFrame: project.dropFrame },
    ...readOnce(catalogue, projectId),
    shelves,
    retiredShelves: catalogue.shelves.retired(),
  };
}

type Parts = Pick<Snapshot, 'clips' | 'timelines' | 'items'>;
/** What was read of the project asked for last, while nothing in the catalogue is another; the stock, while no item is. */
const lastRead = new WeakMap<Catalogue, { stamp: ReturnType<Catalogue['stamp']>; projectId: string; parts: Parts }>();

function readOnce(catalogue: Catalogue, projectId: string): Parts {
  const stamp = catalogue.stamp();
  const last = lastRead.get(catalogue);
  if (last?.stamp.version === stamp.version && last.projectId === projectId) return last.parts;
  const items = last?.stamp.stock === stamp.stock ? last.parts.items : catalogue.items.present();
  const parts = { clips: catalogue.clips.ofProject(projectId), timelines: timelineSnapshots(catalogue, projectId), items };
  lastRead.set(catalogue, { stamp, projectId, parts });
  return parts;
}
