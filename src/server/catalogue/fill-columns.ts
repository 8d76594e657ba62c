/** Columns that an earlier version did not have, from what the rows hold. */
import { readTimeline } from '../../core/interchange/otio/otio-reader';
import type { OtioObject } from '../../core/interchange/otio/otio-types';
import { readsOf } from '../../core/project/reads';
import type { Timeline } from '../../core/project/timeline';
import { rate, type Rate } from '../../core/time/rate';
import type { Db } from './db';
import { ITEM_COLUMNS, itemColumns } from './item-columns';
import { factsFromJson } from './item-facts';
import { shownEvents, timelineHead } from './timeline-head';
import { eventClips, putReads } from './timeline-reads';

/** How many rows at once: a long fill that is broken off goes on at the next start. */
const BATCH = 5_000;

interface UnfilledItem {
  readonly rowid: number;
  readonly path: string;
  readonly facts: string;
  readonly original_name: string | null;
}

export function fillColumns(db: Db): void {
  while (fillItems(db) === BATCH);
  fillTimelines(db);
}

function fillItems(db: Db): number {
  const rows = db.prepare('SELECT rowid, path, facts, original_name FROM items WHERE tells IS NULL LIMIT ?').all(BATCH) as UnfilledItem[];
  const fill = db.prepare(`UPDATE items SET ${ITEM_COLUMNS.map((column) => `${column} = ?`).join(', ')} WHERE rowid = ?`);
  db.transaction(() =>
    rows.forEach(({ rowid, path, facts, original_name }) => fill.run(...itemColumns(path, factsFromJson(facts), original_name), rowid)),
  ).immediate();
  return rows.length;
}

function fillTimelines(db: Db): void {
  const rows = db
    .prepare(
      `SELECT t.id, p.rate_num, p.rate_den FROM timelines t JOIN projects p ON p.id = t.project_id
       WHERE t.head IS NULL OR (t.head <> 'null' AND NOT EXISTS (SELECT 1 FROM timeline_reads r WHERE r.timeline_id = t.id))`,
    )
    .all() as { id: string; rate_num: number; rate_den: number }[];
  const document = db.prepare('SELECT document FROM timeline_documents WHERE timeline_id = ?').pluck();
  const head = db.prepare('UPDATE timelines SET head = ? WHERE id = ?');
  const event = db.prepare('UPDATE timeline_events SET sound = ? WHERE timeline_id = ? AND event_index = ?');
  for (const { id, rate_num, rate_den } of rows) {
    const model = readOrNull(document.get(id) as string, rate(rate_num, rate_den));
    db.transaction(() => {
      head.run(JSON.stringify(model && timelineHead(model)), id);
      if (!model) return;
      shownEvents(model).forEach((sound, index) => event.run(sound ? 1 : 0, id, index));
      const { clipIds, positions } = eventClips(db, id);
      putReads(db, id, readsOf(model, clipIds, positions));
    }).immediate();
  }
}

/** One that cannot be read keeps no catalogue from opening. */
function readOrNull(document: string, own: Rate): Timeline | null {
  try {
    return readTimeline(JSON.parse(document) as OtioObject, own);
  } catch {
    return null;
  }
}
