/** One running instance: configuration, catalogue, shelves, runner, and the line on which news is told. */
import { EventEmitter } from 'node:events';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { LRUCache } from 'lru-cache';
import { STOCKTAKE } from '../core/planning/stocktake/stocktake';
import { Catalogue } from './catalogue/catalogue';
import type { Config } from './config';
import { DriveBay } from './devices/drive-bay';
import { Posters } from './media/poster';
import { PREVIEW_FOLDER, Previews } from './media/previews';
import { Samples } from './media/samples';
import { HouseLock } from './catalogue/house-lock';
import { startedAs } from './catalogue/started-as';
import { endCommands } from './outside/run-command';
import { Runner } from './runs/runner';
import { looker } from './stock/looker';
import { Mounts } from './stock/mounts';
import type { ReadyJson } from './questions/ready-json';
import type { AnswerTo, Question } from './questions/questions';
import { Caches } from './caches/cache';
import { folderCache } from './caches/folder-cache';
import { isPictureName } from './media/picture-cache';
import { Uploads } from './uploads/uploads';
import { askStudy, dropWaiting, lanesNow } from './questions/ask';
import { silentDrives } from './threads/silent-drives';
import { closeThreads, waitingJobs } from './threads/pool';

/** What of the catalogue is another: pages ask again only what depends on it. `all`: whatever a run may have done. */
export type Topic = 'all' | 'projects' | 'clips' | 'bins' | 'timelines' | 'crates' | 'drives' | 'stock' | 'schemes' | 'cards';

/** `projectId`: of which project alone; null where it may be any. */
export interface Change {
  readonly what: Topic;
  readonly projectId: string | null;
}

export type News =
  { readonly type: 'run'; readonly id: number } | { readonly type: 'stocktake'; readonly shelfId: string } | ({ readonly type: 'changed' } & Change);

/** A worker that writes holds up the event loop no longer than this; who asked waits and tries again. */
const MOST_HELD_UP_MS = 50;
/** After the last of many runs or stocktakes. */
const NOTE_PAUSE_MS = 15_000;
const LAST_WAIT_MS = 5_000;
const NO_SHELF = '';

export class House {
  private readonly lock: HouseLock;
  readonly catalogue: Catalogue;
  readonly bay: DriveBay | null;
  readonly mounts: Mounts;
  readonly runner: Runner;
  readonly uploads: Uploads;
  readonly posters: Posters;
  readonly previews: Previews;
  readonly samples: Samples;
  readonly caches = new Caches();
  readonly news = new EventEmitter<{ news: [News]; stocked: [string] }>();

  /** Where the catalogue was started before, in words, where this is a copy of it or it was restored; null otherwise. */
  readonly copiedFrom: string | null;

  private isClosing = false;

  constructor(readonly config: Config) {
    mkdirSync(config.dataFolder, { recursive: true });
    this.lock = new HouseLock(config.dataFolder);
    this.catalogue = Catalogue.open(join(config.dataFolder, 'catalogue.sqlite'), false, MOST_HELD_UP_MS);
    this.copiedFrom = this.catalogue.start(startedAs(config.dataFolder, new Date().toISOString()));
    this.bay = config.bayFolder ? new DriveBay(config.bayFolder) : null;
    this.mounts = new Mounts(join(config.dataFolder, 'mounts.json'), config.roots, this.bay, looker);
    this.runner = new Runner(config, this.catalogue, this.mounts, (id) => this.heardOf(id));
    this.uploads = new Uploads(join(config.dataFolder, 'uploads'));
    this.posters = new Posters(join(config.dataFolder, 'posters'));
    this.previews = new Previews(join(config.dataFolder, 'previews'));
    this.samples = new Samples(join(config.dataFolder, 'samples'));
    this.news.setMaxListeners(0);
    this.registerCaches();
    silentDrives.on('fell', this.driveFell).on('back', this.driveIsBack);
    looker.watchTogether(this.mounts.knownRoots());
  }

  private readonly driveFell = () => {
    this.mounts.reload();
    looker.watchTogether(this.mounts.knownRoots());
    this.changed('drives');
  };

  private readonly driveIsBack = () => this.changed('drives');

