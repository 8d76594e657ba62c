/** Talking to the server. Errors come as problem details and keep their hint. */

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
export function sendFile<T>(path: string, file: Blob): Promise<T> {
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

export const api = {
  get: async <T>(path: string, signal?: AbortSignal): Promise<T> =>
    (takeSent(path) as T | undefined) ?? (await call<T>('GET', path, undefined, signal)),
  post: <T>(path: string, body: unknown = {}, signal?: AbortSignal) => call<T>('POST', path, body, signal),
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
  put: <T>(path: string, body: unknown) => call<T>('PUT', path, body),
  patch: <T>(path: string, body: unknown) => call<T>('PATCH', path, body),
  remove: <T>(path: string) => call<T>('DELETE', path),
};
