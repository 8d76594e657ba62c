/** The bins of a project, and how many clips lie in each. */
import { allBins, isInside } from '../../core/project/bins';
import type { BinsView } from './views/bins';
import type { Catalogue } from '../catalogue/catalogue';
import type { ProjectLines } from './project-lines';

export function binViews(catalogue: Catalogue, projectId: string, { clips }: ProjectLines): BinsView {
  const used = catalogue.timelines.clipsOn(projectId);
  const count = (of: typeof clips) => {
    const counts = new Map<string, number>();
    for (const { binPath } of of) counts.set(binPath, (counts.get(binPath) ?? 0) + 1);
    return counts;
  };
  const own = count(clips);
  const idle = clips.filter(({ id }) => !used.has(id));
  const unused = [...count(idle)];
  const { undo, redo } = catalogue.bins.next(projectId);
  return {
    bins: allBins({ bins: catalogue.bins.ofProject(projectId), clips }).map((bin) => ({
      ...bin,
      clips: own.get(bin.path) ?? 0,
      unused: unused.reduce((sum, [path, clipsThere]) => sum + (isInside(path, bin.path) ? clipsThere : 0), 0),
    })),
    clips: clips.length,
    unused: idle.length,
    undo: undo?.title ?? null,
    redo: redo?.title ?? null,
  };
}
