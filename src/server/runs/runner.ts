/**
 * The one runner under all plans. Every step is journalled before and after; after a crash finished steps are not
 * done again and half-made files are removed. What is made of other steps' results is made only when all of them are
 * done and still stand. One writer a shelf, encoders bound by cores; runs share them.
 */
import { setTimeout as wait } from 'node:timers/promises';
import { isDerived, type Step } from '../../core/planning/plan/step';
import type { Plan } from '../../core/planning/plan/plan';
import type { Catalogue } from '../catalogue/catalogue';
import { isBusy, isOutOfRoom } from '../errors/storage-errors';
import type { RunPriority, RunRow, StepOutline, StepRow } from '../catalogue/runs';
import type { Config } from '../config';
import type { Places } from '../stock/mounts';
import { runChange, runTogether } from './ask-change';
import type { ActionTable } from '../actions/action';
import { ACTIONS, actionOf } from '../actions/actions';
import { cleanUp, clearLeftTwins, HALF_MADE_REMOVED } from '../actions/clean-up';
import { takeUp } from './crash-record';
import { takeUpSteps } from './take-up-steps';
import { THIS_MACHINE } from './actor';
import { enterRun } from './enter-run';
import { explainError, StepStopped } from '../errors/explain-error';
import { LiveRun, type RunProgress } from './live-run';
import { mayResume } from './may-resume';
import { lookAgain } from './look-again';
import { Handed } from '../actions/made/handed';
import { inBatches, shelvesOf, stepName, togetherWith, twinOf } from './run-steps';
import { MAKERS } from '../kinds/kinds';
import type { Seat } from './seat';
import type { StepContext } from '../actions/step-context';
import { silentDrives } from '../threads/silent-drives';
import { Turns } from './turns';
import { log, logged } from '../log/log';

/** How many steps of one run wait for a resource at a time: few, so that runs take turns. */
const STEPS_AT_ONCE = 2;
/** How often what was found gone is made again before the run gives up. */
const MOST_ROUNDS = 3;
const ROOM_PAUSE_MS = 1_000;
const BUSY_PAUSE_MS = 25;
const SILENT_GRACE_MS = 5_000;
const LONG_BUSY_MS = 5_000;
const BEING_UNDONE = 'Left out, because this run is being undone.';

const noMatter = () => undefined;

export class Runner {
  private readonly live = new Map<number, LiveRun>();
  private readonly driving = new Map<number, Promise<void>>();
  private readonly turns: Turns;
  /** Work of steps that were given up, or failed: over when it resolves. */
  private readonly leftBehind = new Map<string, Promise<void>>();

  constructor(
    private readonly config: Config,
    private readonly catalogue: Catalogue,
    private readonly places: Places,
    /** Told at every change of a run. */
    private readonly tell: (runId: number) => void,
    private readonly table: ActionTable = ACTIONS,
  ) {
    this.turns = new Turns(table);
    silentDrives.on('fell', this.heardSilence);
  }

  /** A drive that is only slow has some time to answer again. */
  private readonly heardSilence = () => void setTimeout(() => this.giveUpSilent(), SILENT_GRACE_MS).unref();

  private giveUpSilent(): void {
    for (const live of this.live.values()) live.giveUp((shelfId) => this.places.keepsSilent(shelfId));
  }

  /**
   * Takes up what a crash or a stop left unfinished. Paused runs stay paused, and what ended the process twice; all of them where
   * the catalogue is a copy or was restored (`copiedFrom`: in words, where it was before).
   */
  recover(copiedFrom: string | null = null): void {
    for (const run of this.catalogue.runs.unfinished()) {
      if (copiedFrom === null) takeUpSteps(run.id, this.table, { catalogue: this.catalogue, places: this.places });
      const { paused, trouble } = takeUp(this.catalogue.runs, run, copiedFrom);
      this.drive(run.id, paused, trouble);
    }
  }

  /** Enters the plan as a run and begins it. Throws RunRefused. */
  submit(plan: Plan, digest: string | null = null, actor = THIS_MACHINE): number {
    const id = enterRun(this.catalogue, plan, { digest, actor });
    this.begin(id);
    return id;
  }

  /** Begins a run that was entered; false when it has begun. */
  begin(id: number): boolean {
    if (this.live.has(id)) return false;
    this.drive(id, false);
    return true;
  }

  /** False when the run is not going on. */
  pause(id: number): boolean {
    const live = this.live.get(id);
    if (!live || live.paused || live.stopping) return false;
    this.catalogue.runs.setState(id, 'paused', new Date().toISOString());
    this.catalogue.runs.setGoing(id, false);
    live.pause();
    this.tell(id);
    return true;
  }

