/** The runs that news came of: those that go on, and those that ended while the page was open. */
import type { RunSummary } from '../../../server/runs/views/run';
import { Store, useStore } from './store';

const runs = new Store<readonly RunSummary[]>([]);

const OVER: readonly RunSummary['state'][] = ['done', 'failed', 'cancelled'];

export function isOver(run: Pick<RunSummary, 'state'>): boolean {
  return OVER.includes(run.state);
}

export function putRun(run: RunSummary): void {
  runs.set([...runs.get().filter(({ id }) => id !== run.id), run].sort((a, b) => b.id - a.id));
}

/** After a break in the line nobody knows how they stand; those that go on are told again. */
export function forgetRuns(): void {
  runs.set([]);
}

export function useLiveRuns(): readonly RunSummary[] {
  return useStore(runs);
}
