/** What came of the steps of a run, asked by question: a journal may be tens of thousands of steps long. */
import type { FileIdentity } from '../../core/media/identity';
import type { Place } from '../../core/media/item';
import { beingMadeKey } from '../../core/planning/proxies/rendition-changes';
import type { RenditionKind } from '../../core/rendition/read-order';
import type { FramesStep, Step } from '../../core/planning/plan/step';
import type { Db } from './db';
import type { OutcomeFile, StepOutcome } from './step-outcome';
import { ACTION_TRAITS, actionsThat } from '../../core/planning/plan/action-traits';

/** A copy that was made and read back; journals of earlier versions do not tell what it came out as. */
export interface MadeCopy {
  readonly ordinal: number;
  readonly place: Place | null;
  readonly identity: FileIdentity | null;
  readonly sha256: string | null;
}

const UNFINISHED = "SELECT id FROM runs WHERE state IN ('queued', 'running', 'paused')";

/** Names of actions, as SQL lists them. */
const listed = (actions: readonly string[]) => actions.map((action) => `'${action}'`).join(', ');
const LEAVING = listed(actionsThat(({ leavesFile }) => leavesFile));
const TAKING_WHOLE = listed(actionsThat(({ takes }) => takes === 'whole'));
const COPYING = listed(actionsThat(({ takes, moves }) => takes !== null && !moves));

/** A later run that stands on what a run did. */
export interface StandingRun {
  readonly id: number;
  readonly title: string;
  /** How many of its files it moved on; 0 where it exchanged a timeline. */
  readonly files: number;
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

  /**
   * Later runs, not undone, that moved on what a run made or moved, or exchanged a timeline that it brought in: the latest first.
   * `timelineIds`: those that the run made.
   */
  standingOn(runId: number, timelineIds: readonly string[]): StandingRun[] {
    const later = "SELECT id FROM runs WHERE id > @runId AND undone_by IS NULL AND kind <> 'undo'";
    // Sequences are known by their folder and what stands before the number.
    const key = (side: string, prefix: string) =>
      `json_extract(s.step, '$.${side}.shelfId') || char(10) || json_extract(s.step, '$.${side}.path') || char(10) || coalesce(${prefix}, '')`;
    const rows = this.db
      .prepare(
        `WITH own AS (
           SELECT ${key('to', "json_extract(s.step, '$.frames.to.prefix'), iif(s.action = 'frames', json_extract(s.step, '$.sequence.prefix'), NULL)")} AS key
           FROM run_steps s INDEXED BY run_steps_outline
           WHERE s.run_id = @runId AND s.state = 'done' AND s.action IN (${LEAVING}) AND s.remark IS NOT 'left'),
         moved AS (
           SELECT s.run_id AS id, sum(coalesce(json_array_length(s.step, '$.frames.names'), 1)) AS files FROM run_steps s INDEXED BY run_steps_outline
           WHERE s.run_id IN (${later}) AND s.state = 'done' AND s.action = 'move' AND s.remark IS NOT 'left'
             AND ${key('from', "json_extract(s.step, '$.frames.from.prefix')")} IN (SELECT key FROM own)
           GROUP BY s.run_id),
         exchanged AS (
           SELECT s.run_id AS id FROM run_steps s INDEXED BY run_steps_outline
           WHERE s.run_id IN (${later}) AND s.state = 'done' AND s.what = 'exchange' AND json_extract(s.step, '$.change.keptAs') IS NOT NULL
             AND json_extract(s.step, '$.change.timelineId') IN (SELECT value FROM json_each(@timelineIds)))
         SELECT r.id, r.title, coalesce(m.files, 0) AS files FROM runs r LEFT JOIN moved m ON m.id = r.id
         WHERE m.id IS NOT NULL OR r.id IN (SELECT id FROM exchanged) ORDER BY r.id DESC`,
      )
      .all({ runId, timelineIds: JSON.stringify(timelineIds) });
    return rows as StandingRun[];
  }

  /** Whether nothing of what a run was to do was done: it left everything where it was. */
  tookNothing(runId: number): boolean {
    return this.db.prepare("SELECT 1 FROM run_steps WHERE run_id = ? AND state = 'done' AND remark IS NOT 'left' LIMIT 1").get(runId) === undefined;
  }

