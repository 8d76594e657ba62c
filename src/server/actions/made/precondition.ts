/** Whether a source still is what the plan saw, and stays so while it is read. */
import { readPrint } from '../../../core/media/fingerprint';
import { isUntouched, looksSame, packIdentity, type FileIdentity } from '../../../core/media/identity';
import { frameName, presentNumbers } from '../../../core/media/image-sequence';
import { joinPath } from '../../../core/media/item';
import type { GuardedSequence, Precondition } from '../../../core/planning/plan/step';
import { fingerprintFile, fingerprintSequence } from '../../stock/fingerprint-file';
import type { Places } from '../../stock/mounts';
import { identify } from '../../stock/identify';
import { StepFailure } from '../../errors/explain-error';

/**
 * The identity of the source as it is now. Throws StepFailure when it is not what the plan saw. Where it looks the
 * same but was moved or restored, its fingerprint decides; of a frame that of its sequence (`restored`).
 */
export async function checkPrecondition(
  path: string,
  wanted: Precondition | null,
  name: string,
  restored: (() => Promise<boolean>) | null = null,
): Promise<FileIdentity> {
  const now = await identify(path);
  if (wanted && !(await isWanted(path, now, wanted, restored)))
    throw new StepFailure(`${name} was changed after the plan was made. Look for changes on its shelf, then make a new plan.`);
  return now;
}

async function isWanted(path: string, now: FileIdentity, wanted: Precondition, restored: (() => Promise<boolean>) | null): Promise<boolean> {
  if (now.sizeBytes !== wanted.sizeBytes) return false;
  if (!wanted.identity) return Number(BigInt(now.modifiedNs) / 1_000_000n) === wanted.modifiedMs;
  if (isUntouched(now, wanted.identity)) return true;
  if (!looksSame(now, wanted.identity)) return false;
  if (restored) return restored();
  return !!wanted.fingerprint && (await fingerprintFile(path, now.sizeBytes)) === wanted.fingerprint;
}

/** Frames that were moved or restored look the same, but for inode and change time: the fingerprint of the sequence decides. */
export async function isSameSequence({ folder, facts, fingerprint }: GuardedSequence, places: Places): Promise<boolean> {
  if (fingerprint === null || readPrint(fingerprint)?.kind !== 'frames2') return false;
  const paths = presentNumbers(facts).map((number) => places.resolve({ ...folder, path: joinPath(folder.path, frameName(facts, number)) }));
  const frames: string[] = [];
  for (const path of paths) frames.push(packIdentity(await identify(path)));
  return (await fingerprintSequence(paths[0]!, facts, frames)) === fingerprint;
}

/** Throws StepFailure when the source was changed, or another put in its place, since it was `before`. */
export async function checkUnchanged(path: string, before: FileIdentity, name: string): Promise<void> {
  if (!isUntouched(await identify(path), before)) throw new StepFailure(changedWhileRead(name));
}

export function changedWhileRead(name: string): string {
  return `${name} was changed while it was read. What had been made of it was thrown away. Look for changes on its shelf, then make a new plan.`;
}
