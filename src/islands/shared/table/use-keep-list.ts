/** Keeps a list as a file: what is making it comes when it is wanted, long ones say how far they are and can be given up. */
import { notifications } from '@mantine/notifications';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useRef } from 'react';
import { formatCount } from '../../../core/words/figures';
import { tellError } from '../notices';
import { projectKey, shelvesAsked, type ProjectWithChoices } from '../questions';
import type { Column } from './column';
import type { AlsoKept } from './keep-list';

/** Of so many rows on it is told how far it is. */
const LONG_ROWS = 2_000;

interface Kept<Row> {
  readonly label: string;
  /** Every column; a table of text has hidden ones too. */
  readonly all: readonly Column<Row>[];
  readonly shown: readonly Column<Row>[];
  readonly count: number;
  readonly rowsIn: (first: number, last: number) => Promise<readonly Row[]>;
  readonly also: (() => Promise<readonly AlsoKept<Row>[]>) | undefined;
}

export function useKeepList<Row>(list: Kept<Row>): (as: 'csv' | 'html') => void {
  const client = useQueryClient();
  const newest = useRef(list);
  newest.current = list;
  /** The list once it knows the names that its cells tell, as they are by then. */
  const drawn = async (): Promise<Kept<Row>> => {
    if (client.getQueryData(shelvesAsked.queryKey) === undefined) {
      await client.ensureQueryData(shelvesAsked);
      await new Promise((next) => requestAnimationFrame(() => requestAnimationFrame(next)));
    }
    return newest.current;
  };
  return useCallback(
    (as) => {
      const { label, count } = newest.current;
      const giveUp = new AbortController();
      const notice = `keep ${label}`;
      const say = (done: number) => ({
        id: notice,
        title: `Keeping ${label}`,
        message: `${formatCount(done)} of ${formatCount(count)} rows. Close this to give it up.`,
        autoClose: false as const,
        loading: true,
        onClose: () => giveUp.abort(),
      });
      const keep = async () => {
        const { label, all, shown, count, rowsIn, also } = await drawn();
        if (count > LONG_ROWS) notifications.show(say(0));
        const { keepList } = await import('./keep-list');
        const hidden = all.filter((column) => !shown.includes(column));
        const project = client.getQueryData<ProjectWithChoices>(projectKey(window.location.pathname.split('/')[2] ?? ''));
        const told = (done: number) => void (count > LONG_ROWS && !giveUp.signal.aborted && notifications.update(say(done)));
        const columns = as === 'csv' ? [...shown, ...hidden] : shown;
        await keepList(
          { name: label, of: project?.name ?? '', columns, count, rowsIn, also: (await also?.()) ?? [], client },
          as,
          told,
          giveUp.signal,
        );
      };
      void keep()
        .catch(tellError)
        .finally(() => notifications.hide(notice));
    },
    [client],
  );
}
