/** A timeline with the clips of its events, as the catalogue keeps it. */
import { readTimeline } from '../../core/interchange/otio/otio-reader';
import type { OtioObject } from '../../core/interchange/otio/otio-types';
import type { TimelineSnapshot } from '../../core/planning/plan/snapshot';
import { readsOf } from '../../core/project/reads';
import type { Timeline } from '../../core/project/timeline';
import type { Rate } from '../../core/time/rate';
import { sumTimelines } from '../../core/usage/timeline-sums';
import type { Catalogue } from '../catalogue/catalogue';
import { shownEvents, timelineHead } from '../catalogue/timeline-head';
import type { EventClips } from '../catalogue/timeline-reads';
import type { TimelineRow } from '../catalogue/timelines';
import { readClips, readingWish } from './reading';
import { StepFailure } from '../errors/explain-error';

export interface TimelineText {
  readonly model: Timeline;
  readonly document: OtioObject;
  /** The document as JSON. */
  readonly text: string;
}

/** A timeline whose document was changed here. */
export function readAgain(document: OtioObject, rate: Rate): TimelineText {
  const model = readTimeline(document, rate);
  if (!model) throw new StepFailure('A timeline that was read once cannot be read any more.');
  return { model, document, text: JSON.stringify(document) };
}

/** In the transaction of the caller, who keeps its figures when its clips stand too. */
export function enterTimeline(
  catalogue: Catalogue,
  projectId: string,
  row: Omit<TimelineRow, 'document'>,
  { model, document, text }: TimelineText,
  { clipIds, positions }: EventClips,
): TimelineSnapshot {
  const shown = shownEvents(model);
  const sounds = clipIds.map((_, index) => shown.get(index) ?? null);
  const reads = readsOf(model, clipIds, positions);
  catalogue.timelines.add(projectId, { ...row, document: text }, { clipIds, positions, sounds, reads, head: timelineHead(model) });
  return { id: row.id, model, document, clipIds, positions, reads };
}

/** What lists tell of new timelines is summed up while they are at hand. */
export function keepFigures(catalogue: Catalogue, projectId: string, timelines: readonly TimelineSnapshot[]): void {
  const project = catalogue.projects.get(projectId);
  if (!project || timelines.length === 0) return;
  const used = [...new Set(timelines.flatMap(({ clipIds }) => clipIds.filter((id) => id !== null)))];
  // Figures hold whatever is plugged in.
  const read = readClips(catalogue, projectId, readingWish(catalogue, project), () => true, used);
  const snapshot = { project, ...read, timelines, shelves: [] };
  sumTimelines(snapshot, timelines).forEach((sums, id) => catalogue.timelines.putFigures(id, sums));
}