  /** Asks a run that goes on for the same again: false where it is about to end, so that another run must do it. */
  askAgain(id: number): boolean {
    return this.live.get(id)?.askAgain() ?? false;
  }

  /** Goes on with a paused run, or tries again what failed or was cancelled. Throws RunRefused where that is not allowed. */
  resume(id: number): boolean {
    const live = this.live.get(id);
    if (live) {
      if (!live.paused) return false;
      this.catalogue.runs.setCrashes(id, 0);
      this.catalogue.runs.setState(id, 'running', new Date().toISOString());
      this.catalogue.runs.setGoing(id, true);
      live.trouble = null;
      live.resume();
      this.tell(id);
      return true;
    }
    if (!mayResume(this.catalogue, id)) return false;
    this.catalogue.runs.again(id);
    this.drive(id, false);
    return true;
  }

  cancel(id: number): boolean {
    const live = this.live.get(id);
    if (!live || live.stopping) return false;
    live.stop('cancel');
    return true;
  }

  /** From its next step on. False when it does not go on. */
  prefer(id: number, priority: RunPriority): boolean {
    const live = this.live.get(id);
    if (!live) return false;
    this.catalogue.runs.setPriority(id, priority);
    live.priority = priority;
    this.tell(id);
    return true;
  }

  progress(id: number): RunProgress | null {
    return this.live.get(id)?.progress(this.turns.behind(id)) ?? null;
  }

  liveIds(): number[] {
    return [...this.live.keys()];
  }

  /** Resolves when the run is over. */
  async finished(id: number): Promise<RunRow> {
    await this.driving.get(id);
    return this.catalogue.runs.get(id)!;
  }

  /** Stops without journalling an end: the next start goes on. */
  async shutdown(): Promise<void> {
    silentDrives.off('fell', this.heardSilence);
    for (const live of this.live.values()) live.stop('shutdown');
    this.giveUpSilent();
    await Promise.all(this.driving.values());
  }

  private drive(id: number, paused: boolean, trouble: string | null = null): void {
    const live = new LiveRun(id, this.places);
    live.priority = this.catalogue.runs.get(id)?.priority ?? 'normal';
    live.trouble = trouble;
    if (paused) live.pause();
    this.live.set(id, live);
    const done = logged({ run: id }, () => this.runSteps(live, paused))
      .catch((error: unknown) => {
        if (!(error instanceof StepStopped)) log.error({ run: id, error }, 'a run stopped for a fault of ours');
      })
      .finally(() => {
        this.restOf(id);
        this.live.delete(id);
        this.driving.delete(id);
        this.tell(id);
      });
    this.driving.set(id, done);
  }

  /** Marks the run as not working, so that a crash of the process from now on is not blamed on it. */
  private restOf(id: number): void {
    try {
      this.catalogue.runs.setGoing(id, false);
    } catch (error) {
      if (!isOutOfRoom(error) && !isBusy(error)) throw error;
    }
  }

  /**
   * Journals something, or changes the catalogue. When the disk of the catalogue is full the run waits and says so: it
   * goes on by itself when there is room.
   */
  private async journal<T>(live: LiveRun, write: () => T | Promise<T>): Promise<T> {
    const since = Date.now();
    for (;;) {
      try {
        const written = await write();
        live.trouble = null;
        return written;
      } catch (error) {
        if (!isOutOfRoom(error) && !isBusy(error)) throw error;
        if (live.stopping === 'shutdown') throw new StepStopped();
        // Others write too, and are soon done.
        if (isBusy(error) && Date.now() - since < LONG_BUSY_MS) {
          await wait(BUSY_PAUSE_MS);
          continue;
        }
        live.trouble = isBusy(error)
          ? 'The catalogue is held by something that takes long. The run goes on by itself.'
          : 'The disk that holds the catalogue is full or cannot be written to. Make room there; the run then goes on by itself.';
        this.tell(live.id);
        await wait(ROOM_PAUSE_MS);
      }
    }
  }

  private async runSteps(live: LiveRun, paused: boolean): Promise<void> {
    const { runs } = this.catalogue;
    if (!paused)
      await this.journal(live, () => {
        runs.setState(live.id, 'running', new Date().toISOString());
        runs.setGoing(live.id, true);
      });
    this.tell(live.id);
    await live.whenOpen();
    const begun = runs.counts(live.id);
    if (begun.done > 0 && begun.done < begun.steps) {
      await this.clearTwins(live);
      await this.lookAgain(live, true);
    }
    live.takenUp(runs.counts(live.id).doneExpectedBytes);
    for (let round = 1; !live.stopping; round++) {
      const lost = await this.runPhases(live, round < MOST_ROUNDS);
      if (!lost) break;
    }
    if (live.stopping === 'shutdown') return;
    await this.conclude(live);
  }

