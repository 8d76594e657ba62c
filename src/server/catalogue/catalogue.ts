/** The catalogue: one module an aggregate over one database. */
import type { Place } from '../../core/media/item';
import { Automations } from './automations';
import { Bins } from './bins';
import { CardRules } from './card-rules';
import { Clips } from './clips';
import { Crates } from './crates';
import { type Db, writeIfFree } from './db';
import { openDatabase, versionOf } from './database';
import { DecodedFrames } from './decoded';
import { Holdings } from './holdings';
import { ItemFinder } from './item-finder';
import { Items } from './items';
import { Moves } from './moves';
import { Joins } from './join-clips';
import { Parts } from './parts';
import { LearnedPaces } from './paces';
import { Projects } from './projects';
import { RunOutcomes } from './run-outcomes';
import { RunTexts } from './run-texts';
import { Runs } from './runs';
import { Schemes } from './schemes';
import { Shelves } from './shelves';
import { Sources } from './sources';
import { SortQuestions } from './sort-questions';
import { Stocktakes } from './stocktakes';
import { TellFinder } from './tell-finder';
import { Timelines } from './timelines';
import { movedSince, type StartedAs } from './started-as';
import { twinsIn } from './twins';
import type { AskTwins } from '../../core/planning/taking/twins';

export class Catalogue {
  readonly projects: Projects;
  readonly shelves: Shelves;
  readonly items: Items;
  readonly clips: Clips;
  readonly sources: Sources;
  readonly holdings: Holdings;
  readonly joins: Joins;
  readonly parts: Parts;
  readonly bins: Bins;
  readonly automations: Automations;
  readonly timelines: Timelines;
  readonly runs: Runs;
  readonly outcomes: RunOutcomes;
  readonly stocktakes: Stocktakes;
  readonly runTexts: RunTexts;
  readonly crates: Crates;
  readonly decoded: DecodedFrames;
  readonly moves: Moves;
  readonly paces: LearnedPaces;
  readonly schemes: Schemes;
  readonly cardRules: CardRules;
  readonly sort: SortQuestions;

  constructor(private readonly db: Db) {
    this.projects = new Projects(db);
    this.automations = new Automations(db);
    this.shelves = new Shelves(db);
    this.items = new Items(db);
    this.parts = new Parts(db);
    this.clips = new Clips(db, this.parts);
    this.sources = new Sources(db);
    this.holdings = new Holdings(db);
    this.joins = new Joins(db, this.clips, this.projects);
    this.bins = new Bins(db, this.clips);
    this.timelines = new Timelines(db);
    this.runs = new Runs(db);
    this.outcomes = new RunOutcomes(db);
    this.stocktakes = new Stocktakes(db);
    this.runTexts = new RunTexts(db);
    this.crates = new Crates(db);
    this.decoded = new DecodedFrames(db);
    this.moves = new Moves(db);
    this.paces = new LearnedPaces(db);
    this.schemes = new Schemes(db);
    this.cardRules = new CardRules(db);
    this.sort = new SortQuestions(db);
  }

  /** `isReady`: a second connection to a catalogue that is open already. `busyMs`: see openDatabase. */
  static open(file: string, isReady = false, busyMs?: number): Catalogue {
    return new Catalogue(openDatabase(file, isReady, busyMs));
  }

  /** Grows with every row that this connection changes. */
  get changes(): number {
    return this.db.prepare('SELECT total_changes()').pluck().get() as number;
  }

  /** Tells this catalogue from any other. */
  get id(): string {
    return (this.ownId ??= this.db.prepare('SELECT id FROM house').pluck().get() as string);
  }

  private ownId: string | null = null;

  /**
   * Where it is started now. Gives what tells that it is a copy or was restored, in words; it is another catalogue from then on,
   * so that nothing of it is mistaken for what the other one leaves on shelves. Null while it is where it was.
   */
  start(now: StartedAs): string | null {
    return this.transaction(() => {
      const known = this.db.prepare('SELECT started_as FROM house').pluck().get() as string | null;
      const moved = movedSince(known === null ? null : (JSON.parse(known) as StartedAs), now);
      this.db.prepare('UPDATE house SET started_as = ?').run(JSON.stringify(now));
      if (moved !== null) this.db.prepare('UPDATE house SET id = lower(hex(randomblob(4)))').run();
      this.ownId = null;
      return moved;
    });
  }

  /** Another number whenever something of the scope is another; see migrations/006_counted.sql. */
  stamp(scope: string): number {
    return (this.db.prepare('SELECT version FROM stamps WHERE scope = ?').pluck().get(scope) as number | undefined) ?? 0;
  }

  /**
   * Another text whenever anything is another that plans may be made of: of any project, any shelf, any run. What a run
   * journals of its steps is none of it.
   */
  state(): string {
    const stamps = this.db.prepare("SELECT group_concat(scope || ' ' || version, char(10)) FROM stamps").pluck().get() as string | null;
    return `${stamps ?? ''} ${this.runs.stateOfAll()}`;
  }

  /** Finds items by what is known of them, on these shelves; see item-finder.ts. */
  finder(shelfIds: readonly string[], scope: Place | null): ItemFinder {
    return new ItemFinder(this.db, this.items, shelfIds, scope);
  }

  /** Sources that look like one another; see twins.ts. */
  twins(): AskTwins {
    return twinsIn(this.db, this.cardRules.cards());
  }

  /** Finds items by what a timeline tells of them, on these shelves; see tell-finder.ts. */
  tellFinder(shelfIds: readonly string[], scope: Place | null): TellFinder {
    return new TellFinder(this.db, shelfIds, scope);
  }

  /** All or nothing. It takes the right to write at once: one that reads first could be refused in its middle. */
  /** Number of the last migration that was applied. */
  get schema(): number {
    return versionOf(this.db);
  }

  transaction<T>(work: () => T): T {
    return this.db.transaction(work).immediate();
  }

  /** A transaction that is skipped while the catalogue is busy: for what is only kept to be quicker next time. */
  keepIfFree(work: () => void): void {
    writeIfFree(this.db, () => this.transaction(work));
  }

  /** Everything read in it is as of one moment, whoever writes meanwhile. */
  moment<T>(read: () => T): T {
    return this.db.transaction(read).deferred();
  }

  close(): void {
    this.db.close();
  }
}
