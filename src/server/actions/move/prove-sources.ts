/**
 * Sources of moves whose file system gives them other numbers than the stock knows (a restored or copied drive, a network
 * drive): those that look the same are looked into, and known by what they are now.
 */
import { isSameObject, looksSame, unpackIdentity, type FileIdentity } from '../../../core/media/identity';
import { below } from '../../../core/media/item';
import type { MoveStep } from '../../../core/planning/plan/step';
import type { StepRow } from '../../catalogue/runs';
import { fingerprintFile } from '../../stock/fingerprint-file';
import { standingAt } from '../../stock/identify';
import type { Places } from '../../stock/mounts';
import { isSameSequence } from '../made/precondition';

/** By ordinal: identities as they are now of the files of those that were proven so, in their order. */
export async function proveSources(rows: readonly StepRow[], places: Places): Promise<Map<number, FileIdentity[]>> {
  const out = new Map<number, FileIdentity[]>();
  for (const { ordinal, step } of rows) {
    try {
      const proven = await proveSource(step as MoveStep, places);
      if (proven) out.set(ordinal, proven);
    } catch {
      // What cannot be looked into is told by the move itself.
    }
  }
  return out;
}

async function proveSource(step: MoveStep, places: Places): Promise<FileIdentity[] | null> {
  const { frames, mustHold, from } = step;
  const wanted = frames ? (frames.holds?.map(unpackIdentity) ?? []) : mustHold?.identity ? [mustHold.identity] : [];
  const names = frames ? frames.names : [''];
  if (wanted.length !== names.length || !mustHold?.fingerprint) return null;
  const now = names.map((name) => standingAt(places.resolve(below(from!, name))));
  if (!now.every((found) => found !== null)) return null;
  if (now.every((found, index) => isSameObject(found, wanted[index]!))) return null;
  if (!now.every((found, index) => looksSame(found, wanted[index]!))) return null;
  const same = frames
    ? await isSameSequence({ folder: from!, facts: frames.from, fingerprint: mustHold.fingerprint }, places)
    : (await fingerprintFile(places.resolve(from!), now[0]!.sizeBytes)) === mustHold.fingerprint;
  return same ? now : null;
}
