/** Who may work when: one writer a shelf, one change of the catalogue, encoders bound by cores; runs take turns. */
import { cpus } from 'node:os';
import { Semaphore } from 'async-mutex';
import type { Step } from '../../core/planning/plan/step';
import { StepStopped } from './explain-error';
import type { LiveRun } from './live-run';
import { Seat } from './seat';

export class Turns {
  private readonly resources = new Map<string, Semaphore>();
  private readonly encoders = new Semaphore(Math.max(1, cpus().length));

  /** Does the work of a step when it has what it needs and the run goes on. */
  async take(live: LiveRun, step: Step, work: (seat: Seat) => Promise<void>): Promise<void> {
    const shelf = step.to?.shelfId ?? step.from?.shelfId ?? 'catalogue';
    const own = this.resource(step.action === 'link' ? 'catalogue' : shelf);
    const seat = new Seat(step.action === 'trim' ? [own, this.encoders] : [own]);
    for (;;) {
      await live.whenOpen();
      if (live.stopping) return;
      await seat.take();
      // Paused while it waited: others have the turn meanwhile.
      if (!live.paused) break;
      seat.give();
    }
    try {
      if (!live.stopping) await work(seat);
    } catch (error) {
      if (!(error instanceof StepStopped)) throw error;
    } finally {
      seat.give();
    }
  }

  private resource(name: string): Semaphore {
    const resource = this.resources.get(name) ?? new Semaphore(1);
    this.resources.set(name, resource);
    return resource;
  }
}
