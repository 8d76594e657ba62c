/** Whether a source still is what the plan saw, and stays so while it is read. */
import { isUntouched, looksSame, type FileIdentity } from '../../core/media/identity';
import type { Precondition } from '../../core/planning/plan';
import { fingerprintFile } from '../stock/fingerprint-file';
import { identify } from '../stock/identify';
import { StepFailure } from './explain-error';

/**
 * The identity of the source as it is now. Throws StepFailure when it is not what the plan saw. Where it looks the
 * same but was moved or restored, its fingerprint decides.
 */
export async function checkPrecondition(path: string, wanted: Precondition | null, name: string): Promise<FileIdentity> {
  const now = await identify(path);
  if (wanted && !(await isWanted(path, now, wanted)))
    throw new StepFailure(`${name} was changed after the plan was made. Take stock of its shelf, then make a new plan.`);
  return now;
}

async function isWanted(path: string, now: FileIdentity, wanted: Precondition): Promise<boolean> {
  if (now.sizeBytes !== wanted.sizeBytes) return false;
  if (!wanted.identity) return Number(BigInt(now.modifiedNs) / 1_000_000n) === wanted.modifiedMs;
  if (isUntouched(now, wanted.identity)) return true;
  return looksSame(now, wanted.identity) && !!wanted.fingerprint && (await fingerprintFile(path, now.sizeBytes)) === wanted.fingerprint;
}

/** Throws StepFailure when the source was changed, or another put in its place, since it was `before`. */
export async function checkUnchanged(path: string, before: FileIdentity, name: string): Promise<void> {
  if (!isUntouched(await identify(path), before)) throw new StepFailure(changedWhileRead(name));
}

export function changedWhileRead(name: string): string {
  return `${name} was changed while it was read. What had been made of it was thrown away. Take stock of its shelf, then make a new plan.`;
}
