/** News from the server: keeps what is shown true, tells of runs that end, and knows when nothing can be heard. */
import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { STOCKTAKE } from '../../../core/planning/stocktake/stocktake';
import type { RunSummary } from '../../../server/runs/views/run';
import type { Change } from '../../../server/house';
import type { StocktakeView } from '../../../server/stock/views/shelf';
import { api } from '../api';
import { tell } from '../notices';
import { dependsOn, projectHere } from './depends';
import { joinLine } from './join-line';
import { lostSince } from './line-state';
import { forgetRuns, isOver, putRun } from './live-runs';
import { oneOrMany } from '../../../core/words/figures';

export function useNews(): void {
  const client = useQueryClient();
  useEffect(() => {
    const states = new Map<number, RunSummary['state']>();
    let isFirst = true;
    const hearRun = (run: RunSummary) => {
      putRun(run);
      const before = states.get(run.id);
      states.set(run.id, run.state);
      if (before !== run.state) void client.invalidateQueries({ queryKey: ['runs'] });
      // A short run is told once, at its end: only what changed is told at all.
      if (isOver(run) && (before === undefined || !isOver({ state: before }))) {
        // What a stocktake found is told by itself, on the shelf's card.
        if (run.kind === STOCKTAKE && run.state !== 'failed') return;
        announce(run);
        void client.invalidateQueries();
      }
    };
    return joinLine((news) => {
      if (news.is === 'lost') {
        lostSince.set(news.since);
      } else if (news.is === 'open') {
        // After a break nobody knows what was missed, nor what changed while the page was being made.
        if (!isFirst || lostSince.get() !== null || news.changedAt > performance.timeOrigin) {
          const going = [...states].flatMap(([id, state]) => (isOver({ state }) ? [] : [id]));
          forgetRuns();
          states.clear();
          for (const id of going) void api.get(`runs/${id}`).then((run) => isOver(run) && announce(run), noMatter);
          void client.invalidateQueries();
        }
        lostSince.set(null);
      } else if (news.name === 'run') {
        hearRun(JSON.parse(news.data) as RunSummary);
      } else if (news.name === 'stocktake') {
        const progress = JSON.parse(news.data) as StocktakeView | null;
        if (progress) client.setQueryData(['stocktake', progress.shelfId], progress);
      } else if (news.name === 'changed') {
        const changes = JSON.parse(news.data) as readonly Change[];
        void client.invalidateQueries({ predicate: ({ queryKey }) => changes.some((change) => dependsOn(queryKey, change, projectHere())) });
      }
      isFirst = false;
    });
  }, [client]);
}

/** The page says by itself that nothing can be asked. */
const noMatter = () => undefined;

/** A notice on the page, and by the browser when the page is out of sight and it may. */
function announce(run: RunSummary): void {
  const words =
    run.state === 'done'
      ? 'is done'
      : run.state === 'cancelled'
        ? 'was cancelled'
        : `ended with ${run.failed} failed ${oneOrMany(run.failed, 'step', 'steps')}`;
  tell(`${run.title} ${words}`, run.state === 'failed' ? 'Its receipt says why and what to do.' : undefined);
  if (document.hidden && 'Notification' in window && Notification.permission === 'granted') {
    // Every tab tells it; the browser shows it once.
    new Notification(`Mill Shelf: ${run.title} ${words}`, { tag: `run ${run.id}` });
  }
}

/** Asked when the first run is started, never before. */
export function askForNotices(): void {
  if ('Notification' in window && Notification.permission === 'default') void Notification.requestPermission();
}
