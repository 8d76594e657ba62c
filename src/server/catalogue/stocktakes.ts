/** What stocktakes found, by their journals. */
import { STOCKTAKE, stocktakeDigest } from '../../core/planning/stocktake/stocktake';
import type { Db } from './db';

/** Of a shelf, back from the last one: shelves that are watched are looked through often. */
const MOST_LOOKED_AT = 2_000;

export interface SeenChange {
  /** ISO 8601. */
  readonly at: string;
  /** Files that were new or changed. */
  readonly read: number;
  readonly gone: number;
  /** Files that are at another place of the shelf. */
  readonly moved: number;
}

/** A figure that journals of earlier versions lack is 0. */
const figure = (name: string) => `coalesce(json_extract(s.outcome, '$.stock.${name}'), 0)`;

export class Stocktakes {
  constructor(private readonly db: Db) {}

  /** The last ones of a shelf that found something, newest first. */
  changesSeen(shelfId: string, most: number): SeenChange[] {
    return this.db
      .prepare(
        `SELECT * FROM (SELECT r.ended_at AS at, ${figure('readFiles')} + ${figure('copiedFiles')} AS read, ${figure('movedFiles')} AS moved,
             max(0, ${figure('goneFiles')} - ${figure('movedFiles')}) AS gone
           FROM (SELECT id, ended_at FROM runs WHERE kind = '${STOCKTAKE}' AND digest = ? AND state = 'done' ORDER BY id DESC LIMIT ${MOST_LOOKED_AT}) r
           JOIN run_steps s ON s.run_id = r.id ORDER BY r.id DESC)
         WHERE read + gone + moved > 0 LIMIT ?`,
      )
      .all(stocktakeDigest(shelfId), most) as SeenChange[];
  }
}
