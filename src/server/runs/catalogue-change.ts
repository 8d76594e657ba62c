/**
 * Changes of the catalogue, each all or nothing together with its entry in the journal: after a crash it was either
 * made and can be taken back, or it was not made. Each leaves behind the change that takes it back.
 */
import { randomUUID } from 'node:crypto';
import { fileName, samePlace, type Place } from '../../core/media/item';
import { isUntouched } from '../../core/media/identity';
import { withWholeParts } from '../../core/planning/whole-parts';
import type { AdoptedTimeline, LinkChange, LinkStep } from '../../core/planning/plan';
import type { MediaLink } from '../../core/project/clip';
import { readTimelineFile } from '../../core/interchange/read-timeline-file';
import type { Catalogue } from '../catalogue/catalogue';
import type { StepOutcome, StepRow } from '../catalogue/runs';
import { bringIn } from '../projects/bring-in';
import type { Places } from '../stock/mounts';
import { StepFailure } from './explain-error';
import { madeFiles, wholeParts } from './made-files';

type Change<Type extends LinkChange['type']> = Extract<LinkChange, { type: Type }>;

export interface ChangeContext {
  readonly catalogue: Catalogue;
  readonly places: Pick<Places, 'rootOf'>;
  readonly runId: number;
  /** The run's journal as it stands. */
  journal(): StepRow[];
}

/** Makes the change and journals it, in one transaction. Throws StepFailure where it cannot be made. */
export function changeCatalogue(row: StepRow, context: ChangeContext): StepOutcome {
  const { catalogue, runId } = context;
  return catalogue.transaction(() => {
    const outcome = makeChange(row.step as LinkStep, context);
    catalogue.runs.finish(runId, row.ordinal, outcome, new Date().toISOString());
    return outcome;
  });
}

/** Several that do not stand on each other, in one transaction; those that cannot be made fail by themselves. */
export function changeMany(rows: readonly StepRow[], context: ChangeContext): void {
  const { catalogue, runId } = context;
  const { runs } = catalogue;
  catalogue.transaction(() => {
    for (const row of rows) {
      try {
        runs.finish(runId, row.ordinal, makeChange(row.step as LinkStep, context), new Date().toISOString());
      } catch (error) {
        if (!(error instanceof StepFailure)) throw error;
        runs.fail(runId, row.ordinal, 'failed', error.message, new Date().toISOString());
      }
    }
  });
}

function makeChange(step: LinkStep, context: ChangeContext): StepOutcome {
  const { change } = step;
  switch (change.type) {
    case 'relink':
      return relink(step, change, context);
    case 'adopt':
      return adoptIntoProject(change, context);
    case 'open-crate':
      return openCrate(change, context);
    case 'record-crate':
      return recordCrate(change, context);
    case 'forget-timelines':
      return forgetTimelines(change, context);
    case 'forget-crate':
      context.catalogue.crates.remove(change.crateId);
      return { bytes: 0, checked: 'taken out of the list' };
    case 'mark-undone':
      context.catalogue.runs.markUndone(change.runId, context.runId);
      return { bytes: 0, checked: `run ${change.runId}` };
  }
}

function relink(step: LinkStep, change: Change<'relink'>, { catalogue }: ChangeContext): StepOutcome {
  const { mustHold } = step;
  if (mustHold && change.link.place) {
    const item = catalogue.items.at(change.link.place);
    const same = item && item.sizeBytes === mustHold.sizeBytes && item.modifiedMs === mustHold.modifiedMs;
    const untouched =
      !item?.identity || !mustHold.identity || isUntouched(item.identity, mustHold.identity) || item.fingerprint === mustHold.fingerprint;
    if (!same || !untouched) throw new StepFailure('The file found was changed or moved after the plan was made. Look again.');
  }
  mustBeCopies(change.equalTo ?? [], catalogue);
  const now = catalogue.clips.linkAt(change.renditionId, change.position);
  if (!now) throw new StepFailure('The clip was taken out of the project meanwhile.');
  if (isSameLink(now, change.link)) return { bytes: 0, checked: 'linked so already' };
  if (change.only && !isSameLink(now, change.only)) {
    if (change.leaveIfChanged) return { bytes: 0, checked: 'relinked again since; left as it is' };
    throw new StepFailure('The clip was relinked after the plan was made. Look again.');
  }
  catalogue.clips.relink(change.renditionId, change.position, change.link);
  const checked = samePlace(now.place, change.link.place) ? 'the same place, another file accepted' : 'in and out points untouched';
  return { bytes: 0, checked, back: { ...change, link: now, only: change.link, leaveIfChanged: true } satisfies LinkChange };
}

