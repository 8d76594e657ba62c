import { useQuery } from '@tanstack/react-query';
import { formatCount } from '../../core/words/figures';
import { api } from '../shared/api';
import { fullDate, shortDate } from '../shared/dates';

/** What stocktakes of a shelf found last: "12 new or changed, 2 gone (today 14:02)"; those before on hover. */
export function LastChange({ shelfId }: { shelfId: string }) {
  const { data: history = [] } = useQuery({ queryKey: ['items', 'history', shelfId], queryFn: () => api.get(`shelves/${shelfId}/history`) });
  const [last] = history;
  if (!last) return null;
  return (
    <span className="soft clip" title={history.map((change) => `${fullDate(change.at)}: ${wordsOf(change)}`).join('\n')}>
      {wordsOf(last)} ({shortDate(last.at)})
    </span>
  );
}

function wordsOf({ read, gone, moved }: { readonly read: number; readonly gone: number; readonly moved: number }): string {
  return [
    read > 0 ? `${formatCount(read)} new or changed` : '',
    moved > 0 ? `${formatCount(moved)} moved` : '',
    gone > 0 ? `${formatCount(gone)} gone` : '',
  ]
    .filter((word) => word !== '')
    .join(', ');
}
