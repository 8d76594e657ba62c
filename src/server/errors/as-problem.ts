/** Whatever was thrown, as a problem that can be told. */
import { noteFault } from './fault';
import { isProblem, Problem } from './problem';
import { isBusy, isOutOfRoom } from './storage-errors';

const SYSTEM_WORDS: Readonly<Record<string, string>> = {
  ENOTDIR: 'a file stands where a folder is needed',
  EISDIR: 'a folder stands where a file is needed',
  EACCES: 'this server may not read or write it',
  EPERM: 'this server may not change it',
  EROFS: 'it can only be read',
  ENAMETOOLONG: 'its name is too long',
  EIO: 'the drive does not answer as it should',
  EMFILE: 'too many files are open',
  ELOOP: 'its links lead in a circle',
};

export function asProblem(error: unknown): Problem {
  if (isProblem(error)) return error;
  const { syscall, code } = (error ?? {}) as NodeJS.ErrnoException;
  // The core knows no codes: what an edit of bins cannot do is a sentence there.
  if (error instanceof Error && error.constructor.name === 'BinError') return new Problem('bin', error.message);
  if (code === 'ENOENT') return new Problem('not-found', 'The file is not there any more.');
  if (isBusy(error)) return new Problem('busy-catalogue', 'The catalogue is held by something that takes long.', 'Try again in a moment.');
  if (isOutOfRoom(error) || code === 'ENOSPC')
    return new Problem('no-room', 'The disk that holds the catalogue is full or cannot be written to.', 'Make room there, then try again.');
  const noted = noteFault(error);
  if (syscall === undefined)
    return new Problem('internal', `A fault of ours, noted as ${noted}.`, 'Try again. The log of this server says more under that name.');
  // What the system says names whole paths of this machine, which are nobody's business outside.
  const detail = `A file or folder could not be used: ${SYSTEM_WORDS[code ?? ''] ?? code ?? 'unknown'}.`;
  return new Problem('disk', detail, 'Look at its place and rights, then try again.');
}
