/** What the file system says, in words a user can act on. */
import { noteFault } from './fault';
import { isProblem, Problem } from './problem';

/** A step that cannot be done, for a reason the user can read. */
export class StepFailure extends Error {}

/** Why a run cannot be begun or taken up, in a sentence. */
export class RunRefused extends Problem {
  constructor(detail: string) {
    super('run-refused', detail);
  }
}

/** A step that was told to stop. */
export class StepStopped extends Error {}

const REASONS: Record<string, string> = {
  ENOSPC: 'The destination is full. Make room or choose another shelf, then resume.',
  EDQUOT: 'The quota of the destination is used up. Make room, then resume.',
  EROFS: 'The destination is read-only. Unlock it or choose another shelf, then resume.',
  EACCES: 'Access is denied. Change the permissions of the file or folder, then resume.',
  EPERM: 'The system does not permit it. Change the permissions, then resume.',
  ENOENT: 'The file or its folder is not there any more. Was the drive unplugged? Plug it in, then resume.',
  ENOTDIR: 'A file stands where a folder is needed. Choose another destination.',
  EEXIST: 'A file already stands under that name. Nothing is overwritten: rename it or choose another destination.',
  ENAMETOOLONG: 'The path is too long for the destination. Choose a shorter folder name.',
  EFBIG: 'The file is too large for the file system of the destination.',
  EIO: 'The drive reports a read or write error. Check the drive; the original is untouched.',
  unplugged: 'The shelf is not plugged in. Plug it in, then resume.',
  ENODEV: 'The drive has gone. Plug it in, then resume.',
  EREADBACK: 'What was read back differs from what was written; the copy was thrown away. Check the drive, then resume.',
  EBUNDLE: 'The bundle is damaged: what it holds does not match its own checksum. Get it again from where it came.',
  ECHANGED:
    'The source was changed while it was read. What had been made of it was thrown away. Look for changes on its shelf, then make a new plan.',
  ESHORT: 'The source was changed while it was read. Look for changes again, then make a new plan.',
};

/** A sentence for any error of a step, with a next step where one is known. */
export function explainError(error: unknown): string {
  if (error instanceof StepFailure) return error.message;
  if (isProblem(error)) return error.code === 'unplugged' ? `${error.message} Plug it in, then resume.` : error.message;
  const { code, syscall } = (error ?? {}) as NodeJS.ErrnoException;
  const known = code === undefined ? undefined : REASONS[code];
  if (known !== undefined) return known;
  if (syscall !== undefined || code?.startsWith('SQLITE_')) return `It failed: ${(error as Error).message}`;
  return `A fault of ours, noted as ${noteFault(error)}. The log of this server says more under that name. Resume to try again.`;
}
