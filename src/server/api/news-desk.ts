/**
 * One line of news for all open pages (server-sent events): runs, stocktakes, changes of the catalogue. What happened is
 * gathered and told once a tick to all, from counters; a page that does not read is let go, and asks again by itself.
 */
import type { ServerResponse } from 'node:http';
import type { Change, House, News } from '../house';
import { log } from '../log/log';
import { runSummary } from '../usecases/runs';
import { stocktakeView } from '../usecases/shelves';

const TICK_MS = 400;
/** How often it is looked which drives stand there, while a page listens. */
const DRIVES_MS = 1_000;
/** A page that hears nothing for longer takes the line for lost. */
const HEARTBEAT_MS = 4_000;
/** What a reader may leave unread. */
const MOST_UNREAD_BYTES = 256 * 1024;
export const MOST_READERS = 300;

export class NewsDesk {
  private readonly readers = new Set<ServerResponse>();
  private readonly runs = new Set<number>();
  private readonly stocktakes = new Set<string>();
  /** What is another, each once. */
  private readonly changes = new Map<string, Change>();
  /** What has changed is told to those who listen; who comes later is told when that was. */
  private lastChangeMs = 0;
  private lastBeatMs = 0;
  private timer: NodeJS.Timeout | null = null;
  private lastLookMs = 0;
  /** While it is being looked which drives stand there: one that does not answer holds up nothing but this. */
  private isLooking = false;
  /** Where every shelf stood at the last look; null before the first. */
  private drives: string | null = null;

  constructor(private readonly house: House) {
    house.news.on('news', (news) => this.heard(news));
  }

  /** How many pages listen. */
  get size(): number {
    return this.readers.size;
  }

  /** Begins to tell a page; false when there are too many. */
  open(response: ServerResponse): boolean {
    if (this.readers.size >= MOST_READERS) return false;
    response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store' });
    response.write(eventOf('hello', { changedAgoMs: Date.now() - this.lastChangeMs }));
    this.readers.add(response);
    const leave = () => this.leave(response);
    response.on('close', leave).on('error', leave);
    this.timer ??= setInterval(() => this.tryTick(), TICK_MS);
    return true;
  }

  close(): void {
    for (const reader of this.readers) reader.destroy();
  }

  private leave(reader: ServerResponse): void {
    this.readers.delete(reader);
    if (this.readers.size > 0 || !this.timer) return;
    clearInterval(this.timer);
    this.timer = null;
    // Nobody heard it; a page that comes, or comes back, asks for everything.
    this.runs.clear();
    this.stocktakes.clear();
    this.changes.clear();
  }

  private heard(news: News): void {
    if (news.type !== 'stocktake') this.lastChangeMs = Date.now();
    if (this.readers.size === 0) return;
    if (news.type === 'run') this.runs.add(news.id);
    else if (news.type === 'stocktake') this.stocktakes.add(news.shelfId);
    else this.changes.set(`${news.what} ${news.projectId}`, { what: news.what, projectId: news.projectId });
  }

  /** A catalogue that cannot be read for a moment is no reason to end: what was heard is told with the next tick. */
  private tryTick(): void {
    try {
      this.tick();
    } catch (error) {
      log.warn({ error }, 'the news could not be told');
    }
  }

  /** Drives come and go without anybody asking: whoever looks at a page sees it within two seconds. */
  private async lookAtDrives(): Promise<void> {
    if (this.isLooking || Date.now() - this.lastLookMs < DRIVES_MS) return;
    this.lastLookMs = Date.now();
    this.isLooking = true;
    try {
      const drives = await this.house.ask({ ask: 'drives', anew: false });
      if (this.drives !== null && this.drives !== drives) {
        this.house.mounts.reload();
        this.house.changed('drives');
      }
      this.drives = drives;
    } catch (error) {
      log.warn({ error }, 'the drives could not be looked at');
    } finally {
      this.isLooking = false;
    }
  }

  private tick(): void {
    void this.lookAtDrives();
    const pieces: string[] = [];
    for (const id of new Set([...this.runs, ...this.house.runner.liveIds()])) {
      const run = this.house.catalogue.runs.get(id);
      if (run) pieces.push(eventOf('run', runSummary(this.house, run)));
    }
    for (const shelfId of this.stocktakes) pieces.push(eventOf('stocktake', stocktakeView(this.house, shelfId)));
    if (this.changes.size > 0) pieces.push(eventOf('changed', [...this.changes.values()]));
    this.runs.clear();
    this.stocktakes.clear();
    this.changes.clear();
    const now = Date.now();
    if (now - this.lastBeatMs >= HEARTBEAT_MS) {
      this.lastBeatMs = now;
      pieces.push(eventOf('heartbeat', null));
    }
    if (pieces.length > 0) this.tell(pieces.join(''));
  }

  private tell(text: string): void {
    for (const reader of this.readers) {
      if (reader.writableLength > MOST_UNREAD_BYTES) reader.destroy();
      else reader.write(text);
    }
  }
}

function eventOf(type: string, data: unknown): string {
  return `event: ${type}\ndata: ${JSON.stringify(data)}\n\n`;
}
