import { StepStopped } from '../../errors/explain-error';
import { runCopy } from '../../files/copy-files';
import type { StepContext } from '../step-context';

/** SHA-256 of a file, read to its end. Rejects with StepStopped where the run ends before. */
export async function hashOf(path: string, { control }: Pick<StepContext, 'control'>): Promise<string> {
  const { sha256, stopped } = await runCopy({ write: null, target: path, control });
  if (stopped) throw new StepStopped();
  return sha256;
}
