import { ActionIcon } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { formatBytes } from '../../core/words/figures';
import type { ProjectView, RunSummary } from '../../server/api/views';
import { api } from './api';
import { shortDate } from './dates';
import { timeLeft } from './figures';
import { IconPause, IconPlay, IconStop } from './icons';
import { tellError } from './notices';
import { stagePath } from './stages';

export function orderRun(id: number, what: 'pause' | 'resume' | 'cancel'): void {
  void api.post(`runs/${id}/${what}`).catch(tellError);
}

/** A crate that lacks clips is named, not called safe. */
function safeWords(crate: ProjectView['lastCrate']): string {
  if (!crate) return 'No safe copy yet';
  return crate.lacks ? `No safe copy yet · ${crate.name}: ${crate.lacks}` : `Last safe copy: ${shortDate(crate.madeAt)}, ${crate.shelfName}`;
}

/** What is going on, on every stage. */
export function RunStrip({ projectId, lastCrate }: { projectId: string; lastCrate: ProjectView['lastCrate'] }) {
  const { data: live = [] } = useQuery<RunSummary[]>({ queryKey: ['live-runs'], queryFn: () => [], staleTime: Infinity });
  const active = live.filter((run) => run.state === 'running' || run.state === 'queued' || run.state === 'paused');
  const run = active[0];
  return (
    <footer className="strip" aria-label="Runs">
      {run ? (
        <>
          <ActionIcon
            size={24}
            variant="subtle"
            aria-label={run.state === 'paused' ? 'Resume the run' : 'Pause the run'}
            onClick={() => orderRun(run.id, run.state === 'paused' ? 'resume' : 'pause')}
          >
            {run.state === 'paused' ? <IconPlay size={13} /> : <IconPause size={13} />}
          </ActionIcon>
          <a href={`${stagePath(projectId, 'runs')}?run=${run.id}`} className="plain-link clip">
            <b>{run.title}</b>
          </a>
          <span className="soft">
            {run.stepsDone} of {run.steps} steps
          </span>
          <RunBar run={run} width={260} />
          <span className="mono soft clip">{runSpeed(run)}</span>
          <ActionIcon
            size={24}
            variant="subtle"
            color="gray"
            aria-label="Cancel the run"
            title="Cancel: finished files stay, the half-made one is removed"
            onClick={() => orderRun(run.id, 'cancel')}
          >
            <IconStop size={12} />
          </ActionIcon>
          {active.length > 1 && <span className="soft">and {active.length - 1} more</span>}
        </>
      ) : (
        <span className="soft">Nothing is running</span>
      )}
      <span className="soft push">{safeWords(lastCrate)}</span>
    </footer>
  );
}

export function RunBar({ run, width }: { run: RunSummary; width: number | string }) {
  const share = run.bytes > 0 ? run.bytesDone / run.bytes : run.stepsDone / Math.max(1, run.steps);
  return (
    <span className="bar run-bar" style={{ width }} role="progressbar" aria-valuenow={Math.round(share * 100)} aria-valuemin={0} aria-valuemax={100}>
      <i style={{ width: `${share * 100}%` }} />
    </span>
  );
}

export function runSpeed(run: RunSummary): string {
  if (run.trouble !== null) return run.trouble;
  if (run.state === 'paused') return 'paused';
  const parts = [
    run.speed ? `${formatBytes(run.speed)}/s` : null,
    run.secondsLeft !== null && run.speed ? timeLeft(run.secondsLeft) : null,
    run.current[0] ?? null,
  ];
  return parts.filter((part) => part !== null).join(' · ');
}
