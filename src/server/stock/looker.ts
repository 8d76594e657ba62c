/**
 * Whether a folder answers, asked in a thread and waited for a while only: the server's event loop never touches a drive
 * that may hold it for ever. The thread that such a drive holds is left to it, and tells when it answers again.
 */
import { Worker } from 'node:worker_threads';
import { log } from '../log/log';
import { workerFile } from '../threads/worker-file';
import { silentDrives } from '../threads/silent-drives';

/** After it was begun; a thread that did not get to it yet is not the drive's fault. */
const PATIENCE_MS = 3_000;
const MOST_BEHIND_MS = 15_000;
/** What answered so long ago answers. */
const FRESH_MS = 1_000;
const ROUND_MS = 1_000;
/** Folders that nobody asked for so long are not looked at any more. */
const ASKED_WITHIN_MS = 120_000;
const MOST_BESIDE = 16;

const BEGUN = 0;
const ENDED = 1;

/** A thread with what it was asked, in order. */
class Crew {
  private readonly counts = new SharedArrayBuffer(8);
  private readonly words = new Int32Array(this.counts);
  private readonly worker = new Worker(workerFile('look'), { workerData: { counts: this.counts } });
  /** By its number: what is not answered yet, and since when it stands there. */
  private readonly waiting = new Map<number, { readonly folder: string; readonly sinceMs: number }>();
  private asked = 0;

  /** It cannot be started, or ended for a fault of ours. */
  isBroken = false;

  constructor() {
    this.worker.unref();
    this.worker.on('error', (error) => {
      this.isBroken = true;
      log.error({ error }, 'the thread that looks at drives ended');
    });
  }

  ask(folder: string): number {
    this.waiting.set(++this.asked, { folder, sinceMs: Date.now() });
    this.worker.postMessage(folder);
    return this.asked;
  }

  hasAnswered(number: number): boolean {
    return Atomics.load(this.words, ENDED) >= number;
  }

  /** Waits on the spot; false where it did not answer in time. */
  waitFor(number: number): boolean {
    const since = this.waiting.get(number)?.sinceMs ?? Date.now();
    for (;;) {
      const ended = Atomics.load(this.words, ENDED);
      if (ended >= number) return true;
      const waited = Date.now() - since;
      const limit = Atomics.load(this.words, BEGUN) > ended ? PATIENCE_MS : MOST_BEHIND_MS;
      if (waited >= limit) return false;
      Atomics.wait(this.words, ENDED, ended, Math.min(limit - waited, 200));
    }
  }

  /** The folder that holds it up for too long; null while it works or has nothing to do. */
  heldUpBy(): string | null {
    const ended = Atomics.load(this.words, ENDED);
    for (const number of this.waiting.keys()) if (number <= ended) this.waiting.delete(number);
    const first = this.waiting.get(ended + 1);
    if (!first || Atomics.load(this.words, BEGUN) <= ended) return null;
    return Date.now() - first.sinceMs >= PATIENCE_MS ? first.folder : null;
  }

  inHand(): string | null {
    return this.waiting.get(Atomics.load(this.words, ENDED) + 1)?.folder ?? null;
  }

  isIdle(): boolean {
    return Atomics.load(this.words, ENDED) === this.asked;
  }

  end(): void {
    void this.worker.terminate();
  }
}

class Looker {
  private crew: Crew | null = null;
  /** Threads that a silent drive holds, by its folder. */
  private readonly held = new Map<string, Crew>();
  /** A thread each for folders that are looked at together, by folder. */
  private readonly beside = new Map<string, Crew>();
  private readonly asked = new Map<string, { lastMs: number; answeredMs: number }>();
  private timer: NodeJS.Timeout | null = null;

  /** True where it does not answer within a few seconds, or did not lately. */
  isSilent(folder: string): boolean {
    if (silentDrives.has(folder)) return true;
    const known = this.watch(folder);
    if (Date.now() - known.answeredMs < FRESH_MS) return false;
    for (;;) {
      const beside = this.beside.get(folder);
      const crew = beside ?? this.crewNow();
      if (crew.waitFor(beside ? 1 : crew.ask(folder))) {
        known.answeredMs = Date.now();
        return false;
      }
      // Another one may stand before it.
      const first = crew.inHand();
      this.leave(crew, first ?? folder);
      if (first === null || first === folder) return true;
    }
  }

  /** It is looked at from now on, and told when it does not answer. */
  watch(folder: string): { answeredMs: number } {
    const known = this.asked.get(folder) ?? { lastMs: 0, answeredMs: 0 };
    known.lastMs = Date.now();
    this.asked.set(folder, known);
    this.timer ??= setInterval(() => this.round(), ROUND_MS).unref();
    return known;
  }

  /** At one time, in the place of one after the other: shares of one server and drives of one box fall silent together. */
  watchTogether(folders: readonly string[]): void {
    for (const folder of folders) {
      if (this.beside.size >= MOST_BESIDE) return;
      if (silentDrives.has(folder) || this.held.has(folder) || this.beside.has(folder)) continue;
      this.watch(folder);
      const crew = new Crew();
      crew.ask(folder);
      this.beside.set(folder, crew);
    }
  }

  private crewNow(): Crew {
    if (this.crew?.isBroken) this.crew = null;
    return (this.crew ??= new Crew());
  }

  private leave(crew: Crew, folder: string): void {
    log.warn({ folder }, 'a drive does not answer');
    if (this.crew === crew) this.crew = null;
    if (this.beside.get(folder) === crew) this.beside.delete(folder);
    this.held.set(folder, crew);
    this.asked.delete(folder);
    silentDrives.add(folder);
  }

  /** Drives fall silent, and answer again, while nobody asks. */
  private round(): void {
    for (const [folder, crew] of this.held) {
      if (!crew.isIdle()) continue;
      crew.end();
      this.held.delete(folder);
      log.warn({ folder }, 'a drive answers again');
      silentDrives.remove(folder);
    }
    for (const [folder, crew] of this.beside) {
      if (crew.heldUpBy() !== null) this.leave(crew, folder);
      else if (crew.isIdle() || crew.isBroken) {
        crew.end();
        this.beside.delete(folder);
      }
    }
    const stuck = this.crew?.heldUpBy() ?? null;
    if (this.crew && stuck !== null) this.leave(this.crew, stuck);
    const now = Date.now();
    const crew = this.crewNow();
    const isFree = crew.isIdle();
    for (const [folder, { lastMs }] of this.asked) {
      if (now - lastMs > ASKED_WITHIN_MS) this.asked.delete(folder);
      else if (isFree) crew.ask(folder);
    }
  }
}

/** One for all that happens in this process. */
export const looker = new Looker();
