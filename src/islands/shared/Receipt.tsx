import { Button, Group } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import type { RunSummary, RunView } from '../../server/api/views';
import { api } from './api';
import { fullDate, shortDate } from './dates';
import { Bytes, plural } from './figures';
import { SheetHead } from './SheetHead';
import { orderRun, RunBar, runSpeed } from './RunStrip';
import { ErrorNote } from './ErrorNote';

const WORDS: Record<RunSummary['state'], string> = {
  queued: 'waiting',
  running: 'going on',
  paused: 'paused',
  done: 'done',
  failed: 'ended with failures',
  cancelled: 'cancelled',
};

const BYTES_WORDS: Partial<Record<RunSummary['kind'], string>> = { undo: 'Removed', restore: 'Read and compared', relink: 'Read whole' };

export function runWord(state: RunSummary['state']): string {
  return WORDS[state];
}

export function useRun(runId: number) {
  const { data: live = [] } = useQuery<RunSummary[]>({ queryKey: ['live-runs'], queryFn: () => [], staleTime: Infinity });
  const now = live.find((run) => run.id === runId);
  const { data: run, error } = useQuery({
    queryKey: ['runs', 'one', runId, now?.state, now?.stepsDone],
    queryFn: () => api.get<RunView>(`runs/${runId}`),
    placeholderData: (old) => old,
  });
  return { run: run ? { ...run, ...now } : undefined, error };
}

/** What a run did, on the same paper as its plan. */
export function Receipt({ runId, onBack }: { runId: number; onBack?: () => void }) {
  const { run, error } = useRun(runId);
  if (error || !run) return <div className="sheet-body">{error ? <ErrorNote error={error} /> : <SheetHead following words="Receipt" />}</div>;
  const over = run.state === 'done' || run.state === 'failed' || run.state === 'cancelled';
  const { whole, left, doneBytes: bytes, troubled } = run;
  return (
    <>
      <div className="sheet-body">
        <SheetHead following={!over} words={over ? `Receipt · run ${run.id}` : `Run ${run.id} · you can go on working`} />
        <div className="paper-title">{run.title}</div>
        {!over && (
          <>
            <RunBar run={run} width="100%" />
            {run.trouble === null ? (
              <div className="mono soft run-line">{runSpeed(run)}</div>
            ) : (
              <div className="note warns" role="status">
                {run.trouble}
              </div>
            )}
          </>
        )}
        <dl data-run-state={run.state}>
          <dt>State</dt>
          <dd>{runWord(run.state)}</dd>
          <dt>Steps done</dt>
          <dd>
            {run.stepsDone} of {run.steps}
          </dd>
          <dt>{BYTES_WORDS[run.kind] ?? 'Written and checked'}</dt>
          <dd>
            <Bytes value={bytes} />
          </dd>
          <dt>Failed</dt>
          <dd>{plural(run.failed, 'step')}</dd>
          <dt>Begun</dt>
          <dd title={fullDate(run.createdAt)}>{shortDate(run.createdAt)}</dd>
          {run.endedAt && (
            <>
              <dt>Ended</dt>
              <dd title={fullDate(run.endedAt)}>{shortDate(run.endedAt)}</dd>
            </>
          )}
          {run.undoneBy === null && run.undoingBy !== null && (
            <>
              <dt>Being undone by</dt>
              <dd>run {run.undoingBy}</dd>
            </>
          )}
          {run.undoneBy !== null && (
            <>
              <dt>Undone by</dt>
              <dd>run {run.undoneBy}</dd>
            </>
          )}
        </dl>
        {whole > 0 && (
          <div className="note warns">
            {plural(whole, 'file')} could not be cut and {whole === 1 ? 'was' : 'were'} copied whole; the timelines point at all of it. The list says
            why.
          </div>
        )}
        {left > 0 && (
          <div className="note warns">
            {plural(left, 'file')} {left === 1 ? 'was' : 'were'} left where {left === 1 ? 'it is' : 'they are'}: changed since, or replaced by
            another.
          </div>
        )}
        {troubled.map((row) => (
          <div key={row.ordinal} className={`note ${row.state === 'failed' ? 'stops' : 'warns'}`}>
            <b>{(row.step.to ?? row.step.from)?.path ?? row.step.reason}</b>: {row.message}
          </div>
        ))}
      </div>
      <Group gap={8} className="sheet-foot">
        {!over && (
          <>
            <Button variant="default" onClick={() => orderRun(run.id, run.state === 'paused' ? 'resume' : 'pause')}>
              {run.state === 'paused' ? 'Resume' : 'Pause'}
            </Button>
            <Button variant="default" onClick={() => orderRun(run.id, 'cancel')}>
              Cancel the run
            </Button>
          </>
        )}
        {(run.state === 'failed' || run.state === 'cancelled') && run.undoneBy === null && run.undoingBy === null && (
          <Button onClick={() => orderRun(run.id, 'resume')}>Resume the run</Button>
        )}
        {over && (
          <Button variant="default" component="a" href={`/receipts/${run.id}`} target="_blank">
            Print the receipt
          </Button>
        )}
        {onBack && (
          <Button variant="default" onClick={onBack}>
            Back to the plan
          </Button>
        )}
      </Group>
    </>
  );
}
