/** Whatever reads a file whole enters its checksum: proofs get better by themselves, and lost bits are seen. */
import { setImmediate as nextTurn } from 'node:timers/promises';
import type { FileIdentity } from '../../core/media/identity';
import { createHash } from 'node:crypto';
import { frameName, presentNumbers, sequenceName } from '../../core/media/image-sequence';
import { below, fileName, folderOf, joinPath, type Place, type SequenceFacts } from '../../core/media/item';
import type { Catalogue } from '../catalogue/catalogue';
import type { MadeCopy } from '../catalogue/run-outcomes';

/** Who writes to the catalogue, waiting while its disk has no room. */
export interface Entering {
  readonly catalogue: Catalogue;
  readonly change: (work: () => void) => Promise<void>;
}

export type Earlier = { readonly sha256: string; readonly at: string };

/** Gives the checksum that was known of the file in this very state, where it was another. */
export async function enterChecksum(place: Place, identity: FileIdentity, sha256: string, { catalogue, change }: Entering): Promise<Earlier | null> {
  let was: Earlier | null = null;
  await change(() => (was = catalogue.items.recordChecksum(place, identity, sha256, new Date().toISOString())));
  return was;
}

/** Of so many files at once: others have their turn between. */
const BATCH = 250;

/** Checksums of the files that a run has made, once they are items. */
export async function enterMade({ catalogue, change, runId }: Entering & { readonly runId: number }): Promise<void> {
  for (let after = -1; ;) {
    const made = catalogue.outcomes.copiesAfter(runId, after, BATCH);
    if (made.length === 0) break;
    await change(() => catalogue.transaction(() => recordCopies(made, catalogue)));
    after = made.at(-1)!.ordinal;
    await nextTurn();
  }
  await change(() => catalogue.transaction(() => recordFrames(runId, catalogue)));
}

/** Like `enterMade`, in a transaction that goes on. */
export function recordMade(runId: number, catalogue: Catalogue): void {
  recordCopies(catalogue.outcomes.copiesAfter(runId, -1, Number.MAX_SAFE_INTEGER), catalogue);
  recordFrames(runId, catalogue);
}

/** A sequence of which every frame was copied, and its copy: both hold the same from then on. */
function recordFrames(runId: number, catalogue: Catalogue): void {
  for (const { step, files } of catalogue.outcomes.framesCopied(runId)) {
    const { sequence } = step;
    const isAll = step.names.length === presentNumbers(sequence).length && files.length === step.names.length;
    if (!isAll || files.some(({ sha256 }) => !sha256)) continue;
    const { firstNumber, lastNumber } = sequence;
    const sum = framesSum(sequence, files.map(({ sha256 }) => sha256)); // prettier-ignore
    const source = catalogue.items.at(below(step.from!, sequenceName(sequence)));
    const same = (facts: SequenceFacts | null) => facts?.firstNumber === firstNumber && facts.lastNumber === lastNumber;
    const copies = catalogue.items.sequencesIn(step.to!).filter(({ facts }) => same(facts.sequence));
    for (const item of [...(source ? [source] : []), ...copies]) catalogue.items.recordFrames(item.place, sum);
  }
}

/** What the checksums of all frames of a sequence make, in the order of their numbers. */
export function framesSum({ firstNumber, lastNumber, missingRuns }: SequenceFacts, sums: readonly string[]): string {
  return `frames ${createHash('sha256')
    .update(JSON.stringify([firstNumber, lastNumber, missingRuns, sums]))
    .digest('hex')}`;
}

/**
 * Enters what all frames of a sequence hold, for those below a folder of which every frame was read. `sums`: checksum of each file by its
 * path on the shelf. Gives where the stock lists what was read: files, and such sequences.
 */
export function recordSequences(root: Place, sums: ReadonlyMap<string, string>, catalogue: Catalogue): string[] {
  const listed: string[] = [];
  for (const { item } of catalogue.items.knownOn(root.shelfId, root.path)) {
    const { sequence } = item.facts;
    if (!sequence && sums.has(item.place.path)) listed.push(item.place.path);
    if (!sequence) continue;
    const folder = folderOf(item.place.path);
    const own = presentNumbers(sequence).map((number) => sums.get(joinPath(folder, frameName(sequence, number))));
    if (!own.every((sum) => sum !== undefined)) continue;
    catalogue.items.recordFrames(item.place, framesSum(sequence, own));
    listed.push(item.place.path);
  }
  return listed;
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
