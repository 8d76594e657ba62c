/** One stream of news for the page: keeps what is shown true, and tells of runs that end. */
import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { RunSummary } from '../../server/api/views';
import type { StocktakeProgress } from '../../server/stock/stocktake';
import { tell } from './notices';

const OVER = new Set(['done', 'failed', 'cancelled']);

export function useNews(): void {
  const client = useQueryClient();
  useEffect(() => {
    const source = new EventSource('/api/events');
    const states = new Map<number, string>();
    let isOpen = false;
    // After a break in the line nobody knows what was missed.
    source.addEventListener('hello', () => {
      if (isOpen) void client.invalidateQueries();
      isOpen = true;
    });
    source.addEventListener('run', (event) => {
      const run = JSON.parse((event as MessageEvent<string>).data) as RunSummary;
      client.setQueryData<RunSummary[]>(['live-runs'], (old = []) => [run, ...old.filter((entry) => entry.id !== run.id)]);
      const before = states.get(run.id);
      states.set(run.id, run.state);
      if (before !== run.state) void client.invalidateQueries({ queryKey: ['runs'] });
      // A short run is told once, at its end: only what changed is told at all.
      if (OVER.has(run.state) && (before === undefined || !OVER.has(before))) {
        announce(run);
        void client.invalidateQueries();
      }
    });
    source.addEventListener('stocktake', (event) => {
      const progress = JSON.parse((event as MessageEvent<string>).data) as StocktakeProgress | null;
      if (progress) client.setQueryData(['stocktake', progress.shelfId], progress);
    });
    source.addEventListener('changed', () => void client.invalidateQueries());
    return () => source.close();
  }, [client]);
}

/** A notice on the page, and by the browser when the page is out of sight and it may. */
function announce(run: RunSummary): void {
  const words =
    run.state === 'done'
      ? 'is done'
      : run.state === 'cancelled'
        ? 'was cancelled'
        : `ended with ${run.failed} failed ${run.failed === 1 ? 'step' : 'steps'}`;
  tell(`${run.title} ${words}`, run.state === 'failed' ? 'Its receipt says why and what to do.' : undefined);
  if (document.hidden && 'Notification' in window && Notification.permission === 'granted') new Notification(`Mill Shelf: ${run.title} ${words}`);
}

/** Asked when the first run is started, never before. */
export function askForNotices(): void {
  if ('Notification' in window && Notification.permission === 'default') void Notification.requestPermission();
}
