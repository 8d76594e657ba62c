/**
 * The one runner under all plans. Every step is journalled before and after; after a crash finished steps are not
 * done again and half-made files are removed. One writer a shelf, encoders bound by cores; runs share them.
 */
import { existsSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { cpus } from 'node:os';
import PQueue from 'p-queue';
import { fileName } from '../../core/media/item';
import type { Plan, Step } from '../../core/planning/plan';
import type { Catalogue } from '../catalogue/catalogue';
import type { RunRow, StepOutcome, StepRow } from '../catalogue/runs';
import type { Mounts } from '../stock/mounts';
import { newControl } from '../workers/control';
import { runCopy } from '../workers/pool';
import { checkFile } from './executors/check';
import { copyFile } from './executors/copy';
import { copyFrames } from './executors/frames';
import { changeCatalogue } from './executors/link';
import { removeFile } from './executors/remove';
import { trimFile } from './executors/trim';
import { writeFile } from './executors/write';
import { explainError, StepStopped } from './explain-error';
import { LiveRun } from './live-run';
import { partPath } from './safe-write';
import type { StepContext } from './step-context';

/** How many steps of one run wait for a resource at a time: few, so that runs take turns. */
const STEPS_AT_ONCE = 2;

export class Runner {
  private readonly live = new Map<number, LiveRun>();
  private readonly driving = new Map<number, Promise<void>>();
  private readonly resources = new Map<string, PQueue>();
  private readonly encoders = new PQueue({ concurrency: Math.max(1, cpus().length) });

  constructor(
    private readonly catalogue: Catalogue,
    private readonly mounts: Mounts,
    /** Told at every change of a run. */
    private readonly tell: (runId: number) => void,
  ) {}

  /** Takes up what a crash or a stop left unfinished. Paused runs stay paused. */
  recover(): void {
    for (const run of this.catalogue.runs.unfinished()) this.drive(run.id, run.state === 'paused');
  }

  submit(plan: Plan): number {
    const id = this.catalogue.runs.add(plan, new Date().toISOString());
    this.drive(id, false);
    return id;
  }

  /** False when the run is not going on. */
  pause(id: number): boolean {
    const live = this.live.get(id);
    if (!live || live.paused) return false;
    live.pause();
    this.catalogue.runs.setState(id, 'paused', new Date().toISOString());
    this.tell(id);
    return true;
  }

  /** Goes on with a paused run, or tries again what failed or was cancelled. */
  resume(id: number): boolean {
    const live = this.live.get(id);
    if (live) {
      if (!live.paused) return false;
      this.catalogue.runs.setState(id, 'running', new Date().toISOString());
      live.resume();
      this.tell(id);
      return true;
    }
    const run = this.catalogue.runs.get(id);
    if (!run || (run.state !== 'failed' && run.state !== 'cancelled') || run.undoneBy !== null) return false;
    this.catalogue.runs.again(id);
    this.drive(id, false);
    return true;
  }

  cancel(id: number): boolean {
    const live = this.live.get(id);
    if (!live || live.stopping) return false;
    live.stop('cancel');
    return true;
  }

  progress(id: number): { bytes: number; speed: number | null; current: string[]; paused: boolean } | null {
    const live = this.live.get(id);
    return live ? { bytes: live.bytesNow(), speed: live.speed(Date.now()), current: live.current(), paused: live.paused } : null;
  }

  liveIds(): number[] {
    return [...this.live.keys()];
  }

  /** Resolves when the run is over. */
  async finished(id: number): Promise<RunRow> {
    await this.driving.get(id);
    return this.catalogue.runs.get(id)!;
  }

  /** Stops without journalling an end: the next start goes on. */
  async shutdown(): Promise<void> {
    for (const live of this.live.values()) live.stop('shutdown');
    await Promise.all(this.driving.values());
  }

  private drive(id: number, paused: boolean): void {
    const live = new LiveRun(id);
    if (paused) live.pause();
    this.live.set(id, live);
    const done = this.runSteps(live, paused).finally(() => {
      this.live.delete(id);
      this.driving.delete(id);
      this.tell(id);
    });
    this.driving.set(id, done);
  }

  private async runSteps(live: LiveRun, paused: boolean): Promise<void> {
    const { runs } = this.catalogue;
    if (!paused) runs.setState(live.id, 'running', new Date().toISOString());
    this.tell(live.id);
    const steps = runs.steps(live.id);
    for (const row of steps) {
      if (row.state === 'doing' || row.state === 'publishing') await this.cleanUp(live.id, row);
      if (row.state === 'done') live.doneBytes += row.step.expectedBytes;
    }
    const phases = [...new Set(steps.map((row) => row.step.phase))].sort((a, b) => a - b);
    for (const phase of phases) {
      const queue = new PQueue({ concurrency: STEPS_AT_ONCE });
      for (const row of runs.steps(live.id)) {
        if (row.step.phase === phase && row.state !== 'done') void queue.add(() => this.takeStep(live, row));
      }
      await queue.onIdle();
    }
    if (live.stopping === 'shutdown') return;
    this.conclude(live);
  }

  private conclude(live: LiveRun): void {
    const { runs } = this.catalogue;
    const now = new Date().toISOString();
    const rows = runs.steps(live.id);
    if (live.stopping === 'cancel') {
      for (const row of rows) if (row.state === 'waiting') runs.fail(live.id, row.ordinal, 'cancelled', 'Cancelled before it began.', now);
      runs.setState(live.id, 'cancelled', now);
      return;
    }
    runs.setState(live.id, rows.every((row) => row.state === 'done') ? 'done' : 'failed', now);
  }

  /** After a crash: a file that got its final name counts as done; anything else begins anew. */
  private async cleanUp(runId: number, row: StepRow): Promise<void> {
    if (!row.step.to || row.step.action === 'link' || row.step.action === 'frames') return;
    try {
      const target = this.mounts.resolve(row.step.to);
      await rm(partPath(target, runId, row.ordinal), { force: true });
      if (row.state !== 'publishing' || !existsSync(target)) return;
      const found = await runCopy({ write: null, target, control: newControl() });
      if (found.sha256 === row.outcome?.sha256) this.catalogue.runs.finish(runId, row.ordinal, row.outcome, new Date().toISOString());
    } catch {
      // The shelf is away: the step itself will say so.
    }
  }

  private async takeStep(live: LiveRun, row: StepRow): Promise<void> {
    await live.whenOpen();
    if (live.stopping) return;
    const { step } = row;
    const work = async () => {
      await live.whenOpen();
      if (!live.stopping) await this.doStep(live, row);
    };
    const shelf = step.to?.shelfId ?? step.from?.shelfId ?? 'catalogue';
    await this.resource(step.action === 'link' ? 'catalogue' : shelf).add(() => (step.action === 'trim' ? this.encoders.add(work) : work()));
  }

  private resource(name: string): PQueue {
    const queue = this.resources.get(name) ?? new PQueue({ concurrency: 1 });
    this.resources.set(name, queue);
    return queue;
  }

  private async doStep(live: LiveRun, row: StepRow): Promise<void> {
    const { runs } = this.catalogue;
    const { step, ordinal } = row;
    const failedBefore = step.action === 'link' && runs.steps(live.id).some((other) => other.step.phase < step.phase && other.state !== 'done');
    if (failedBefore) {
      runs.fail(live.id, ordinal, 'skipped', 'Left out, because a step before it failed. Mend that, then resume the run.', new Date().toISOString());
      return;
    }
    runs.begin(live.id, ordinal, new Date().toISOString());
    const current = live.begin(ordinal, stepName(step), step.expectedBytes);
    this.tell(live.id);
    let doneBytes = 0;
    try {
      const outcome = await this.execute(step, {
        catalogue: this.catalogue,
        mounts: this.mounts,
        runId: live.id,
        ordinal,
        control: current.control,
        signal: current.abort.signal,
        watch: (path) => (current.watched = path),
        publishing: (result) => runs.publishing(live.id, ordinal, result),
        journal: () => runs.steps(live.id),
      });
      runs.finish(live.id, ordinal, outcome, new Date().toISOString());
      doneBytes = step.expectedBytes;
    } catch (error) {
      const stopped = error instanceof StepStopped || (live.stopping !== null && current.abort.signal.aborted);
      if (stopped && live.stopping === 'shutdown') return;
      runs.fail(
        live.id,
        ordinal,
        stopped ? 'cancelled' : 'failed',
        stopped ? 'Cancelled; the half-made file was removed.' : explainError(error),
        new Date().toISOString(),
      );
    } finally {
      live.end(ordinal, doneBytes);
      this.tell(live.id);
    }
  }

  private execute(step: Step, context: StepContext): Promise<StepOutcome> {
    switch (step.action) {
      case 'copy':
        return copyFile(step, context);
      case 'trim':
        return trimFile(step, context);
      case 'frames':
        return copyFrames(step, context);
      case 'write':
        return writeFile(step, context);
      case 'check':
        return checkFile(step, context);
      case 'remove':
        return removeFile(step, context);
      case 'link':
        return changeCatalogue(step, context);
    }
  }
}

function stepName(step: Step): string {
  return fileName((step.to ?? step.from)?.path ?? step.reason);
}