/** Files of one fingerprint: only their checksums tell whether they are copies of each other. */
function mustBeCopies(places: readonly Place[], catalogue: Catalogue): void {
  const read = places.map((place) => ({ name: fileName(place.path), sha256: catalogue.items.at(place)?.sha256 ?? null }));
  const unread = read.find(({ sha256 }) => sha256 === null);
  if (unread) throw new StepFailure(`${unread.name} could not be read whole, so it is not proven to be the file. Choose it yourself, or look again.`);
  if (new Set(read.map(({ sha256 }) => sha256)).size > 1)
    throw new StepFailure('Files of one size and fingerprint turned out to be different. Look again and choose the right one yourself.');
}

function isSameLink(a: MediaLink, b: MediaLink): boolean {
  return (
    (samePlace(a.place, b.place) || (a.place === null && b.place === null)) && a.url === b.url && a.expected.fingerprint === b.expected.fingerprint
  );
}

function adoptIntoProject(change: Change<'adopt'>, context: ChangeContext): StepOutcome {
  const projectId = context.catalogue.runs.get(context.runId)?.projectId ?? '';
  if (!context.catalogue.projects.get(projectId))
    throw new StepFailure('The project was removed meanwhile. The files that were made stay where they are.');
  const { bytes, checked, madeIds } = adopt(projectId, change.timelines, change.base, context);
  return { bytes, checked, back: { type: 'forget-timelines', timelineIds: madeIds } satisfies LinkChange };
}

function openCrate(change: Change<'open-crate'>, context: ChangeContext): StepOutcome {
  const { catalogue, runId } = context;
  const { projectId: id, name, rate, dropFrame } = change;
  const standing = catalogue.projects.get(id);
  if (standing && catalogue.runs.get(runId)?.projectId !== id)
    throw new StepFailure('This crate was opened as a project by another run meanwhile. Look at the list of projects, or make a new plan.');
  if (!standing) catalogue.projects.add({ id, name, rate, dropFrame, createdAt: new Date().toISOString() });
  catalogue.runs.setProject(runId, id);
  const { bytes, checked } = adopt(id, change.timelines, change.base, context);
  return { bytes, checked };
}

/** Brings the timelines in; tells those that are new apart from those that stood there. */
function adopt(projectId: string, timelines: readonly AdoptedTimeline[], base: Place, context: ChangeContext) {
  const project = context.catalogue.projects.get(projectId)!;
  const whole = wholeParts(context.journal());
  const brought = timelines.map((timeline) => {
    const file = readTimelineFile(withWholeParts(timeline.text, timeline.parts ?? [], whole), project.rate);
    const folder: Place = { shelfId: base.shelfId, path: [base.path, timeline.folder].filter((part) => part !== '').join('/') };
    return bringIn(context.catalogue, context.places, projectId, file, timeline.name, folder, randomUUID);
  });
  const madeIds = brought.flatMap((one) => one.madeIds);
  const there = brought.reduce((sum, one) => sum + one.timelineIds.length, 0) - madeIds.length;
  return {
    bytes: 0,
    checked: `${madeIds.length === 1 ? '1 timeline' : `${madeIds.length} timelines`}${there > 0 ? `, ${there} here already` : ''}`,
    madeIds,
  };
}

function recordCrate(change: Change<'record-crate'>, context: ChangeContext): StepOutcome {
  const files = madeFiles(context.journal(), change.root.path, () => '');
  context.catalogue.crates.add({
    id: change.crateId,
    projectId: context.catalogue.runs.get(context.runId)?.projectId ?? null,
    runId: context.runId,
    name: change.name,
    place: change.root,
    holds: change.holds ?? null,
    files: files.length,
    bytes: files.reduce((sum, file) => sum + file.bytes, 0),
    madeAt: new Date().toISOString(),
  });
  return { bytes: 0, checked: `${files.length} files`, back: { type: 'forget-crate', crateId: change.crateId } satisfies LinkChange };
}

function forgetTimelines(change: Change<'forget-timelines'>, { catalogue, runId }: ChangeContext): StepOutcome {
  const projectId = catalogue.runs.get(runId)?.projectId ?? '';
  catalogue.clips.removeUnused(change.timelineIds.flatMap((id) => catalogue.timelines.remove(projectId, id)));
  return { bytes: 0, checked: `${change.timelineIds.length === 1 ? '1 timeline' : `${change.timelineIds.length} timelines`} taken out` };
}
