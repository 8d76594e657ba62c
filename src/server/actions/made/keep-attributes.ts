/** What a file has beside its bytes, on its copy: permissions, times to the nanosecond, extended attributes, for root its owners. */
import { isSameObject } from '../../../core/media/identity';
import { standingAt } from '../../stock/identify';
import { copyAttributes } from '../../outside/attribute-copier';
import { StepFailure } from '../../errors/explain-error';

/**
 * By `cp` of the system, which alone reaches all of it; the bytes of `to` are not touched. Gives what its file system does not
 * hold, in words; null where everything was kept. Throws StepFailure where another file stands there afterwards: `cp` makes one where
 * none is.
 */
export async function keepAttributes(from: string, to: string): Promise<string | null> {
  const before = standingAt(to);
  const lost = await tryEach(from, to);
  const after = standingAt(to);
  if (!before || !after || !isSameObject(before, after) || before.sizeBytes !== after.sizeBytes)
    throw new StepFailure('What was copied went away before it got its name. Nothing was removed: look at the drive, then resume the run.');
  return lost;
}

async function tryEach(from: string, to: string): Promise<string | null> {
  const owners = process.getuid?.() === 0 ? ',ownership' : '';
  const keep = (what: string) => copyAttributes(what, from, to);
  if (await keep(`mode,timestamps,xattr${owners}`)) return null;
  if (await keep(`mode,timestamps${owners}`)) return 'extended attributes are not kept there';
  return (await keep('timestamps')) ? 'permissions are not kept there' : 'times and permissions are not kept there';
}
