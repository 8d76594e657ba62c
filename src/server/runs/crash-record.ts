/** Which runs were going when the process ended: one in whose middle that happened twice may be the reason. */
import type { RunRow, Runs } from '../catalogue/runs';

const MOST_CRASHES = 2;
const SUSPECT = 'The application ended twice in the middle of this run, so it was not taken up again. Look at its files, then resume or cancel it.';

function copiedWords(from: string): string {
  return `This catalogue was started before ${from}: it is a copy or was restored. The run may have ended or been undone since. Look at its files, then resume or cancel it.`;
}

/** Counts what happened to an unfinished run, and says whether it waits for a user's word at this start, and why. */
export function takeUp(runs: Runs, run: RunRow, copiedFrom: string | null): { paused: boolean; trouble: string | null } {
  if (copiedFrom !== null) {
    if (run.state !== 'paused') runs.setState(run.id, 'paused', new Date().toISOString());
    return { paused: true, trouble: copiedWords(copiedFrom) };
  }
  if (runs.wasGoing(run.id)) runs.setCrashes(run.id, runs.crashes(run.id) + 1);
  const isSuspect = runs.crashes(run.id) >= MOST_CRASHES;
  if (isSuspect && run.state !== 'paused') runs.setState(run.id, 'paused', new Date().toISOString());
  return { paused: isSuspect || run.state === 'paused', trouble: isSuspect ? SUSPECT : null };
}
