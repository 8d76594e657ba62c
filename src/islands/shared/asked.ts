/** How a question to the server stands, for whoever shows its answer. */
import type { UseQueryResult } from '@tanstack/react-query';

export interface QuestionState {
  /** There is an answer to show, be it an older one. */
  readonly isThere: boolean;
  /** What went wrong the last time it was asked. */
  readonly error: Error | null;
  readonly again: () => void;
}

export function askedOf(query: Pick<UseQueryResult, 'data' | 'error' | 'refetch'>): QuestionState {
  return { isThere: query.data !== undefined, error: query.error, again: () => void query.refetch() };
}

/** Several questions whose answers are shown together. */
export function allOf(...asked: readonly QuestionState[]): QuestionState {
  return {
    isThere: asked.every(({ isThere }) => isThere),
    error: asked.find(({ error }) => error !== null)?.error ?? null,
    again: () => asked.forEach((one) => one.error && one.again()),
  };
}
