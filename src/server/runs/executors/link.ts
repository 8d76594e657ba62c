import { randomUUID } from 'node:crypto';
import { samePlace, type Place } from '../../../core/media/item';
import type { AdoptedTimeline, LinkChange, LinkStep } from '../../../core/planning/plan';
import { readTimelineFile } from '../../../core/interchange/read-timeline-file';
import { bringIn } from '../../projects/bring-in';
import { stockFolder } from '../../stock/stock-folder';
import { StepFailure } from '../explain-error';
import type { Executor, StepContext } from '../step-context';
import { madeFiles } from './write';

/** Changes of the catalogue; each leaves behind the change that takes it back. */
export const changeCatalogue: Executor<LinkStep> = async (step, context) => {
  const { change } = step;
  switch (change.type) {
    case 'relink':
      return relink(step, change, context);
    case 'adopt': {
      const project = context.catalogue.projects.get(context.catalogue.runs.get(context.runId)?.projectId ?? '');
      if (!project) throw new StepFailure('The project was removed meanwhile. The files that were made stay where they are.');
      await stockFolder(context.catalogue, context.mounts, change.base);
      const timelineIds = adopt(project.id, change.timelines, change.base, context);
      return { bytes: 0, checked: `${timelineIds.length} timelines`, back: { type: 'forget-timelines', timelineIds } satisfies LinkChange };
    }
    case 'open-crate': {
      const { catalogue } = context;
      if (!catalogue.projects.get(change.projectId)) {
        catalogue.projects.add({
          id: change.projectId,
          name: change.name,
          rate: change.rate,
          dropFrame: change.dropFrame,
          createdAt: new Date().toISOString(),
        });
      }
      catalogue.runs.setProject(context.runId, change.projectId);
      await stockFolder(catalogue, context.mounts, change.base);
      const timelineIds = adopt(change.projectId, change.timelines, change.base, context);
      return { bytes: 0, checked: `${timelineIds.length} timelines` };
    }
    case 'record-crate': {
      const files = madeFiles(context.journal(), change.root.path, () => '');
      const projectId = context.catalogue.runs.get(context.runId)?.projectId ?? null;
      const bytes = files.reduce((sum, file) => sum + file.bytes, 0);
      context.catalogue.crates.add({
        id: change.crateId,
        projectId,
        runId: context.runId,
        name: change.name,
        place: change.root,
        files: files.length,
        bytes,
        madeAt: new Date().toISOString(),
      });
      return { bytes: 0, checked: `${files.length} files`, back: { type: 'forget-crate', crateId: change.crateId } satisfies LinkChange };
    }
    case 'forget-timelines': {
      const projectId = context.catalogue.runs.get(context.runId)?.projectId ?? '';
      context.catalogue.transaction(() => {
        const used = change.timelineIds.flatMap((id) => context.catalogue.timelines.remove(projectId, id));
        context.catalogue.clips.removeUnused(used);
      });
      return { bytes: 0, checked: `${change.timelineIds.length} timelines taken out` };
    }
    case 'forget-crate':
      context.catalogue.crates.remove(change.crateId);
      return { bytes: 0, checked: 'taken out of the list' };
    case 'mark-undone':
      context.catalogue.runs.markUndone(change.runId, context.runId);
      return { bytes: 0, checked: `run ${change.runId}` };
  }
};

function relink(step: LinkStep, change: Extract<LinkChange, { type: 'relink' }>, { catalogue }: StepContext) {
  if (step.mustHold && change.link.place) {
    const item = catalogue.items.at(change.link.place);
    if (!item || item.sizeBytes !== step.mustHold.sizeBytes || item.modifiedMs !== step.mustHold.modifiedMs)
      throw new StepFailure('The file found was changed or moved after the plan was made. Look again.');
  }
  const old = catalogue.clips.relink(change.renditionId, change.position, change.link);
  if (!old) throw new StepFailure('The clip was taken out of the project meanwhile.');
  const checked = samePlace(old.place, change.link.place) ? 'the same place, another file accepted' : 'in and out points untouched';
  return { bytes: 0, checked, back: { ...change, link: old } satisfies LinkChange };
}

function adopt(projectId: string, timelines: readonly AdoptedTimeline[], base: Place, context: StepContext): string[] {
  const project = context.catalogue.projects.get(projectId)!;
  return timelines.flatMap((timeline) => {
    const file = readTimelineFile(timeline.text, project.rate);
    const folder: Place = { shelfId: base.shelfId, path: [base.path, timeline.folder].filter((part) => part !== '').join('/') };
    return bringIn(context.catalogue, context.mounts, projectId, file, timeline.name, folder, randomUUID).timelineIds;
  });
}
