/** Seconds of the machine's time: what goes on beside it takes its share, and a pause takes all of it. */

/** How many are timed at this moment. */
let going = 0;

export class Stopwatch {
  private seconds = 0;
  private since = performance.now();
  private isHeld = false;

  constructor() {
    going++;
  }

  /** Tells whether it must wait, and passes that on. */
  holds(isHeld: boolean): boolean {
    this.count();
    if (isHeld !== this.isHeld) going += isHeld ? -1 : 1;
    this.isHeld = isHeld;
    return isHeld;
  }

  /** Seconds until now. It cannot go on after that. */
  stop(): number {
    this.count();
    if (!this.isHeld) going--;
    this.isHeld = true;
    return this.seconds;
  }

  private count(): void {
    const now = performance.now();
    if (!this.isHeld) this.seconds += (now - this.since) / 1000 / Math.max(1, going);
    this.since = now;
  }
}
