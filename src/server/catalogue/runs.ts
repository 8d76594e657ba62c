import type { FileIdentity } from '../../core/media/identity';
import type { Place } from '../../core/media/item';
import { isDerivedKind, type Step } from '../../core/planning/plan/step';
import { STOCKTAKE, stocktakeDigest } from '../../core/planning/stocktake/stocktake';
import type { Plan } from '../../core/planning/plan/plan';
import type { Db } from './db';
import type { MadeFrame, Pending, StepOutcome } from './step-outcome';
import { RunTexts } from './run-texts';
import { filterWords } from '../../core/words/filter-words';
import type { Window, WindowQuery } from '../../core/lists/list-window';

export type RunState = 'queued' | 'running' | 'paused' | 'done' | 'failed' | 'cancelled';
/** Whether its steps get their turn before those of other runs, or after them. */
export type RunPriority = 'first' | 'normal' | 'last';
export const RUN_PRIORITIES: readonly RunPriority[] = ['first', 'normal', 'last'];
export type StepState = 'waiting' | 'doing' | 'publishing' | 'done' | 'failed' | 'skipped' | 'cancelled';

export interface RunRow {
  readonly id: number;
  readonly projectId: string | null;
  readonly projectName: string | null;
  readonly kind: string;
  readonly title: string;
  readonly state: RunState;
  /** The plan as the user read it, without its steps (those are journalled one by one) and its list. */
  readonly plan: Omit<Plan, 'steps' | 'detail'>;
  readonly createdAt: string;
  readonly endedAt: string | null;
  readonly undoneBy: number | null;
  /** The undo of this run, from the moment it was submitted. */
  readonly undoingBy: number | null;
  /** About how long all of it takes, as its plan reckoned it; null where it did not. */
  readonly seconds: number | null;
  readonly priority: RunPriority;
  /** On whose word it runs. */
  readonly actor: string;
}

export interface StepRow {
  readonly ordinal: number;
  readonly step: Step;
  readonly state: StepState;
  readonly outcome: StepOutcome | null;
  readonly pending: Pending | null;
  readonly message: string | null;
  readonly startedAt: string | null;
  readonly endedAt: string | null;
}

/** A step without what it holds. */
export interface StepOutline {
  readonly ordinal: number;
  readonly state: StepState;
  readonly phase: number;
  readonly action: Step['action'];
  /** Kind of what a link changes or a file holds; null for other steps. */
  readonly what: string | null;
  readonly isDerived: boolean;
}

/** Steps of a run by what became of them. */
export interface RunCounts {
  readonly steps: number;
  readonly done: number;
  readonly failed: number;
  readonly expectedBytes: number;
  /** Of the steps that are done: as planned, and as it came out. */
  readonly doneExpectedBytes: number;
  readonly doneBytes: number;
}

export interface RunRemarks {
  /** Files that could not be cut and were copied whole; files left where they are. */
  readonly whole: number;
  readonly left: number;
  /** Bytes of what is done, as it came out. */
  readonly doneBytes: number;
  /** What it has come to, where it says so. */
  readonly conclusion: string | null;
  /** The first steps that did not come through. */
  readonly troubled: readonly StepRow[];
}

const MOST_REMARKED = 4;

const RUN =
  "id, project_id AS projectId, (SELECT name FROM projects WHERE projects.id = runs.project_id) AS projectName, kind, title, state, plan, created_at AS createdAt, ended_at AS endedAt, undone_by AS undoneBy, undoing_by AS undoingBy, json_extract(plan, '$.seconds') AS seconds, priority, actor";
const STEP = 'ordinal, step, state, outcome, pending, message, started_at AS startedAt, ended_at AS endedAt';

/** A run without its plan. */
export type ListedRun = Omit<RunRow, 'plan'>;

type RawRun = Omit<RunRow, 'plan'> & { plan: string };
type RawStep = Omit<StepRow, 'step' | 'outcome' | 'pending'> & { step: string; outcome: string | null; pending: string | null };

function runFromRaw(raw: RawRun): RunRow {
  return { ...raw, plan: JSON.parse(raw.plan) as RunRow['plan'] };
}

function stepFromRaw(raw: RawStep): StepRow {
  return {
    ...raw,
    step: JSON.parse(raw.step) as Step,
    outcome: raw.outcome === null ? null : (JSON.parse(raw.outcome) as StepOutcome),
    pending: raw.pending === null ? null : (JSON.parse(raw.pending) as Pending),
  };
}

