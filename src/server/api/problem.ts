/** Errors of the API as problem details (RFC 9457): what, where, and what to do. */

export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    detail: string,
    readonly hint?: string,
  ) {
    super(detail);
  }
}

const TITLES: Record<number, string> = {
  400: 'Bad request',
  403: 'Not allowed',
  404: 'Not found',
  409: 'Conflict',
  413: 'Too large',
  500: 'Internal error',
};

export function notFound(what: string): Problem {
  return new Problem(404, 'not-found', `There is no such ${what}.`);
}

export function problemResponse(problem: Problem): Response {
  const body = {
    type: `urn:mill-shelf:${problem.code}`,
    title: TITLES[problem.status] ?? 'Error',
    status: problem.status,
    code: problem.code,
    detail: problem.message,
    ...(problem.hint ? { hint: problem.hint } : {}),
  };
  return new Response(JSON.stringify(body), { status: problem.status, headers: { 'content-type': 'application/problem+json' } });
}
