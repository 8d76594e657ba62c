/** An error that a user can meet, told as problem details (RFC 9457): what, where, and what to do. */
import type { Finding } from '../../core/words/finding';
import type { FindingCode } from '../../core/words/finding-codes';
import { PROBLEM_CODES, TITLES, type ProblemCode } from './problem-codes';

/** Known by a registered symbol: the pages are bundled apart from the entry, so a class may exist twice. */
const IS_PROBLEM = Symbol.for('mill-shelf.problem');

export class Problem extends Error {
  readonly [IS_PROBLEM] = true;
  readonly status: number;

  /** `code`: one of the catalogue; of a file that cannot be read that of the finding which says why. */
  constructor(
    readonly code: ProblemCode | FindingCode,
    detail: string,
    readonly hint?: string,
    readonly headers: Readonly<Record<string, string>> = {},
  ) {
    super(detail);
    this.status = code in PROBLEM_CODES ? PROBLEM_CODES[code as ProblemCode] : 400;
  }
}

/** What of a problem goes from thread to thread. */
export type PlainProblem = Pick<Problem, 'code' | 'message' | 'hint'>;

export function isProblem(error: unknown): error is Problem {
  return typeof error === 'object' && error !== null && IS_PROBLEM in error;
}

export function plainProblem({ code, message, hint }: Problem): PlainProblem {
  return { code, message, ...(hint === undefined ? {} : { hint }) };
}

export function fromPlain({ code, message, hint }: PlainProblem): Problem {
  return new Problem(code, message, hint);
}

/** Why nothing of a file can be taken. */
export function unreadable(name: string, { code, where, message, hint }: Finding): Problem {
  return new Problem(code, `${name}${where ? `, ${where}` : ''}: ${message}`, hint);
}

/** Why there is no plan for a request, in a sentence. */
export class PlanRequestError extends Problem {
  constructor(detail: string) {
    super('no-plan', detail);
  }
}

export function notFound(what: string): Problem {
  return new Problem('not-found', `There is no such ${what}.`);
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
