/** Whatever reads a file whole enters its checksum: proofs get better by themselves, and lost bits are seen. */
import type { FileIdentity } from '../../core/media/identity';
import { fileName, type Place } from '../../core/media/item';
import type { Catalogue } from '../catalogue/catalogue';
import type { StepRow } from '../catalogue/runs';
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

/** Checksums of the files that a run has made, once they are items. */
export async function enterMade(journal: readonly StepRow[], context: Pick<StepContext, 'catalogue' | 'change'>): Promise<void> {
  await context.change(() => context.catalogue.transaction(() => recordMade(journal, context.catalogue)));
}

/** As enterMade, in a transaction that goes on. */
export function recordMade(journal: readonly StepRow[], catalogue: Catalogue): void {
  const at = new Date().toISOString();
  const made = journal.flatMap(({ step, state, outcome }) => {
    if (state !== 'done' || step.action !== 'copy' || !step.to || !outcome?.sha256 || !outcome.identity) return [];
    return [{ place: step.to, identity: outcome.identity, sha256: outcome.sha256 }];
  });
  for (const { place, identity, sha256 } of made) catalogue.items.recordChecksum(place, identity, sha256, at);
}

/** Size and time of writing are as they were, the content is not. */
export function rotWords(name: string, at: string): string {
  return `${name} has another checksum than on ${at.slice(0, 10)}, though it was not written to since: its drive may be losing data. Compare it with a safe copy.`;
}

export function rotWordsOf(place: Place, { at }: Earlier): string {
  return rotWords(fileName(place.path), at);
}