  /** All that is kept to be quicker, and can be made again. */
  private registerCaches(): void {
    // What belongs to a run, its texts and half-made files, is no cache: it goes with the run.
    const at = (name: string) => join(this.config.dataFolder, name);
    this.caches.register(folderCache('posters', 'made again as they are looked at, a moment each', at('posters'), isPictureName));
    this.caches.register(folderCache('previews', 'made again as they are played, about as long as the clip', at('previews'), isPictureName));
    this.caches.register(
      folderCache('previews at home', 'made again as they are played, about as long as the clip', () => this.previewHomes(), isPictureName),
    );
    this.caches.register(folderCache('samples', 'made again as they are asked for, some seconds each', at('samples'), isPictureName));
    this.caches.register(folderCache('uploads', 'sent again by whoever brings them in', at('uploads')));
  }

  /** Folders of previews in the homes of projects, on drives that are plugged in. */
  private previewHomes(): string[] {
    return this.catalogue.projects.list().flatMap(({ homes }) => {
      try {
        return homes.cache ? [join(this.mounts.resolve(homes.cache), PREVIEW_FOLDER)] : [];
      } catch {
        // Its drive is away, or a link in its place leads elsewhere.
        return [];
      }
    });
  }

  /** Outside commands that turn other formats into OTIO; written by whoever runs the server. */
  get bridgesFile(): string {
    return join(this.config.dataFolder, 'bridges.json');
  }

  /** Answers a question about projects in a worker thread, as text that is ready to be sent. */
  study<Q extends Question>(question: Q): Promise<ReadyJson<AnswerTo<Q['ask']>>> {
    return askStudy(this.config, question);
  }

  /** Like `study`, but gives the answer itself, for the server's own use. */
  async ask<Q extends Question>(question: Q): Promise<AnswerTo<Q['ask']>> {
    return JSON.parse((await this.study(question)).json) as AnswerTo<Q['ask']>;
  }

  /** What waits, and what is being worked on, in the lanes of questions and in the threads. */
  workNow() {
    return { questions: lanesNow(), threads: waitingJobs() };
  }

  /** Tells whoever looks at a page what is another. */
  changed(what: Topic, projectId: string | null = null): void {
    this.tell({ type: 'changed', what, projectId });
  }

  tell(news: News): void {
    this.news.emit('news', news);
  }

  private heardOf(id: number): void {
    this.tell({ type: 'run', id });
    const isOver = this.runner.progress(id) === null;
    if (isOver) this.noteHouse();
    const shelfId = this.shelfOfStocktake(id);
    if (shelfId === null) return;
    this.tell({ type: 'stocktake', shelfId });
    if (!isOver || this.isClosing) return;
    this.changed('stock');
    this.news.emit('stocked', shelfId);
  }

  /** The shelf that the run looks through; null where it does other things. Asked at every word of it. */
  private shelfOfStocktake(id: number): string | null {
    const { runs } = this.catalogue;
    const known = this.stocktaking.get(id) ?? (runs.get(id)?.kind === STOCKTAKE ? runs.step(id, 0).step.from!.shelfId : NO_SHELF);
    this.stocktaking.set(id, known);
    return known === NO_SHELF ? null : known;
  }

  private readonly stocktaking = new LRUCache<number, string>({ max: 1000 });

  private noting: NodeJS.Timeout | null = null;

  /** Leaves a word on the shelves of what is read here, once for many changes; nobody waits for it. */
  noteHouse(): void {
    if (this.noting !== null || this.isClosing) return;
    this.noting = setTimeout(() => {
      this.noting = null;
      if (!this.isClosing) void this.study({ ask: 'note-house' }).catch(() => undefined);
    }, NOTE_PAUSE_MS).unref();
  }

  /** False where something could not be ended: a drive that does not answer holds it, and this process with it. */
  async close(): Promise<boolean> {
    this.isClosing = true;
    if (this.noting !== null) clearTimeout(this.noting);
    await this.runner.shutdown();
    // Nobody waits for a look at a file any more.
    endCommands();
    dropWaiting();
    silentDrives.off('fell', this.driveFell).off('back', this.driveIsBack);
    const areEnded = await Promise.race([closeThreads().then(() => true), wait(LAST_WAIT_MS, false, { ref: false })]);
    this.catalogue.close();
    this.lock.release();
    return areEnded && silentDrives.now().length === 0;
  }
}

declare global {
  // The pages are bundled apart from the server's entry; this is how they find the one instance.
  var millShelfHouse: House | undefined;
}

/** The running instance. Throws when none was started, which is a mistake in the entry. */
export function house(): House {
  if (!globalThis.millShelfHouse) throw new Error('No instance is running: start the server by its own entry, dist/main.mjs.');
  return globalThis.millShelfHouse;
}
