/** Errors of the API as problem details (RFC 9457): what, where, and what to do. */
import { BinError } from '../../core/project/bins';
import { BridgeError } from '../bridges/run-bridge';
import { BundleError } from '../bundles/zip-entries';
import { PlanRequestError } from '../kinds/kind';
import { CrateError } from '../bundles/read-crate';
import { PlaceError } from '../stock/mounts';
import { TooManyPictures } from '../media/picture-queue';
import { SampleFailure } from '../media/samples';
import { isBusy, isOutOfRoom } from '../catalogue/db';
import { RunRefused } from '../runs/explain-error';
import { ConflictingShelf } from '../stock/register-shelf';

export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    detail: string,
    readonly hint?: string,
    readonly headers: Readonly<Record<string, string>> = {},
  ) {
    super(detail);
  }
}

const TITLES: Record<number, string> = {
  400: 'Bad request',
  403: 'Not allowed',
  404: 'Not found',
  405: 'Method not allowed',
  409: 'Conflict',
  412: 'Changed',
  413: 'Too large',
  416: 'No such part',
  422: 'Cannot be done',
  500: 'Internal error',
  503: 'Busy',
  507: 'No room',
};

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

export function notFound(what: string): Problem {
  return new Problem(404, 'not-found', `There is no such ${what}.`);
}

/** Ids of another project, or of nothing, are not passed over. */
export function mustHave(known: Iterable<string>, asked: readonly string[], what: string): void {
  const all = new Set(known);
  if (!asked.every((id) => all.has(id))) throw notFound(`${what} in this project`);
}

/** The JSON of a problem. */
export function problemBody({ status, code, message, hint }: Pick<Problem, 'status' | 'code' | 'message' | 'hint'>): string {
  const title = TITLES[status] ?? 'Error';
  return JSON.stringify({ type: `urn:mill-shelf:${code}`, title, status, code, detail: message, ...(hint ? { hint } : {}) });
}

export function problemResponse(problem: Problem): Response {
  const headers = { ...problem.headers, 'content-type': 'application/problem+json', 'cache-control': 'no-store' };
  return new Response(problemBody(problem), { status: problem.status, headers });
}

/** Errors are told apart by name: the pages are bundled apart from the entry, so classes may exist twice. */
export function asProblem(error: unknown): Problem {
  if (error instanceof Problem) return error;
  if (!(error instanceof Error)) return new Problem(500, 'internal', String(error));
  const name = error.constructor.name;
  if (name === Problem.name) {
    const { status, code, message, hint, headers } = error as Problem;
    return new Problem(status, code, message, hint, headers);
  }
  if (name === BundleError.name)
    return new Problem(400, 'bundle', error.message, 'Choose an .otioz file that opens elsewhere, or have it made again.');
  if (name === BinError.name) return new Problem(409, 'bin', error.message);
  if (name === BridgeError.name) return new Problem(400, 'bridge', error.message, (error as BridgeError).hint);
  if (name === PlaceError.name) {
    const { code } = error as PlaceError;
    return code === 'unplugged'
      ? new Problem(409, 'unplugged', error.message, 'Plug the drive in and try again.')
      : new Problem(403, code, error.message);
  }
  if (name === CrateError.name) return new Problem(400, 'not-a-crate', error.message);
  if (name === PlanRequestError.name) return new Problem(409, 'no-plan', error.message);
  if (name === ConflictingShelf.name) return new Problem(409, (error as ConflictingShelf).code, error.message, (error as ConflictingShelf).hint);
  if (name === TooManyPictures.name)
    return new Problem(503, 'busy-pictures', 'More pictures are asked for than can be made.', 'Ask again in a moment.');
  if (name === SampleFailure.name) return new Problem(422, 'no-sample', error.message);
  if (name === RunRefused.name) return new Problem(409, 'run-refused', error.message);
  if ((error as NodeJS.ErrnoException).code === 'ENOENT') return new Problem(404, 'not-found', 'The file is not there any more.');
  if (isBusy(error)) return new Problem(503, 'busy-catalogue', 'The catalogue is held by something that takes long.', 'Try again in a moment.');
  if (isOutOfRoom(error) || (error as NodeJS.ErrnoException).code === 'ENOSPC')
    return new Problem(507, 'no-room', 'The disk that holds the catalogue is full or cannot be written to.', 'Make room there, then try again.');
  console.error(error);
  // What the system says names whole paths of this machine, which are nobody's business outside.
  const { syscall, code } = error as NodeJS.ErrnoException;
  if (syscall !== undefined) {
    const detail = `A file or folder could not be used: ${SYSTEM_WORDS[code ?? ''] ?? code ?? 'unknown'}.`;
    return new Problem(500, 'disk', detail, 'Look at its place and rights, then try again.');
  }
  return new Problem(500, 'internal', `Something went wrong inside: ${error.message}`, 'Try again. Nothing was left half-written.');
}
