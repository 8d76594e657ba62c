import { ApiError } from './api';

/** What went wrong, and what to do about it. */
export function ErrorNote({ error }: { error: Error }) {
  const hint = error instanceof ApiError ? error.hint : null;
  return (
    <div className="note stops" role="alert">
      {error.message}
      {hint !== null && <div className="soft">{hint}</div>}
    </div>
  );
}
