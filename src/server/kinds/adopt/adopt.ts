/** Timelines that a run made come into a project. Pull, unpack and the opening of a crate share it. */
import { randomUUID } from 'node:crypto';
import { readTimelineFile } from '../../../core/interchange/read-timeline-file';
import type { Place } from '../../../core/media/item';
import type { AdoptChange, AdoptedTimeline, ForgetTimelines } from '../../../core/planning/package/adopt';
import { withWholeParts } from '../../../core/planning/package/whole-parts';
import { bringIn } from '../../projects/bring-in';
import { enterMade } from '../../stock/checksums';
import { StepFailure } from '../../errors/explain-error';
import type { ChangeContext, ChangeMaker, StepContext } from '../../actions/step-context';
import { stockFolder } from '../../stock/stock-folder';
import { plural } from '../../../core/words/figures';

/** The new files must be in the stock before clips can link them. */
export async function stockAndEnter({ base }: { readonly base: Place }, context: StepContext): Promise<void> {
  await stockFolder(context.catalogue, context.places, base);
  await enterMade(context);
}

export function withoutTexts<Change extends { readonly type: string; readonly timelines: readonly AdoptedTimeline[] }>(change: Change): Change {
  return { ...change, timelines: change.timelines.map((timeline) => ({ ...timeline, text: '', parts: [] })) };
}

/** Brings the timelines in; tells those that are new apart from those that stood there. */
export function adopt(projectId: string, timelines: readonly AdoptedTimeline[], base: Place, { catalogue, places, runId }: ChangeContext) {
  const project = catalogue.projects.get(projectId)!;
  const whole = catalogue.outcomes.wholeParts(runId);
  const brought = timelines.map((timeline) => {
    const file = readTimelineFile(withWholeParts(catalogue.runTexts.text(runId, timeline.text), timeline.parts ?? [], whole), project.rate);
    const folder: Place = { shelfId: base.shelfId, path: [base.path, timeline.folder].filter((part) => part !== '').join('/') };
    return bringIn(catalogue, places, projectId, file, timeline.name, folder, randomUUID);
  });
  const madeIds = brought.flatMap((one) => one.madeIds);
  const there = brought.reduce((sum, one) => sum + one.timelineIds.length, 0) - madeIds.length;
  return {
    bytes: 0,
    checked: `${plural(madeIds.length, 'timeline')}${there > 0 ? `, ${there} here already` : ''}`,
    madeIds,
  };
}

const intoProject: ChangeMaker<AdoptChange> = {
  onDisk: { at: ({ base }) => [base], work: stockAndEnter },
  toTell: withoutTexts,
  make(change, context) {
    const projectId = context.catalogue.runs.get(context.runId)?.projectId ?? '';
    if (!context.catalogue.projects.get(projectId))
      throw new StepFailure('The project was removed meanwhile. The files that were made stay where they are.');
    const { bytes, checked, madeIds } = adopt(projectId, change.timelines, change.base, context);
    return { bytes, checked, back: { type: 'forget-timelines', timelineIds: madeIds, base: change.base } satisfies ForgetTimelines };
  },
};

const forgetTimelines: ChangeMaker<ForgetTimelines> = {
  make({ timelineIds, base }, { catalogue, runId }) {
    const projectId = catalogue.runs.get(runId)?.projectId ?? '';
    if (base) catalogue.parts.forgetParts(projectId, base);
    const { timelines } = catalogue;
    const later = timelineIds.map((id) => timelines.replacedBy(id)).find((id) => id !== null);
    if (later) throw new StepFailure(`Run ${later} exchanged a timeline of it meanwhile. Undo that one first.`);
    const now = timelines.followers(projectId);
    catalogue.clips.removeUnused(timelineIds.flatMap((id) => timelines.remove(projectId, now.get(id) ?? id)));
    return { bytes: 0, checked: `${plural(timelineIds.length, 'timeline')} taken out` };
  },
};

export const adoptChanges = { adopt: intoProject, 'forget-timelines': forgetTimelines };
