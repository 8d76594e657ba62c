/** What a run copied is in the stock as what it is a copy of, without being read again. */
import { randomUUID } from 'node:crypto';
import { packIdentity } from '../../../core/media/identity';
import { frameName, presentNumbers } from '../../../core/media/image-sequence';
import { below, fileName, folderOf, type Item, type Place, type SequenceFacts } from '../../../core/media/item';
import { StepFailure } from '../../errors/explain-error';
import { identityOfFrames, identifySync, standingAt } from '../../stock/identify';
import { resolveBelow } from '../../stock/mounts';
import type { ChangeContext } from '../../actions/step-context';

/** The stock lists a copy as what it is a copy of. Throws StepFailure where it does not stand. */
export function enterCopy(item: Item, to: Place, sequence: SequenceFacts | null, { catalogue, places }: ChangeContext): void {
  const pathOf = (place: Place) => resolveBelow(places.rootOf(place.shelfId), place);
  const frames = sequence
    ? presentNumbers(sequence).map((number) => identifySync(pathOf(below({ ...to, path: folderOf(to.path) }, frameName(sequence, number)))))
    : null;
  const identity = frames ? identityOfFrames(frames) : standingAt(pathOf(to));
  if (!identity) throw new StepFailure(`${fileName(to.path)} is not there any more. Resume the run to have it made again.`);
  const facts = sequence ? { ...item.facts, sequence } : item.facts;
  const copy = { ...item, id: randomUUID(), place: to, identity, modifiedMs: Number(BigInt(identity.modifiedNs) / 1_000_000n), facts };
  catalogue.items.put(copy, frames ? frames.map(packIdentity) : null);
}
