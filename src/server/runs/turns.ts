/** Who may work when: one writer a shelf, one change of the catalogue, encoders bound by cores; runs take turns. */
import { cpus } from 'node:os';
import { Semaphore } from 'async-mutex';
import type { Step } from '../../core/planning/plan/step';
import type { ActionTable, Occupied } from '../actions/action';
import { actionOf } from '../actions/actions';
import { MAKERS } from '../kinds/kinds';
import { StepStopped } from '../errors/explain-error';
import type { LiveRun } from './live-run';
import { Seat } from './seat';

/** A step that works, or waits for its turn. */
interface Place {
  readonly runId: number;
  readonly resources: readonly Semaphore[];
  readonly seat: Seat;
}

export class Turns {
  private readonly places = new Set<Place>();
  private readonly resources = new Map<string, Semaphore>();
  private readonly encoders = new Semaphore(Math.max(1, cpus().length));

  constructor(private readonly table: ActionTable) {}

  /** Does the work of a step when it has what it needs and the run goes on. */
  async take(live: LiveRun, step: Step, work: (seat: Seat) => Promise<void>): Promise<void> {
    const resources = actionOf(step, this.table)
      .occupies(step, MAKERS)
      .map((occupied) => this.resourceOf(occupied, live.id));
    const seat = new Seat(resources);
    const place: Place = { runId: live.id, resources, seat };
    for (;;) {
      await live.whenOpen();
      if (live.stopping) return;
      this.places.add(place);
      await seat.take(live.priority);
      // Paused while it waited: others have the turn meanwhile.
      if (!live.paused) break;
      seat.give();
      this.places.delete(place);
    }
    try {
      if (!live.stopping) await work(seat);
    } catch (error) {
      if (!(error instanceof StepStopped)) throw error;
    } finally {
      this.places.delete(place);
      seat.give();
    }
  }

  /** The run that has what this one waits for; null while this one works, or waits for nobody. */
  behind(runId: number): number | null {
    const own = [...this.places].filter((place) => place.runId === runId);
    if (own.some(({ seat }) => seat.isHeld)) return null;
    const wanted = new Set(own.flatMap(({ resources }) => resources));
    const others = [...this.places].filter((place) => place.runId !== runId && place.seat.isHeld);
    return others.find((place) => place.resources.some((resource) => wanted.has(resource)))?.runId ?? null;
  }

  private resourceOf(occupied: Occupied, runId: number): Semaphore {
    if (occupied === 'encoder') return this.encoders;
    if (occupied === 'own') return this.resource(`run ${runId}`);
    if (occupied === 'catalogue') return this.resource(occupied);
    return this.resource('stock' in occupied ? `stock ${occupied.stock}` : `shelf ${occupied.shelf}`);
  }

  private resource(name: string): Semaphore {
    const resource = this.resources.get(name) ?? new Semaphore(1);
    this.resources.set(name, resource);
    return resource;
  }
}
