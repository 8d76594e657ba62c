/** On what ground a file is taken for the one that is looked for: only where it cannot be wrong. */
import { canProve, comparePrints, isOfEveryByte, readPrint } from '../../media/fingerprint';
import type { Item } from '../../media/item';
import type { Expected } from '../../project/clip';

/** A file that has, or had, a fingerprint: all that are known, gone ones included. */
export interface Sharer {
  readonly itemId: string;
  readonly isGone: boolean;
  readonly sizeBytes: number;
  /** Time of writing, nanoseconds; null where it is not known. */
  readonly modifiedNs: string | null;
  /** Checksum of every byte, where the file was ever read whole. */
  readonly sha256: string | null;
  /** Since when it is known (ISO 8601); and of one that is gone, when it was seen last. Null where it is not known. */
  readonly knownAt: string | null;
  readonly seenAt: string | null;
}

/**
 * `proven`: it is the same content, on this ground; `shared`: other files that stand there have the same fingerprint, and
 * only reading all of them tells whether they are copies; `open`: nothing proves it.
 */
export type Proof = { readonly is: 'proven'; readonly ground: string } | { readonly is: 'shared' } | { readonly is: 'open' };

export function proofOf(expected: Expected, item: Item, sharers: readonly Sharer[]): Proof {
  const [own, wanted] = [item.sha256 ?? null, expected.sha256 ?? null];
  if (own !== null && wanted !== null) return own === wanted ? { is: 'proven', ground: 'full checksum' } : { is: 'open' };
  const print = item.fingerprint;
  if (print === null || comparePrints(expected.fingerprint, print) !== true || !canProve(print, item.facts.kind === 'sequence'))
    return { is: 'open' };
  if (isOfEveryByte(print)) return { is: 'proven', ground: 'every byte' };
  const knownAt = sharers.find((sharer) => sharer.itemId === item.id)?.knownAt ?? '';
  const others = sharers.filter((sharer) => sharer.itemId !== item.id && !isSameContent(sharer, item, knownAt));
  if (others.some((sharer) => sharer.isGone || isOther(sharer, item))) return { is: 'open' };
  return others.length > 0 ? { is: 'shared' } : { is: 'proven', ground: `${tellingWords(print)}, unique` };
}

/**
 * Known to be the same: by every byte, or the very file before it was moved, with its time of writing. Two that were seen
 * at one time (`knownAt`: since when the item is) are two files, whatever their times say: some file systems keep whole seconds.
 */
function isSameContent(sharer: Sharer, item: Item, knownAt: string): boolean {
  if (sharer.sha256 !== null && item.sha256) return sharer.sha256 === item.sha256;
  if (!sharer.isGone || knownAt <= (sharer.seenAt ?? '')) return false;
  return sharer.sizeBytes === item.sizeBytes && sharer.modifiedNs !== null && sharer.modifiedNs === (item.identity?.modifiedNs ?? null);
}

/** Known to be another content under the same fingerprint: that proves nothing any more. */
function isOther(sharer: Sharer, item: Item): boolean {
  return sharer.sha256 !== null && !!item.sha256 && sharer.sha256 !== item.sha256;
}

/** What of a file was looked at for its fingerprint. */
export function tellingWords(print: string): string {
  const read = readPrint(print);
  if (!read) return 'an earlier way';
  if (read.telling === 'all') return 'every byte';
  const { informative, samples } = read.telling;
  const what = read.kind === '2' ? 'samples' : 'frames';
  return informative === samples ? `${samples} ${what}` : `${informative} telling of ${samples} ${what}`;
}