const LISTED = RUN.replace(' plan,', '');

type Part = Pick<WindowQuery<never>, 'filter' | 'limit' | 'offset'>;

/** SQL: whether a text holds each of the words. */
const HOLDS_ALL = (text: string) => `NOT EXISTS (SELECT 1 FROM json_each(@words) w WHERE instr(${text}, w.value) = 0)`;

/** What is looked through in a step. */
const STEP_WORDS = `folded(concat_ws(' ', json_extract(step, '$.to.path'), json_extract(step, '$.from.path'), json_extract(outcome, '$.sha256'),
  message, json_extract(outcome, '$.checked')))`;

const UNFINISHED = "state IN ('queued', 'running', 'paused')";

/** The journal of runs: every step before and after it is done. */
export class Runs {
  constructor(private readonly db: Db) {}

  /** Another text whenever a run is entered or has another state; of stocktakes only what they find counts. */
  stateOfAll(): string {
    const states = this.db.prepare("SELECT group_concat(state || ' ' || n) FROM (SELECT state, count(*) AS n FROM runs WHERE kind <> 'stocktake' GROUP BY state)").pluck().get() as string | null; // prettier-ignore
    const open = this.db.prepare("SELECT group_concat(id || state) FROM runs WHERE kind <> 'stocktake' AND state IN ('queued', 'running', 'paused')").pluck().get() as string | null; // prettier-ignore
    return `${states ?? ''} ${open ?? ''}`;
  }

  /** `texts`: of its steps, where they were packed while the plan was made. */
  add(plan: Plan, at: string, digest: string | null = null, texts: ReadonlyMap<string, Uint8Array> = new Map(), actor = 'this machine'): number {
    const { steps, detail: _detail, ...sheet } = plan;
    return this.db
      .transaction(() => {
        const id = Number(
          this.db
            .prepare('INSERT INTO runs (project_id, kind, title, state, plan, created_at, digest, actor) VALUES (?, ?, ?, ?, ?, ?, ?, ?)')
            .run(plan.projectId, plan.kind, plan.title, 'queued', JSON.stringify(sheet), at, digest, actor).lastInsertRowid,
        );
        const insert = this.db.prepare("INSERT INTO run_steps (run_id, ordinal, step, state) VALUES (?, ?, ?, 'waiting')");
        const apart = new RunTexts(this.db).keeper(id, texts);
        steps.forEach((step, ordinal) => insert.run(id, ordinal, JSON.stringify(apart(step))));
        const expected = steps.reduce((sum, step) => sum + step.expectedBytes, 0);
        this.db.prepare('UPDATE run_counts SET steps = ?, expected_bytes = ? WHERE run_id = ?').run(steps.length, expected, id);
        return id;
      })
      .immediate();
  }

  /** On whose word it runs. */
  actorOf(id: number): string {
    return (this.db.prepare('SELECT actor FROM runs WHERE id = ?').pluck().get(id) as string | undefined) ?? 'this machine';
  }

  /** A part of the list, newest first: runs of one project or of all whose titles hold every word of `filter`; those that take stock on request. */
  window(projectId: string | null, { filter, limit, offset }: Part, withStocktakes = false): Window<ListedRun> {
    const where = `(@projectId IS NULL OR project_id = @projectId) AND (@all OR kind <> '${STOCKTAKE}') AND ${HOLDS_ALL('folded(title)')}`;
    const values = { projectId, all: withStocktakes ? 1 : 0, words: JSON.stringify(filterWords(filter)), limit, offset };
    const total = this.db.prepare(`SELECT count(*) FROM runs WHERE ${where}`).pluck().get(values) as number;
    const rows = this.db.prepare(`SELECT ${LISTED} FROM runs WHERE ${where} ORDER BY id DESC LIMIT @limit OFFSET @offset`).all(values);
    return { total, rows: rows as ListedRun[] };
  }

  get(id: number): RunRow | null {
    const raw = this.db.prepare(`SELECT ${RUN} FROM runs WHERE id = ?`).get(id) as RawRun | undefined;
    return raw ? runFromRaw(raw) : null;
  }

  setPriority(id: number, priority: RunPriority): void {
    this.db.prepare('UPDATE runs SET priority = ? WHERE id = ?').run(priority, id);
  }

