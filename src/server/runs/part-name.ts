import { dirname, join } from 'node:path';
import type { Catalogue } from '../catalogue/catalogue';

/** Half-made files stand beside their destination under a name that says so; stocktakes pass over them. */
export const PART_SUFFIX = '.mill-part';

/**
 * Name of the half-made file of a step: the same after a crash, so that it can be found and removed, and another for
 * another catalogue that writes to the same shelf.
 */
export function partName(catalogueId: string, runId: number, ordinal: number): string {
  return `.${catalogueId}-run${runId}-${ordinal}${PART_SUFFIX}`;
}

/** Where the half-made file of a step stands that makes `target`. */
export function partPath(
  target: string,
  step: { readonly catalogue: Pick<Catalogue, 'id'>; readonly runId: number; readonly ordinal: number },
): string {
  return join(dirname(target), partName(step.catalogue.id, step.runId, step.ordinal));
}
