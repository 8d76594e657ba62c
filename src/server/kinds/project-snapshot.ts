/** What planners get to know of a project that is read whole. */
import { placeKey } from '../../core/media/item';
import type { Snapshot } from '../../core/planning/plan/snapshot';
import type { Catalogue } from '../catalogue/catalogue';
import { takeSnapshot } from '../projects/snapshot';
import { type PlanContext } from './kind';
import { PlanRequestError } from '../errors/problem';

/** `timelineIds`: must be the project's own. Rejects with PlanRequestError. */
export async function projectSnapshot({ catalogue, mounts, projectId }: PlanContext, timelineIds: readonly string[] = []): Promise<Snapshot> {
  const taken = projectId ? await takeSnapshot(catalogue, mounts, projectId) : null;
  if (!taken) throw noProject();
  const own = new Set(taken.timelines.map(({ id }) => id));
  if (!timelineIds.every((id) => own.has(id)))
    throw new PlanRequestError('One of the timelines is not in this project any more. Choose among those that are.');
  return { ...taken, frames: framesOfLinked(catalogue, taken) };
}

export function noProject(): PlanRequestError {
  return new PlanRequestError('There is no such project.');
}

/** What is known of each frame of the sequences that the project links. */
function framesOfLinked(catalogue: Catalogue, snapshot: Snapshot): Map<string, readonly string[]> {
  const links = snapshot.clips.flatMap((clip) => clip.renditions.flatMap((rendition) => rendition.links));
  const linked = new Set(links.flatMap((link) => (link.place ? [placeKey(link.place)] : [])));
  const sequences = snapshot.items.filter((item) => item.facts.kind === 'sequence' && linked.has(placeKey(item.place)));
  return catalogue.items.framesOf(sequences.map((item) => item.id));
}