  unfinished(): RunRow[] {
    return (this.db.prepare(`SELECT ${RUN} FROM runs WHERE ${UNFINISHED} ORDER BY id`).all() as RawRun[]).map(runFromRaw);
  }

  /** The run that carries out this very plan just now; null when none does. */
  unfinishedWith(digest: string): number | null {
    return (this.db.prepare(`SELECT id FROM runs WHERE ${UNFINISHED} AND digest = ?`).pluck().get(digest) as number | undefined) ?? null;
  }

  /** The stocktake of the shelf that was begun last; null where none was. */
  lastStocktake(shelfId: string): number | null {
    const sql = `SELECT max(id) FROM runs INDEXED BY runs_stocktakes WHERE kind = '${STOCKTAKE}' AND digest = ?`;
    return this.db.prepare(sql).pluck().get(stocktakeDigest(shelfId)) as number | null;
  }

  /** An unfinished run that reads from or writes to the shelf, stocktakes left out; null when none does. */
  unfinishedOn(shelfId: string): number | null {
    const found = this.db
      .prepare(
        `SELECT r.id FROM runs r JOIN run_steps s ON s.run_id = r.id WHERE r.${UNFINISHED} AND r.kind <> '${STOCKTAKE}' AND instr(s.step, ?) > 0 LIMIT 1`,
      )
      .pluck()
      .get(JSON.stringify(shelfId));
    return (found as number | undefined) ?? null;
  }

  steps(runId: number): StepRow[] {
    return (this.db.prepare(`SELECT ${STEP} FROM run_steps WHERE run_id = ? ORDER BY ordinal`).all(runId) as RawStep[]).map(stepFromRaw);
  }

  step(runId: number, ordinal: number): StepRow {
    return stepFromRaw(this.db.prepare(`SELECT ${STEP} FROM run_steps WHERE run_id = ? AND ordinal = ?`).get(runId, ordinal) as RawStep);
  }

  /** A part of the journal: steps whose paths, checksum or words hold every word of `filter`, in their order. */
  stepWindow(runId: number, { filter, limit, offset }: Part): Window<StepRow> {
    const words = filterWords(filter);
    if (words.length === 0) return this.stepsFrom(runId, offset, limit);
    const where = `run_id = @runId AND ${HOLDS_ALL(STEP_WORDS)}`;
    const values = { runId, words: JSON.stringify(words), limit, offset };
    const total = this.db.prepare(`SELECT count(*) FROM run_steps WHERE ${where}`).pluck().get(values) as number;
    const rows = this.db
      .prepare(`SELECT ${STEP} FROM run_steps WHERE ${where} ORDER BY ordinal LIMIT @limit OFFSET @offset`)
      .all(values) as RawStep[];
    return { total, rows: rows.map(stepFromRaw) };
  }

  /** Ordinals leave nothing out: far down is no farther than at the top. */
  private stepsFrom(runId: number, offset: number, limit: number): Window<StepRow> {
    const rows = this.db
      .prepare(`SELECT ${STEP} FROM run_steps WHERE run_id = ? AND ordinal >= ? AND ordinal < ? ORDER BY ordinal`)
      .all(runId, offset, offset + limit) as RawStep[];
    return { total: this.counts(runId).steps, rows: rows.map(stepFromRaw) };
  }

  /** What a receipt says beside its figures. */
  remarks(runId: number): RunRemarks {
    // By itself it would go by the run alone, and read what came of every step.
    const of = (what: 'whole' | 'left') =>
      this.db
        .prepare('SELECT count(*) FROM run_steps INDEXED BY run_steps_remarked WHERE run_id = ? AND remark = ?')
        .pluck()
        .get(runId, what) as number;
    const troubled = this.db
      .prepare(
        `SELECT ${STEP} FROM run_steps WHERE run_id = @runId AND ordinal IN (
           SELECT ordinal FROM run_steps INDEXED BY run_steps_outline WHERE run_id = @runId AND state IN ('failed', 'skipped') ORDER BY ordinal LIMIT ${MOST_REMARKED})
         ORDER BY ordinal`,
      )
      .all({ runId }) as RawStep[];
    const { doneBytes } = this.counts(runId);
    return { whole: of('whole'), left: of('left'), doneBytes, conclusion: this.conclusion(runId), troubled: troubled.map(stepFromRaw) };
  }

