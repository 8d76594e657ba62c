/** Timelines that come into a project with the files a run made. */
import type { Place } from '../../media/item';
import type { PlanText } from '../plan/plan-text';
import type { CatalogueChange, CutPart } from '../plan/step';

export interface AdoptedTimeline {
  readonly name: string;
  readonly text: PlanText;
  /** Folder of the document, so that its relative links resolve. */
  readonly folder: string;
  readonly parts?: readonly CutPart[];
}

/** Timelines that are added to the project of the run. */
export interface AdoptChange extends CatalogueChange {
  readonly type: 'adopt';
  readonly timelines: readonly AdoptedTimeline[];
  readonly base: Place;
}

/** What takes that back. */
export interface ForgetTimelines extends CatalogueChange {
  readonly type: 'forget-timelines';
  readonly timelineIds: readonly string[];
  /** Parts that lie below it are parts of no clip any more; absent in older journals. */
  readonly base?: Place;
}