  /** Every phase in order. True when something finished was found gone and waits to be made again: begin anew. */
  private async runPhases(live: LiveRun, makeAgain: boolean): Promise<boolean> {
    const { runs } = this.catalogue;
    const phases = [...new Set(runs.outline(live.id).map((row) => row.phase))].sort((a, b) => a - b);
    const unfinished = (phase: number) => runs.outline(live.id).filter((row) => row.phase === phase && row.state !== 'done');
    for (const phase of phases) {
      const rows = unfinished(phase);
      if (rows.length === 0) continue;
      if (rows.some((row) => row.isDerived) && phase !== phases[0] && !live.stopping) {
        await live.whenOpen();
        if (await this.lookAgain(live, makeAgain)) return true;
      }
      await this.runTogether(live, unfinished(phase));
      if (live.stopping) return false;
    }
    return false;
  }

  /** Steps that do not wait for each other, a few at a time; new links many at once. */
  private async runTogether(live: LiveRun, rows: readonly StepOutline[]): Promise<void> {
    const waiting = inBatches(rows, this.table);
    /** Second copies, which go with the step before them. */
    const led = new Set<number>();
    /** Steps that failed as part of a batch and are done one by one. */
    const alone = new Set<number>();
    const outlines = new Map(rows.map((row) => [row.ordinal, row]));
    let next = 0;
    const work = async () => {
      while (next < waiting.length && !live.stopping) {
        const ordinals = waiting[next++]!;
        if (led.has(ordinals[0]!)) continue;
        const first = this.catalogue.runs.step(live.id, ordinals[0]!);
        const twin = twinOf(first, this.table);
        if (twin !== null) led.add(twin);
        const together = alone.has(first.ordinal) ? null : togetherWith(outlines.get(first.ordinal)!, this.table);
        await this.turns.take(live, first.step, async (seat) => {
          if (twin !== null) return this.doTwins(live, first, twin, seat);
          if (!together) return this.doStep(live, first, seat);
          for (const ordinal of (await this.together(live, ordinals, first.step, seat, together.unit)) ?? []) {
            alone.add(ordinal);
            waiting.push([ordinal]);
          }
        });
      }
    };
    await Promise.all(Array.from({ length: STEPS_AT_ONCE }, work));
  }

  private lookAgain(live: LiveRun, makeAgain: boolean): Promise<boolean> {
    return lookAgain(
      { catalogue: this.catalogue, live, makers: MAKERS, table: this.table, journal: (write) => this.journal(live, write) },
      makeAgain,
    );
  }

  private clearTwins(live: LiveRun): Promise<void> {
    return clearLeftTwins({ catalogue: this.catalogue, places: live.places, runId: live.id });
  }

  private async conclude(live: LiveRun): Promise<void> {
    const { runs } = this.catalogue;
    const now = new Date().toISOString();
    if (live.stopping === 'cancel') {
      await this.clearTwins(live);
      for (const { ordinal, state } of runs.outline(live.id))
        if (state === 'doing' || state === 'publishing') await cleanUp(runs.step(live.id, ordinal), { catalogue: this.catalogue, places: live.places, runId: live.id, table: this.table, journal: (write) => this.journal(live, write) }); // prettier-ignore
      await this.journal(live, () => runs.cancelWaiting(live.id, 'Cancelled before it began.', now));
    }
    const { steps, done } = runs.counts(live.id);
    const state = done === steps ? 'done' : live.stopping === 'cancel' ? 'cancelled' : 'failed';
    await this.journal(live, () =>
      this.catalogue.transaction(() => {
        runs.setState(live.id, state, now);
        // An undo that took nothing back lets its run go again.
        if (done === 0 || (state !== 'done' && this.catalogue.outcomes.tookNothing(live.id))) runs.endUndoing(live.id);
      }),
    );
  }