  /** Of its last step, where that is done. */
  conclusion(runId: number): string | null {
    const last =
      "SELECT iif(state = 'done', json_extract(outcome, '$.conclusion'), NULL) FROM run_steps WHERE run_id = ? ORDER BY ordinal DESC LIMIT 1";
    return (this.db.prepare(last).pluck().get(runId) as string | null | undefined) ?? null;
  }

  /** The steps in their order without what they hold: from the index alone. */
  outline(runId: number): StepOutline[] {
    const rows = this.db
      .prepare(`SELECT ordinal, state, phase, action, what FROM run_steps INDEXED BY run_steps_outline WHERE run_id = ? ORDER BY ordinal`)
      .all(runId) as (Omit<StepOutline, 'isDerived'> & { action: Step['action'] })[];
    return rows.map((row) => ({ ...row, isDerived: isDerivedKind(row.action, row.what) }));
  }

  /** Whether a step of an earlier phase is not done. */
  isWaitingFor(runId: number, phase: number): boolean {
    const found = this.db
      .prepare("SELECT 1 FROM run_steps INDEXED BY run_steps_outline WHERE run_id = ? AND state <> 'done' AND phase < ? LIMIT 1")
      .get(runId, phase);
    return found !== undefined;
  }

  /** Kept as steps change: asked several times a second while runs go on. */
  counts(runId: number): RunCounts {
    return this.db
      .prepare(
        `SELECT steps, done, failed, expected_bytes AS expectedBytes, done_expected_bytes AS doneExpectedBytes, done_bytes AS doneBytes
         FROM run_counts WHERE run_id = ?`,
      )
      .get(runId) as RunCounts;
  }

  /** Planned bytes of those of these steps that are done. */
  doneBytesOf(runId: number, ordinals: readonly number[]): number {
    return this.db
      .prepare(
        `SELECT coalesce(sum(json_extract(step, '$.expectedBytes')), 0) FROM run_steps
         WHERE run_id = ? AND state = 'done' AND ordinal IN (SELECT value FROM json_each(?))`,
      )
      .pluck()
      .get(runId, JSON.stringify(ordinals)) as number;
  }

  /** Noted before a run begins to work and after it stopped: what was going when the process ended, ended with it. */
  setGoing(id: number, going: boolean): void {
    this.db.prepare('UPDATE runs SET going = ? WHERE id = ?').run(going ? 1 : 0, id);
  }

  wasGoing(id: number): boolean {
    return this.db.prepare('SELECT going FROM runs WHERE id = ?').pluck().get(id) === 1;
  }

  /** How often the process ended in the middle of the run since a user last let it go on. */
  crashes(id: number): number {
    return this.db.prepare('SELECT crashes FROM runs WHERE id = ?').pluck().get(id) as number;
  }

  setCrashes(id: number, crashes: number): void {
    this.db.prepare('UPDATE runs SET crashes = ?, going = 0 WHERE id = ?').run(crashes, id);
  }

  setState(id: number, state: RunState, at: string): void {
    const ended = state === 'done' || state === 'failed' || state === 'cancelled' ? at : null;
    this.db.prepare('UPDATE runs SET state = ?, ended_at = ? WHERE id = ?').run(state, ended, id);
  }

  setProject(id: number, projectId: string): void {
    this.db.prepare('UPDATE runs SET project_id = ? WHERE id = ?').run(projectId, id);
  }

  /** From now on the run is being undone by another; null lets it go again. */
  setUndoing(id: number, by: number | null): void {
    this.db.prepare('UPDATE runs SET undoing_by = ? WHERE id = ?').run(by, id);
  }

  /** The run that this one was to undo may go again. */
  endUndoing(by: number): void {
    this.db.prepare('UPDATE runs SET undoing_by = NULL WHERE undoing_by = ?').run(by);
  }

  isBeingUndone(id: number): boolean {
    return this.db.prepare('SELECT 1 FROM runs WHERE id = ? AND undoing_by IS NOT NULL').get(id) !== undefined;
  }

  markUndone(id: number, by: number): void {
    this.db.prepare('UPDATE runs SET undone_by = ? WHERE id = ?').run(by, id);
  }

