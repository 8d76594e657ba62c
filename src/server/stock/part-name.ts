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

/** Whether a name is that of a half-made file which another catalogue makes. */
export function isOfAnother(name: string, catalogueId: string): boolean {
  return /^\..+-run\d+-\d+/.test(name) && name.endsWith(PART_SUFFIX) && !name.startsWith(`.${catalogueId}-run`);
}

interface StepAt {
  readonly catalogue: Pick<Catalogue, 'id'>;
  readonly runId: number;
  readonly ordinal: number;
}

/** Where a step leaves what it has written for the step after it, which makes `target`; of frames a folder. */
export function twinPath(target: string, { catalogue, runId, ordinal }: StepAt): string {
  return join(dirname(target), `.${catalogue.id}-run${runId}-${ordinal}-twin${PART_SUFFIX}`);
}

/** Where the half-made file of a step stands that makes `target`. */
export function partPath(target: string, step: StepAt): string {
  return join(dirname(target), partName(step.catalogue.id, step.runId, step.ordinal));
}
