import type { Semaphore } from 'async-mutex';
import type { RunPriority } from '../catalogue/runs';

/** Who is let in before whom; among equals who came first. */
const WEIGHTS: Readonly<Record<RunPriority, number>> = { first: 1, normal: 0, last: -1 };

/** A step's turn at what only few may use at a time: a shelf that is written to, an encoder. Given up while its run is paused. */
export class Seat {
  private releases: (() => void)[] = [];

  constructor(private readonly resources: readonly Semaphore[]) {}

  get isHeld(): boolean {
    return this.resources.length === this.releases.length;
  }

  /** Waits for its turn at each resource, in the order given. */
  async take(priority: RunPriority): Promise<void> {
    for (const resource of this.resources) {
      const [, release] = await resource.acquire(1, WEIGHTS[priority]);
      this.releases.push(release);
    }
  }

  give(): void {
    for (const release of this.releases.splice(0)) release();
  }
}
