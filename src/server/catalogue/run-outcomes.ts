/** What came of the steps of a run, asked by question: a journal may be tens of thousands of steps long. */
import type { FileIdentity } from '../../core/media/identity';
import type { Place } from '../../core/media/item';
import type { Db } from './db';

/** A copy that was made and read back. */
export interface MadeCopy {
  readonly ordinal: number;
  readonly place: Place;
  readonly identity: FileIdentity;
  readonly sha256: string;
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

  /** The first `limit` copies after a step, in their order. */
  copiesAfter(runId: number, ordinal: number, limit: number): MadeCopy[] {
    const rows = this.db
      .prepare(
        `SELECT ordinal, json_extract(step, '$.to'), json_extract(outcome, '$.identity'), json_extract(outcome, '$.sha256') FROM run_steps
         WHERE run_id = @runId AND ordinal > @ordinal AND state = 'done' AND action = 'copy' AND json_extract(step, '$.to') IS NOT NULL
           AND json_extract(outcome, '$.identity') IS NOT NULL AND json_extract(outcome, '$.sha256') <> ''
         ORDER BY ordinal LIMIT @limit`,
      )
      .raw()
      .all({ runId, ordinal, limit }) as [number, string, string, string][];
    return rows.map(([own, to, identity, sha256]) => ({
      ordinal: own,
      place: JSON.parse(to) as Place,
      identity: JSON.parse(identity) as FileIdentity,
      sha256,
    }));
  }
}
