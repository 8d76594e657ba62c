import type { RenditionKind } from '../../rendition/read-order';
import type { CatalogueChange, EncodeStep } from '../plan/step';

/** What takes made renditions back: they are linked no more. */
export interface RenditionsAway extends CatalogueChange {
  readonly type: 'renditions-away';
  readonly renditionIds: readonly string[];
}

/** Of the renditions that a step links: the same however often it is tried. */
export function madeIds({ clips }: EncodeStep, { runId, ordinal }: { readonly runId: number; readonly ordinal: number }): string[] {
  return clips.map((_, index) => `made-${runId}-${ordinal}-${index}`);
}

/** What a clip's rendition is called where a run is about to make it. */
export function beingMadeKey(kind: RenditionKind, clipId: string): string {
  return `${kind} ${clipId}`;
}
