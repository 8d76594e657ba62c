/** Talking to the server. Errors come as problem details and keep their hint. */

import type { Routes } from '../../server/api/routes';
import { takeSent } from './sent-answers';

export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly hint: string | null,
  ) {
    super(message);
  }
}

function call<T>(method: string, path: string, body?: unknown, signal?: AbortSignal): Promise<T> {
  return request(path, {
    method,
    ...(signal ? { signal } : {}),
    ...(body === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
  });
}

/** Sends a file as it is. */
export function sendFile<const Path extends string>(path: Path, file: Blob): Promise<Answer<'POST', Path>> {
  return request(path, { method: 'POST', headers: { 'content-type': 'application/octet-stream' }, body: file });
}

async function request<T>(path: string, init: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api/${path}`, init);
  } catch (error) {
    // Nobody waits for it any more.
    if (init.signal?.aborted) throw error;
    throw new ApiError(0, 'unreachable', 'The server does not answer.', 'Start it again; nothing is lost. Runs carry on where they stopped.');
  }
  if (response.status === 204) return undefined as T;
  const answer = (await response.json().catch(() => null)) as { detail?: string; code?: string; hint?: string } | null;
  if (!response.ok)
    throw new ApiError(response.status, answer?.code ?? 'error', answer?.detail ?? `The server answered ${response.status}.`, answer?.hint ?? null);
  return answer as T;
}

/** In bytes; a little less than browsers take for all that is on its way. */
const MOST_KEPT_ALIVE = 48 * 1024;

type Method = 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
type NoQuery<Path extends string> = Path extends `${infer Before}?${string}` ? Before : Path;
type Names<Path extends string> = Path extends `${infer First}/${infer Rest}` ? [First, ...Names<Rest>] : [Path];
/** Whether an address fits a route, name by name; those in brackets stand for any. */
type Fits<Route extends readonly string[], Path extends readonly string[]> = Route extends [infer Own extends string, ...infer More extends string[]]
  ? Path extends [infer Name extends string, ...infer Rest extends string[]]
    ? Own extends `[${string}]`
      ? Fits<More, Rest>
      : Name extends Own
        ? Fits<More, Rest>
        : false
    : false
  : Path extends []
    ? true
    : false;
type RouteOf<M extends Method, Path extends string> = {
  [Key in keyof Routes]: Key extends `${M} ${infer Route}` ? (Fits<Names<Route>, Names<NoQuery<Path>>> extends true ? Key : never) : never;
}[keyof Routes];
type Known<Key extends keyof Routes> = NonNullable<Routes[Key]['of']>;
/** What is answered at an address; unknown at one that is not in the table of routes. */
export type Answer<M extends Method, Path extends string> = Path extends string
  ? [RouteOf<M, Path>] extends [never]
    ? unknown
    : Known<RouteOf<M, Path>>['out']
  : never;
/** What is sent there. */
type Body<M extends Method, Path extends string> = [RouteOf<M, Path>] extends [never] ? never : Known<RouteOf<M, Path>>['body'];

export const api = {
  get: async <const Path extends string>(path: Path, signal?: AbortSignal): Promise<Answer<'GET', Path>> =>
    (takeSent(path) as Answer<'GET', Path> | undefined) ?? (await call<Answer<'GET', Path>>('GET', path, undefined, signal)),
  /** At an address that is put together elsewhere. */
  getFrom: async <T>(path: string, signal?: AbortSignal): Promise<T> =>
    (takeSent(path) as T | undefined) ?? (await call<T>('GET', path, undefined, signal)),
  post: <const Path extends string>(path: Path, body?: Body<'POST', Path>, signal?: AbortSignal) =>
    call<Answer<'POST', Path>>('POST', path, body ?? {}, signal),
  postTo: <T>(path: string, body: unknown, signal?: AbortSignal) => call<T>('POST', path, body, signal),
  /** Sent even when the page is left meanwhile, where browsers allow it: up to 64 kB (Fetch Standard, keepalive). */
  leave: (path: string, body: unknown) => {
    const blob = new Blob([JSON.stringify(body)], { type: 'application/json' });
    return request<void>(path, {
      method: 'POST',
      keepalive: blob.size < MOST_KEPT_ALIVE,
      headers: { 'content-type': 'application/json' },
      body: blob,
    });
  },
  put: <const Path extends string>(path: Path, body: Body<'PUT', Path>) => call<Answer<'PUT', Path>>('PUT', path, body),
  patch: <const Path extends string>(path: Path, body: Body<'PATCH', Path>) => call<Answer<'PATCH', Path>>('PATCH', path, body),
  remove: <const Path extends string>(path: Path) => call<Answer<'DELETE', Path>>('DELETE', path),
};