  /** By kind and clip (see beingMadeKey): the run that waits or goes on and will make a rendition of it. */
  renditionsOnTheWay(): Map<string, number> {
    const rows = this.db
      .prepare(
        `SELECT s.run_id, json_extract(s.step, '$.rendition'), json_extract(c.value, '$.clipId')
         FROM run_steps s INDEXED BY run_steps_outline, json_each(s.step, '$.clips') c
         WHERE s.run_id IN (${UNFINISHED}) AND s.state NOT IN ('done', 'failed', 'skipped', 'cancelled') AND s.action = 'encode'`,
      )
      .raw()
      .all() as [number, RenditionKind, string][];
    return new Map(rows.map(([runId, kind, clipId]) => [beingMadeKey(kind, clipId), runId]));
  }

  /** Runs that wait or go on and are about to move the files of these steps, or to copy them to the same shelf: the first begun first. */
  alsoTaking(steps: readonly Step[]): { readonly id: number; readonly title: string; readonly files: number }[] {
    if (this.db.prepare(`${UNFINISHED} LIMIT 1`).get() === undefined) return [];
    const taken = steps.flatMap(({ action, from, to }) =>
      from && to && ACTION_TRAITS[action].takes === 'whole'
        ? [{ key: `${from.shelfId}\n${from.path}`, moves: ACTION_TRAITS[action].moves, shelf: to.shelfId }]
        : [],
    );
    const rows = this.db
      .prepare(
        `WITH planned AS (SELECT value ->> 'key' AS key, value ->> 'moves' AS moves, value ->> 'shelf' AS shelf FROM json_each(?))
         SELECT id, title, sum(own) AS files FROM (SELECT DISTINCT r.id, r.title, s.ordinal,
           coalesce(json_array_length(s.step, '$.frames.names'), json_array_length(s.step, '$.names'), 1) AS own FROM run_steps s INDEXED BY run_steps_outline JOIN runs r ON r.id = s.run_id
         JOIN planned p ON p.key = json_extract(s.step, '$.from.shelfId') || char(10) || json_extract(s.step, '$.from.path')
         WHERE s.run_id IN (${UNFINISHED}) AND s.state NOT IN ('done', 'failed', 'skipped', 'cancelled') AND s.action IN (${TAKING_WHOLE})
           AND (s.action = 'move' OR p.moves OR p.shelf = json_extract(s.step, '$.to.shelfId')))
         GROUP BY id, title ORDER BY id`,
      )
      .all(JSON.stringify(taken));
    return rows as { id: number; title: string; files: number }[];
  }

  /** Runs of a kind that broke off, with how many of the same sources they have taken into a folder already: the latest first. */
  brokenOffIn({ shelfId, path }: Place, kind: string, steps: readonly Step[]): { readonly id: number; readonly files: number }[] {
    const isBroken = "SELECT id FROM runs WHERE state IN ('failed', 'cancelled') AND undone_by IS NULL AND kind = @kind";
    if (this.db.prepare(`${isBroken} LIMIT 1`).get({ kind }) === undefined) return [];
    const froms = steps.flatMap(({ action, from }) =>
      from && ACTION_TRAITS[action].takes !== null && !ACTION_TRAITS[action].moves ? [`${from.shelfId}\n${from.path}`] : [],
    );
    return this.db
      .prepare(
        `SELECT s.run_id AS id, sum(coalesce(json_array_length(s.step, '$.names'), 1)) AS files FROM run_steps s INDEXED BY run_steps_outline
         WHERE s.run_id IN (${isBroken}) AND s.state = 'done' AND s.action IN (${COPYING})
           AND json_extract(s.step, '$.to.shelfId') = @shelfId AND substr(json_extract(s.step, '$.to.path'), 1, length(@below)) = @below
           AND json_extract(s.step, '$.from.shelfId') || char(10) || json_extract(s.step, '$.from.path') IN (SELECT value FROM json_each(@froms))
         GROUP BY s.run_id ORDER BY s.run_id DESC`,
      )
      .all({ kind, shelfId, below: path === '' ? '' : `${path}/`, froms: JSON.stringify(froms) }) as { id: number; files: number }[];
  }
}
