/** What came of the steps of a run, asked by question: a journal may be tens of thousands of steps long. */
import type { FileIdentity } from '../../core/media/identity';
import type { Place } from '../../core/media/item';
import type { FramesStep } from '../../core/planning/plan/step';
import type { Db } from './db';
import type { OutcomeFile, StepOutcome } from './runs';

/** A copy that was made and read back; journals of earlier versions do not tell what it came out as. */
export interface MadeCopy {
  readonly ordinal: number;
  readonly place: Place | null;
  readonly identity: FileIdentity | null;
  readonly sha256: string | null;
}

export class RunOutcomes {
  constructor(private readonly db: Db) {}

  /** Files that were to be cut and had to be copied whole. */
  wholeParts(runId: number): Place[] {
    const rows = this.db
      .prepare(
        `SELECT json_extract(step, '$.to') FROM run_steps INDEXED BY run_steps_remarked
         WHERE run_id = ? AND remark = 'whole' AND json_extract(step, '$.to') IS NOT NULL ORDER BY ordinal`,
      )
      .pluck()
      .all(runId) as string[];
    return rows.map((to) => JSON.parse(to) as Place);
  }

  /** Sequences whose frames were copied: the step, and what each frame came out as, in the order of its names. */
  framesCopied(runId: number): { step: FramesStep; files: readonly OutcomeFile[] }[] {
    const rows = this.db
      .prepare(
        `SELECT step, outcome FROM run_steps WHERE run_id = @runId AND ordinal IN (
           SELECT ordinal FROM run_steps INDEXED BY run_steps_outline WHERE run_id = @runId AND state = 'done' AND action = 'frames') ORDER BY ordinal`,
      )
      .raw()
      .all({ runId }) as [string, string][];
    return rows.map(([step, outcome]) => ({ step: JSON.parse(step) as FramesStep, files: (JSON.parse(outcome) as StepOutcome).files ?? [] }));
  }

  /** The first `limit` copies after a step, in their order: which they are is told by the index alone. */
  copiesAfter(runId: number, ordinal: number, limit: number): MadeCopy[] {
    const rows = this.db
      .prepare(
        `SELECT ordinal, json_extract(step, '$.to'), json_extract(outcome, '$.identity'), json_extract(outcome, '$.sha256') FROM run_steps
         WHERE run_id = @runId AND ordinal IN (
           SELECT ordinal FROM run_steps INDEXED BY run_steps_outline
           WHERE run_id = @runId AND ordinal > @ordinal AND state = 'done' AND (action = 'copy' OR (action = 'trim' AND remark = 'whole')) ORDER BY ordinal LIMIT @limit)
         ORDER BY ordinal`,
      )
      .raw()
      .all({ runId, ordinal, limit }) as [number, string | null, string | null, string | null][];
    return rows.map(([own, to, identity, sha256]) => ({
      ordinal: own,
      place: to === null ? null : (JSON.parse(to) as Place),
      identity: identity === null ? null : (JSON.parse(identity) as FileIdentity),
      sha256,
    }));
  }
}
