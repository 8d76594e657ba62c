import type { Plan, PlanKind, Step } from '../../core/planning/plan';
import type { Db } from './database';

export type RunState = 'queued' | 'running' | 'paused' | 'done' | 'failed' | 'cancelled';
export type StepState = 'waiting' | 'doing' | 'publishing' | 'done' | 'failed' | 'skipped' | 'cancelled';

export interface RunRow {
  readonly id: number;
  readonly projectId: string | null;
  readonly kind: PlanKind;
  readonly title: string;
  readonly state: RunState;
  /** The plan as the user read it, without its steps (those are journalled one by one) and its list. */
  readonly plan: Omit<Plan, 'steps' | 'detail'>;
  readonly createdAt: string;
  readonly endedAt: string | null;
  readonly undoneBy: number | null;
}

/** What a step left behind. */
export interface StepOutcome {
  readonly bytes: number;
  readonly sha256?: string;
  /** Files of a step that makes several, below the step's `to`. */
  readonly files?: readonly { readonly name: string; readonly bytes: number; readonly sha256: string }[];
  readonly checked: string;
  /** The change of the catalogue that would take this one back. */
  readonly back?: unknown;
}

export interface StepRow {
  readonly ordinal: number;
  readonly step: Step;
  readonly state: StepState;
  readonly outcome: StepOutcome | null;
  readonly message: string | null;
  readonly startedAt: string | null;
  readonly endedAt: string | null;
}

const RUN = 'id, project_id AS projectId, kind, title, state, plan, created_at AS createdAt, ended_at AS endedAt, undone_by AS undoneBy';
const STEP = 'ordinal, step, state, outcome, message, started_at AS startedAt, ended_at AS endedAt';

type RawRun = Omit<RunRow, 'plan'> & { plan: string };
type RawStep = Omit<StepRow, 'step' | 'outcome'> & { step: string; outcome: string | null };

function runFromRaw(raw: RawRun): RunRow {
  return { ...raw, plan: JSON.parse(raw.plan) as RunRow['plan'] };
}

/** The journal of runs: every step before and after it is done. */
export class Runs {
  constructor(private readonly db: Db) {}

  add(plan: Plan, at: string): number {
    const { steps, detail: _detail, ...sheet } = plan;
    return this.db.transaction(() => {
      const id = Number(
        this.db
          .prepare('INSERT INTO runs (project_id, kind, title, state, plan, created_at) VALUES (?, ?, ?, ?, ?, ?)')
          .run(plan.projectId, plan.kind, plan.title, 'queued', JSON.stringify(sheet), at).lastInsertRowid,
      );
      const insert = this.db.prepare("INSERT INTO run_steps (run_id, ordinal, step, state) VALUES (?, ?, ?, 'waiting')");
      steps.forEach((step, ordinal) => insert.run(id, ordinal, JSON.stringify(step)));
      return id;
    })();
  }

  list(projectId: string | null): RunRow[] {
    const rows = (
      projectId === null
        ? this.db.prepare(`SELECT ${RUN} FROM runs ORDER BY id DESC`).all()
        : this.db.prepare(`SELECT ${RUN} FROM runs WHERE project_id = ? ORDER BY id DESC`).all(projectId)
    ) as RawRun[];
    return rows.map(runFromRaw);
  }

  get(id: number): RunRow | null {
    const raw = this.db.prepare(`SELECT ${RUN} FROM runs WHERE id = ?`).get(id) as RawRun | undefined;
    return raw ? runFromRaw(raw) : null;
  }

  unfinished(): RunRow[] {
    return (this.db.prepare(`SELECT ${RUN} FROM runs WHERE state IN ('queued', 'running', 'paused') ORDER BY id`).all() as RawRun[]).map(runFromRaw);
  }

  steps(runId: number): StepRow[] {
    const rows = this.db.prepare(`SELECT ${STEP} FROM run_steps WHERE run_id = ? ORDER BY ordinal`).all(runId) as RawStep[];
    return rows.map((raw) => ({
      ...raw,
      step: JSON.parse(raw.step) as Step,
      outcome: raw.outcome === null ? null : (JSON.parse(raw.outcome) as StepOutcome),
    }));
  }

  setState(id: number, state: RunState, at: string): void {
    const ended = state === 'done' || state === 'failed' || state === 'cancelled' ? at : null;
    this.db.prepare('UPDATE runs SET state = ?, ended_at = ? WHERE id = ?').run(state, ended, id);
  }

  setProject(id: number, projectId: string): void {
    this.db.prepare('UPDATE runs SET project_id = ? WHERE id = ?').run(projectId, id);
  }

  markUndone(id: number, by: number): void {
    this.db.prepare('UPDATE runs SET undone_by = ? WHERE id = ?').run(by, id);
  }

  begin(runId: number, ordinal: number, at: string): void {
    this.db
      .prepare(
        "UPDATE run_steps SET state = 'doing', started_at = ?, ended_at = NULL, message = NULL, outcome = NULL WHERE run_id = ? AND ordinal = ?",
      )
      .run(at, runId, ordinal);
  }

  /** The file is finished and proven, about to get its final name: after a crash the checksum tells whether it did. */
  publishing(runId: number, ordinal: number, outcome: StepOutcome): void {
    this.db
      .prepare("UPDATE run_steps SET state = 'publishing', outcome = ? WHERE run_id = ? AND ordinal = ?")
      .run(JSON.stringify(outcome), runId, ordinal);
  }

  finish(runId: number, ordinal: number, outcome: StepOutcome, at: string): void {
    this.db
      .prepare("UPDATE run_steps SET state = 'done', outcome = ?, ended_at = ? WHERE run_id = ? AND ordinal = ?")
      .run(JSON.stringify(outcome), at, runId, ordinal);
  }

  fail(runId: number, ordinal: number, state: 'failed' | 'skipped' | 'cancelled', message: string, at: string): void {
    this.db
      .prepare('UPDATE run_steps SET state = ?, message = ?, ended_at = ? WHERE run_id = ? AND ordinal = ?')
      .run(state, message, at, runId, ordinal);
  }

  /** Steps that did not come through wait again. */
  again(runId: number): void {
    this.db
      .prepare("UPDATE run_steps SET state = 'waiting', message = NULL WHERE run_id = ? AND state IN ('failed', 'skipped', 'cancelled')")
      .run(runId);
  }
}
