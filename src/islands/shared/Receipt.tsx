import { Button, Group } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { bytesWord } from '../../core/words/run-words';
import type { RunSummary } from '../../server/runs/views/run';
import { useEffect, useRef } from 'react';
import { api } from './api';
import { handIsFree } from './Dialog';
import { askedOf } from './asked';
import { Face } from './Face';
import { fullDate, shortDate } from './dates';
import { Bytes, plural } from './figures';
import { SheetHead } from './SheetHead';
import { isOver, useLiveRuns } from './news/live-runs';
import { orderRun, RunButtons, useQuiet } from './RunButtons';
import { RunBar, runSpeed } from './RunStrip';
import { oneOrMany } from '../../core/words/figures';

const WORDS: Record<RunSummary['state'], string> = {
  queued: 'waiting',
  running: 'going on',
  paused: 'paused',
  done: 'done',
  failed: 'ended with failures',
  cancelled: 'cancelled',
};

export function runWord(state: RunSummary['state']): string {
  return WORDS[state];
}

export function useRun(runId: number) {
  const now = useLiveRuns().find((run) => run.id === runId);
  const query = useQuery({
    queryKey: ['runs', 'one', runId, now?.state, now?.stepsDone],
    queryFn: () => api.get(`runs/${runId}`),
    placeholderData: (old) => old,
  });
  const { data: run } = query;
  return { run: run ? { ...run, ...now } : undefined, asked: askedOf(query) };
}

/** What a run did, on the same paper as its plan. */
export function Receipt({ runId, onBack }: { runId: number; onBack?: () => void }) {
  const { run, asked } = useRun(runId);
  // What comes in the place of the button that was pressed does not answer at once.
  const isQuiet = useQuiet() && onBack !== undefined;
  // It came in the place of the button that was pressed, and takes the keyboard that was on it.
  const title = useRef<HTMLDivElement>(null);
  const isThere = run !== undefined;
  useEffect(() => {
    if (onBack && isThere && handIsFree()) title.current?.focus();
  }, [isThere]);
  if (!run)
    return (
      <div className="sheet-body">
        <Face asked={asked}>{null}</Face>
      </div>
    );
  const over = isOver(run);
  const { whole, left, doneBytes: bytes, troubled, conclusion } = run;
  return (
    <>
      <div className="sheet-body">
        <SheetHead following={!over} words={over ? `Receipt · run ${run.id}` : `Run ${run.id} · you can go on working`} />
        <div className="paper-title" tabIndex={-1} data-receipt="" ref={title}>
          {run.title}
        </div>
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
            <RunButtons run={run} />
          </>
        )}
        <dl data-run-state={run.state}>
          <dt>State</dt>
          <dd>{runWord(run.state)}</dd>
          <dt>Steps done</dt>
          <dd>
            {run.stepsDone} of {run.steps}
          </dd>
          <dt>{bytesWord(run.kind)}</dt>
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
        {conclusion !== null && <div className="note good">{conclusion}</div>}
        {whole > 0 && (
          <div className="note warns">
            {plural(whole, 'file')} could not be cut and {oneOrMany(whole, 'was', 'were')} copied whole; the timelines point at all of it. The list
            says why.
          </div>
        )}
        {left > 0 && (
          <div className="note warns">
            {plural(left, 'file')} {oneOrMany(left, 'was', 'were')} left where {oneOrMany(left, 'it is', 'they are')}: changed since, or replaced by
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
        {(run.state === 'failed' || run.state === 'cancelled') && run.undoneBy === null && run.undoingBy === null && (
          <Button disabled={isQuiet} onClick={() => void orderRun(run.id, 'resume')}>
            Resume the run
          </Button>
        )}
        {over && (
          <Button variant="default" disabled={isQuiet} component="a" {...(isQuiet ? {} : { href: `/receipts/${run.id}` })} target="_blank">
            Print the receipt
          </Button>
        )}
        {onBack && (
          <Button variant="default" disabled={isQuiet} onClick={onBack}>
            Back to the plan
          </Button>
        )}
      </Group>
    </>
  );
}