  /** Many at once, all of them journalled by the worker that does them. Nothing is lost where it cannot: each is left as it was. */
  private async together(live: LiveRun, ordinals: readonly number[], first: Step, seat: Seat, unit: string): Promise<readonly number[] | null> {
    const { runs } = this.catalogue;
    const failAll = (state: 'failed' | 'skipped', message: string) =>
      this.journal(live, () =>
        this.catalogue.transaction(() => ordinals.forEach((ordinal) => runs.fail(live.id, ordinal, state, message, new Date().toISOString()))),
      );
    if (runs.isBeingUndone(live.id)) {
      await failAll('skipped', BEING_UNDONE);
      return null;
    }
    live.begin(ordinals[0]!, ordinals.length === 1 ? stepName(first) : `${ordinals.length} ${unit}`, 0, seat);
    this.tell(live.id);
    try {
      // It can be tried again when there is room.
      return await this.journal(live, () => runTogether(this.config, live.id, ordinals));
    } catch (error) {
      if (error instanceof StepStopped) throw error;
      await failAll('failed', explainError(error));
      return null;
    } finally {
      live.end(ordinals[0]!, runs.doneBytesOf(live.id, ordinals));
      this.tell(live.id);
    }
  }

  /** A copy and the second one after it: what the first reads is written for both. */
  private async doTwins(live: LiveRun, first: StepRow, twin: number, seat: Seat): Promise<void> {
    const handed = new Handed();
    try {
      await this.doStep(live, first, seat, handed);
      await live.whenOpen();
      const second = this.catalogue.runs.step(live.id, twin);
      if (!live.stopping && second.state !== 'done') await this.doStep(live, second, seat, handed);
    } finally {
      await handed.clear();
    }
  }

  private async doStep(live: LiveRun, row: StepRow, seat: Seat, handed: Handed | null = null): Promise<void> {
    const { runs } = this.catalogue;
    const { step, ordinal } = row;
    const now = () => new Date().toISOString();
    if (runs.isBeingUndone(live.id)) return this.journal(live, () => runs.fail(live.id, ordinal, 'skipped', BEING_UNDONE, now()));
    if (isDerived(step) && runs.isWaitingFor(live.id, step.phase))
      return this.journal(live, () =>
        runs.fail(live.id, ordinal, 'skipped', 'Left out, because a step before it failed. Mend that, then resume the run.', now()),
      );
    const key = `${live.id} ${ordinal}`;
    // Given up before, as its drive was silent: two never work at one step.
    if (!shelvesOf(step).some((shelfId) => this.places.keepsSilent(shelfId))) await this.leftBehind.get(key);
    await this.journal(live, () => runs.begin(live.id, ordinal, now()));
    const current = live.begin(ordinal, stepName(step), step.expectedBytes, seat, shelvesOf(step));
    this.tell(live.id);
    let doneBytes = 0;
    const { execute, cancelled = HALF_MADE_REMOVED } = actionOf(step, this.table);
    try {
      const context: StepContext = {
        config: this.config,
        catalogue: this.catalogue,
        places: live.places,
        runId: live.id,
        ordinal,
        control: current.control,
        signal: current.abort.signal,
        pending: row.pending,
        handed,
        report: (figures) => (live.report(ordinal, figures), this.tell(live.id)),
        wasAskedAgain: () => live.wasAskedAgain(),
        watch: (path) => (current.watched = path),
        publishing: (pending) => this.journal(live, () => runs.setPending(live.id, ordinal, pending)),
        change: (work) => this.journal(live, work),
        madeFrame: (frame) => this.journal(live, () => runs.putFrame(live.id, ordinal, frame)),
        lostFrame: (name) => this.journal(live, () => runs.dropFrame(live.id, ordinal, name)),
        madeFolder: (path, shelfId) => this.journal(live, () => runs.addFolder(live.id, { shelfId, path })),
        journal: () => runs.steps(live.id),
        makers: MAKERS,
        changeCatalogue: () => runChange(this.config, live.id, ordinal),
      };
      // A change of the catalogue is all or nothing, so it can be tried again when there is room.
      const work = step.action === 'link' ? this.journal(live, () => execute(step, context)) : execute(step, context);
      this.leftBehind.set(
        key,
        work.then(noMatter, noMatter).finally(() => this.leftBehind.delete(key)),
      );
      const outcome = await Promise.race([work, current.lost]);
      await this.journal(live, () => runs.finish(live.id, ordinal, outcome, now()));
      doneBytes = step.expectedBytes;
    } catch (error) {
      const stopped = error instanceof StepStopped || (live.stopping !== null && current.abort.signal.aborted);
      if (stopped && live.stopping === 'shutdown') return;
      const [state, message] = stopped ? (['cancelled', cancelled] as const) : (['failed', explainError(error)] as const);
      await this.journal(live, () => runs.fail(live.id, ordinal, state, message, now()));
    } finally {
      live.end(ordinal, doneBytes);
      this.tell(live.id);
    }
  }
}
