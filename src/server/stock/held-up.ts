/** Whether a thread waits for a drive that does not answer. */
import { silentDrives } from '../threads/silent-drives';
import { looker } from './looker';
import { newTouch, touchedNow } from './touching';

const LOOK_MS = 500;

/** Looked at from outside while the thread works; `signal` is given once the drive that it waits for is known to be silent. */
export class HeldUp {
  readonly touch = newTouch();
  private readonly found = new AbortController();
  readonly signal = this.found.signal;
  private at: string | null = null;
  private readonly timer = setInterval(() => this.look(), LOOK_MS).unref();

  private look(): void {
    const now = touchedNow(this.touch);
    const isStill = now !== null && now === this.at;
    this.at = now;
    if (!isStill) return;
    if (silentDrives.has(now)) this.found.abort();
    // Whether it is the drive that takes so long, the looker finds out.
    else looker.watch(now);
  }

  end(): void {
    clearInterval(this.timer);
  }
}
