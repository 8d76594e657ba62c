/** Whatever reads a file whole enters its checksum: proofs get better by themselves, and lost bits are seen. */
import { setImmediate as nextTurn } from 'node:timers/promises';
import type { FileIdentity } from '../../core/media/identity';
import { fileName, type Place } from '../../core/media/item';
import type { Catalogue } from '../catalogue/catalogue';
import type { MadeCopy } from '../catalogue/run-outcomes';
import type { StepContext } from './step-context';

export type Earlier = { readonly sha256: string; readonly at: string };

/** Gives the checksum that was known of the file in this very state, where it was another. */
export async function enterChecksum(
  place: Place,
  identity: FileIdentity,
  sha256: string,
  { catalogue, change }: Pick<StepContext, 'catalogue' | 'change'>,
): Promise<Earlier | null> {
  let was: Earlier | null = null;
  await change(() => (was = catalogue.items.recordChecksum(place, identity, sha256, new Date().toISOString())));
  return was;
}

/** Of so many files at once: others have their turn between. */
const BATCH = 250;

/** Checksums of the files that a run has made, once they are items. */
export async function enterMade({ catalogue, change, runId }: Pick<StepContext, 'catalogue' | 'change' | 'runId'>): Promise<void> {
  for (let after = -1; ;) {
    const made = catalogue.outcomes.copiesAfter(runId, after, BATCH);
    if (made.length === 0) return;
    await change(() => catalogue.transaction(() => recordCopies(made, catalogue)));
    after = made.at(-1)!.ordinal;
    await nextTurn();
  }
}

/** As enterMade, in a transaction that goes on. */
export function recordMade(runId: number, catalogue: Catalogue): void {
  recordCopies(catalogue.outcomes.copiesAfter(runId, -1, Number.MAX_SAFE_INTEGER), catalogue);
}

function recordCopies(made: readonly MadeCopy[], catalogue: Catalogue): void {
  const at = new Date().toISOString();
  for (const { place, identity, sha256 } of made) if (place && identity && sha256) catalogue.items.recordChecksum(place, identity, sha256, at);
}

/** Size and time of writing are as they were, the content is not. */
export function rotWords(name: string, at: string): string {
  return `${name} has another checksum than on ${at.slice(0, 10)}, though it was not written to since: its drive may be losing data. Compare it with a safe copy.`;
}

export function rotWordsOf(place: Place, { at }: Earlier): string {
  return rotWords(fileName(place.path), at);
}
