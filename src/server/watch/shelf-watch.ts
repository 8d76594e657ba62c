/** Shelves are looked through by themselves: when they come, and a little after something on them is another. */
import { Worker } from 'node:worker_threads';
import { log } from '../log/log';
import { automationActor } from '../runs/actor';
import { HeldUp } from '../stock/held-up';
import { workerFile } from '../threads/worker-file';
import { takeStockOf } from '../usecases/shelves';
import type { House } from '../house';
import type { WatchOrder, WatchWord } from './watch.worker';

const TICK_MS = 500;
/** How often it is looked which drives stand there, where no page asks for it. */
const DRIVES_MS = 5_000;
/** A file that is being written is not read before nobody wrote for so long; one that is written for ever is, now and then. */
const QUIET_MS = 2_500;
const LONGEST_MS = 60_000;
/** A shelf that took long to be looked through is left alone for so many times as long. */
const REST = 10;

interface Noticed {
  readonly firstMs: number;
  readonly lastMs: number;
}

export class ShelfWatch {
  private worker: { readonly thread: Worker; readonly heldUp: HeldUp } | null = null;
  private readonly noticed = new Map<string, Noticed>();
  /** Until when a shelf is left alone. */
  private readonly restUntil = new Map<string, number>();
  private looking: string | null = null;
  /** Looked through just now, by whoever. */
  private readonly fresh = new Set<string>();
  private watched: WatchOrder = new Map();
  private drives: string | null = null;
  private lastDrivesMs = 0;
  private isSyncing = false;
  private readonly timer: NodeJS.Timeout;

  constructor(private readonly house: House) {
    house.news.on('news', this.heard).on('stocked', this.stocked);
    this.timer = setInterval(() => void this.tick(), TICK_MS).unref();
  }

  private readonly heard = (news: { readonly type: string; readonly what?: string }) => {
    if (news.type === 'changed' && (news.what === 'drives' || news.what === 'all')) this.drives = null;
  };

  /** One that was looked through for the first time is watched from then on. */
  private readonly stocked = (shelfId: string) => {
    if (this.watched.has(shelfId)) return;
    this.fresh.add(shelfId);
    this.drives = null;
  };

  private async tick(): Promise<void> {
    if (this.isSyncing) return;
    this.isSyncing = true;
    try {
      await this.follow();
      // One after the other: they share the processors with whoever works.
      const due = [...this.noticed].find(([shelfId, at]) => this.isDue(shelfId, at))?.[0];
      if (due === undefined || this.looking !== null) return;
      // What was noticed may be that the drive went.
      await this.follow(true);
      if (this.watched.has(due)) this.look(due);
      else this.noticed.delete(due);
    } catch (error) {
      log.warn({ error }, 'the shelves could not be watched');
    } finally {
      this.isSyncing = false;
    }
  }

  /** Which shelves are there, where that may be another. */
  private async follow(isNow = false): Promise<void> {
    if (!isNow && this.drives !== null && Date.now() - this.lastDrivesMs < DRIVES_MS) return;
    this.lastDrivesMs = Date.now();
    const drives = await this.house.ask({ ask: 'drives', anew: false });
    if (drives === this.drives) return;
    this.drives = drives;
    this.house.mounts.reload();
    const shelves = await this.house.ask({ ask: 'shelves' });
    // What was never looked through waits for whoever added it; a tape is read in order or not at all.
    const there = shelves.filter(({ mountPath, kind, stocktakeAt }) => mountPath !== null && kind !== 'tape' && stocktakeAt !== null);
    const order = new Map(there.map(({ id, mountPath }) => [id, mountPath!]));
    for (const [id, root] of order) if (this.watched.get(id) !== root && !this.fresh.has(id)) this.notice(id);
    this.fresh.clear();
    this.watched = order;
    this.thread().postMessage(order);
  }

  private thread(): Worker {
    if (this.worker) return this.worker.thread;
    const heldUp = new HeldUp();
    const thread = new Worker(workerFile('watch'), { workerData: { touch: heldUp.touch } });
    thread.unref();
    this.worker = { thread, heldUp };
    const end = () => {
      if (this.worker?.thread !== thread) return;
      heldUp.end();
      this.worker = null;
      this.watched = new Map();
      this.drives = null;
      void thread.terminate();
    };
    heldUp.signal.addEventListener('abort', end);
    thread.on('error', (error) => {
      log.warn({ error }, 'the thread that watches shelves ended');
      end();
    });
    thread.on('message', (word: WatchWord) => {
      if ('changed' in word) this.notice(word.changed);
      else log.warn({ shelf: word.lost, why: word.why }, 'a shelf cannot be watched');
    });
    return thread;
  }

  private notice(shelfId: string): void {
    const now = Date.now();
    this.noticed.set(shelfId, { firstMs: this.noticed.get(shelfId)?.firstMs ?? now, lastMs: now });
  }

  private isDue(shelfId: string, { firstMs, lastMs }: Noticed): boolean {
    const now = Date.now();
    if (now < (this.restUntil.get(shelfId) ?? 0)) return false;
    // Runs enter what they make themselves: looked at once they are over, or after a while.
    const isQuiet = now - lastMs >= QUIET_MS && this.house.runner.liveIds().length === 0;
    return isQuiet || now - firstMs >= LONGEST_MS;
  }

  private look(shelfId: string): void {
    this.noticed.delete(shelfId);
    const { catalogue, runner } = this.house;
    const shelf = catalogue.shelves.get(shelfId);
    if (!shelf) return;
    const since = Date.now();
    this.looking = shelfId;
    void takeStockOf(this.house, automationActor('watch'), shelf)
      .then((id) => runner.finished(id))
      .catch((error: unknown) => log.warn({ error, shelf: shelfId }, 'a shelf could not be looked through'))
      .finally(() => {
        this.looking = null;
        this.restUntil.set(shelfId, Date.now() + REST * (Date.now() - since));
      });
  }

  close(): void {
    clearInterval(this.timer);
    this.house.news.off('news', this.heard).off('stocked', this.stocked);
    this.worker?.heldUp.end();
    void this.worker?.thread.terminate();
  }
}