  /** What may be pending from an earlier try stays: the step looks at it first. */
  begin(runId: number, ordinal: number, at: string): void {
    this.db
      .prepare(
        "UPDATE run_steps SET state = 'doing', started_at = ?, ended_at = NULL, message = NULL, outcome = NULL WHERE run_id = ? AND ordinal = ?",
      )
      .run(at, runId, ordinal);
  }

  /** The file is finished and proven, about to get its final name; null: nothing stands under it that could be the step's. */
  setPending(runId: number, ordinal: number, pending: Pending | null): void {
    this.db
      .prepare('UPDATE run_steps SET state = ?, pending = ? WHERE run_id = ? AND ordinal = ?')
      .run(pending ? 'publishing' : 'doing', pending ? JSON.stringify(pending) : null, runId, ordinal);
  }

  finish(runId: number, ordinal: number, outcome: StepOutcome, at: string): void {
    this.db
      .prepare("UPDATE run_steps SET state = 'done', outcome = ?, pending = NULL, message = NULL, ended_at = ? WHERE run_id = ? AND ordinal = ?")
      .run(JSON.stringify(outcome), at, runId, ordinal);
  }

  /** A finished file as it stands now: equal, but touched since. */
  update(runId: number, ordinal: number, outcome: StepOutcome): void {
    this.db.prepare('UPDATE run_steps SET outcome = ? WHERE run_id = ? AND ordinal = ?').run(JSON.stringify(outcome), runId, ordinal);
  }

  fail(runId: number, ordinal: number, state: 'failed' | 'skipped' | 'cancelled', message: string, at: string): void {
    this.db
      .prepare('UPDATE run_steps SET state = ?, message = ?, ended_at = ? WHERE run_id = ? AND ordinal = ?')
      .run(state, message, at, runId, ordinal);
  }

  /** A finished step that no longer counts: what it left must be looked at before it is made again. */
  doubt(runId: number, ordinal: number, state: 'waiting' | 'failed', message: string | null): void {
    this.db
      .prepare(
        'UPDATE run_steps SET state = ?, message = ?, pending = COALESCE(outcome, pending), outcome = NULL, ended_at = NULL WHERE run_id = ? AND ordinal = ?',
      )
      .run(state, message, runId, ordinal);
  }

  /** What has not begun will not. */
  cancelWaiting(runId: number, message: string, at: string): void {
    this.db
      .prepare("UPDATE run_steps SET state = 'cancelled', message = ?, ended_at = ? WHERE run_id = ? AND state = 'waiting'")
      .run(message, at, runId);
  }

  /** Steps that did not come through wait again. */
  again(runId: number): void {
    this.db
      .prepare("UPDATE run_steps SET state = 'waiting', message = NULL WHERE run_id = ? AND state IN ('failed', 'skipped', 'cancelled')")
      .run(runId);
  }

  frames(runId: number, ordinal: number): Map<string, MadeFrame> {
    const rows = this.db
      .prepare('SELECT name, bytes, sha256, identity FROM run_frames WHERE run_id = ? AND ordinal = ?')
      .all(runId, ordinal) as (Omit<MadeFrame, 'identity'> & { identity: string })[];
    return new Map(rows.map((row) => [row.name, { ...row, identity: JSON.parse(row.identity) as FileIdentity }]));
  }

  putFrame(runId: number, ordinal: number, frame: MadeFrame): void {
    this.db
      .prepare('INSERT OR REPLACE INTO run_frames (run_id, ordinal, name, bytes, sha256, identity) VALUES (?, ?, ?, ?, ?, ?)')
      .run(runId, ordinal, frame.name, frame.bytes, frame.sha256, JSON.stringify(frame.identity));
  }

  dropFrame(runId: number, ordinal: number, name: string): void {
    this.db.prepare('DELETE FROM run_frames WHERE run_id = ? AND ordinal = ? AND name = ?').run(runId, ordinal, name);
  }

  addFolder(runId: number, folder: Place): void {
    this.db.prepare('INSERT OR IGNORE INTO run_folders (run_id, shelf_id, path) VALUES (?, ?, ?)').run(runId, folder.shelfId, folder.path);
  }

  /** Folders the run made, the deepest first. */
  folders(runId: number): Place[] {
    const rows = this.db.prepare('SELECT shelf_id AS shelfId, path FROM run_folders WHERE run_id = ? ORDER BY length(path) DESC').all(runId);
    return rows as Place[];
  }
}
