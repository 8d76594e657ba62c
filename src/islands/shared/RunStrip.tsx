import dayjs from 'dayjs';
import { STOCKTAKE } from '../../core/planning/stocktake/stocktake';
import { fileName } from '../../core/media/item';
import { formatBytes, formatCount } from '../../core/words/figures';
import type { ProjectView } from '../../server/projects/views/project';
import type { RunSummary } from '../../server/runs/views/run';
import { shortDate } from './dates';
import { timeLeft } from './figures';
import { useLostSince } from './news/line-state';
import { isOver, useLiveRuns } from './news/live-runs';
import { RunButtons } from './RunButtons';
import { stagePath } from './stages';

/** The best that is true today. A crate that lacks clips or is not whole any more is named, not called safe. */
function safeWords({ lastCrate: crate, copies }: ProjectView): string {
  const twice = copies.files > 0 && copies.leastDrives > 1 ? `verified copies of every file on ${copies.leastDrives} drives` : null;
  if (!crate) return twice ? `No crate yet · ${twice}` : 'No safe copy yet';
  if (crate.lacks) return `No safe copy yet · ${crate.name}: ${crate.lacks}`;
  if (!crate.isSafe) return `No safe copy now · ${crate.name}: ${crate.trouble}`;
  const where = crate.attached ? crate.shelfName : `${crate.shelfName} (unplugged)`;
  return `Last safe copy: ${shortDate(crate.madeAt)}, ${where}${crate.checkedAt ? ` · checked ${shortDate(crate.checkedAt)}` : ''}`;
}

/** What is going on, on every stage; and whether that is known. */
export function RunStrip({ projectId, project }: { projectId: string | null; project?: ProjectView | undefined }) {
  const lost = useLostSince();
  const live = useLiveRuns();
  const active = live.filter((run) => !isOver(run));
  // The one that works, else the first in line.
  const run = active.find((entry) => entry.state === 'running' && entry.waitsFor === null) ?? active.at(-1);
  if (lost !== null) return <LostStrip since={lost} />;
  return (
    <footer className="strip" aria-label="Runs">
      {run ? (
        <>
          <RunButtons key={run.id} run={run} small />
          <a
            href={runPath(run, projectId)}
            className="plain-link clip"
            title={`${run.title}${run.projectName === null ? '' : ` · ${run.projectName}`}`}
          >
            <b>{run.title}</b>
            {run.projectId !== projectId && run.projectName !== null && <span className="soft"> · {run.projectName}</span>}
          </a>
          <span className="soft">{progressWords(run)}</span>
          <RunBar run={run} width={220} />
          <span className="mono soft clip">{runSpeed(run)}</span>
          {active.length > 1 && (
            <span className="soft" title={active.flatMap((other) => (other === run ? [] : [`${other.title}: ${runSpeed(other)}`])).join('\n')}>
              and {active.length - 1} more
            </span>
          )}
        </>
      ) : (
        <span className="soft">Nothing is running</span>
      )}
      {project && (
        <span className="soft push clip" title={safeWords(project)}>
          {safeWords(project)}
        </span>
      )}
    </footer>
  );
}

function LostStrip({ since }: { since: number }) {
  return (
    <footer className="strip lost" aria-label="Runs" role="alert">
      <b>No word from the server since {dayjs(since).format('HH:mm:ss')}.</b>
      <span className="clip">What is shown is as it was then. Runs go on or are taken up again; everything is asked anew when it is back.</span>
    </footer>
  );
}

export function runPath(run: Pick<RunSummary, 'id' | 'projectId'>, projectId: string | null): string {
  const home = run.projectId ?? projectId;
  return home === null ? `/receipts/${run.id}` : `${stagePath(home, 'runs')}?run=${run.id}`;
}

export function RunBar({ run, width }: { run: RunSummary; width: number | string }) {
  const share = shareOf(run);
  return (
    <span
      className="bar run-bar"
      style={{ width }}
      role="progressbar"
      aria-label={`Run ${run.id}`}
      aria-valuenow={Math.round(share * 100)}
      aria-valuemin={0}
      aria-valuemax={100}
    >
      <i style={{ width: `${share * 100}%` }} />
    </span>
  );
}

function progressWords({ kind, figures, steps, stepsDone }: RunSummary): string {
  if (figures && figures.files > 0) return `${formatCount(figures.doneFiles)} of ${formatCount(figures.files)} files`;
  return kind === STOCKTAKE ? 'files are being listed' : `${stepsDone} of ${steps} steps`;
}

function shareOf({ figures, bytes, bytesDone, steps, stepsDone }: RunSummary): number {
  if (figures) return figures.files > 0 ? figures.doneFiles / figures.files : 0;
  return bytes > 0 ? bytesDone / bytes : stepsDone / Math.max(1, steps);
}

export function runSpeed(run: RunSummary): string {
  if (run.trouble !== null) return run.trouble;
  if (run.state === 'paused') return 'paused';
  if (run.waitsFor !== null) return `waits for run ${run.waitsFor}`;
  const parts = [
    // What encoders write by the second tells nothing of how fast they are.
    run.speed && run.seconds === null ? `${formatBytes(run.speed)}/s` : null,
    run.secondsLeft !== null && (run.speed || run.seconds !== null) ? timeLeft(run.secondsLeft) : null,
    run.figures ? fileName(run.figures.current) : (run.current[0] ?? null),
  ];
  return parts.filter((part) => part !== null && part !== '').join(' · ');
}
