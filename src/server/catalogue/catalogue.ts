/** The catalogue: one module an aggregate over one database. */
import { Bins } from './bins';
import { Clips } from './clips';
import { Crates } from './crates';
import { openDatabase, type Db } from './database';
import { Items } from './items';
import { Projects } from './projects';
import { Runs } from './runs';
import { Shelves } from './shelves';
import { Timelines } from './timelines';

export class Catalogue {
  readonly projects: Projects;
  readonly shelves: Shelves;
  readonly items: Items;
  readonly clips: Clips;
  readonly bins: Bins;
  readonly timelines: Timelines;
  readonly runs: Runs;
  readonly crates: Crates;

  constructor(private readonly db: Db) {
    this.projects = new Projects(db);
    this.shelves = new Shelves(db);
    this.items = new Items(db);
    this.clips = new Clips(db);
    this.bins = new Bins(db, this.clips);
    this.timelines = new Timelines(db);
    this.runs = new Runs(db);
    this.crates = new Crates(db);
  }

  /** `isReady`: a second connection to a catalogue that is open already. */
  static open(file: string, isReady = false): Catalogue {
    return new Catalogue(openDatabase(file, isReady));
  }

  /** Tells this catalogue from any other. */
  get id(): string {
    return (this.ownId ??= this.db.prepare('SELECT id FROM house').pluck().get() as string);
  }

  private ownId: string | null = null;

  /** Other numbers whenever something is another that views are made of; `stock` when the items that stand there are. */
  stamp(): { version: number; stock: number } {
    return this.db.prepare('SELECT version, stock FROM stamp').get() as { version: number; stock: number };
  }

  /** All or nothing. It takes the right to write at once: one that reads first could be refused in its middle. */
  transaction<T>(work: () => T): T {
    return this.db.transaction(work).immediate();
  }

  close(): void {
    this.db.close();
  }
}
