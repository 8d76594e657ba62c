/** Whether a thread waits for a drive that does not answer. */
import { silentDrives } from '../threads/silent-drives';
import { looker } from './looker';
import { newTouch, touchedNow } from './touching';

const LOOK_MS = 500;
/** At one folder for so many looks, one after the other. */
const MOST_LOOKS = 4;

/** Looked at from outside while the thread works; `signal` is given once the drive that it waits for is known to be silent. */
export class HeldUp {
  readonly touch = newTouch();
  private readonly found = new AbortController();
  readonly signal = this.found.signal;
  private at: string | null = null;
  private looks = 0;
  private readonly timer = setInterval(() => this.look(), LOOK_MS).unref();

  private look(): void {
    const now = touchedNow(this.touch);
    this.looks = now !== null && now === this.at ? this.looks + 1 : 0;
    this.at = now;
    if (now === null || this.looks < MOST_LOOKS) return;
    if (silentDrives.has(now)) this.found.abort();
    else looker.watch(now);
  }

  end(): void {
    clearInterval(this.timer);
  }
}
