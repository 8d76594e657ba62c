import { useQueryClient } from '@tanstack/react-query';
import { ApiError } from './api';

/** What went wrong, and what to do about it. */
export function ErrorNote({ error, lead, onAgain }: { error: Error; lead?: string; onAgain?: () => void }) {
  const client = useQueryClient();
  // What failed with it is asked again too.
  const again = () => {
    onAgain?.();
    void client.refetchQueries({ type: 'active', predicate: ({ state }) => state.status === 'error' });
  };
  const hint = error instanceof ApiError ? error.hint : null;
  return (
    <div className="note stops" role="alert">
      {lead} {error.message}
      {hint !== null && <div className="hint">{hint}</div>}
      {onAgain && (
        <div>
          <button type="button" className="linkish" onClick={again}>
            Try again
          </button>
        </div>
      )}
    </div>
  );
}
