/** Media as an export packs it, and what is said of media that is not there. */
import { fewNames, oneOrMany } from '../../words/figures';
import { schemaName, type OtioObject } from '../../interchange/otio/otio-types';
import { unpackIdentity } from '../../media/identity';
import { folderOf, type Item } from '../../media/item';
import { warns, type Finding } from '../../words/finding';
import { framesOf } from '../package/package-layout';
import type { GuardedSequence, Precondition } from '../plan/step';

/** Names of a sequence's frames that stand on the disk; a single null for a file. */
export function entriesOf(item: Item): readonly (string | null)[] {
  return item.facts.sequence ? framesOf(item.facts.sequence, null).names : [null];
}

export function guardedSequence(item: Item): GuardedSequence[] {
  const { sequence } = item.facts;
  return sequence
    ? [{ folder: { shelfId: item.place.shelfId, path: folderOf(item.place.path) }, facts: sequence, fingerprint: item.fingerprint }]
    : [];
}

export function frameCondition(packed: string | undefined): Precondition | null {
  if (packed === undefined) return null;
  const identity = unpackIdentity(packed);
  return { sizeBytes: identity.sizeBytes, modifiedMs: Number(BigInt(identity.modifiedNs) / 1_000_000n), identity };
}

export function isMedia(reference: OtioObject): boolean {
  return ['ExternalReference', 'ImageSequenceReference'].includes(schemaName(reference));
}

export function offline(names: readonly string[], hint: string): Finding {
  const unique = [...new Set(names)];
  const list = fewNames(unique);
  return warns('media-offline', `${list} ${oneOrMany(unique.length, 'is', 'are')} offline.`, hint);
}
