/** What timelines read, as it is kept: plain values and typed arrays in the format of structured clones, which newer versions of Node.js read too. */
import { deserialize, serialize } from 'node:v8';
import { withClips, type TimelineReads } from '../../core/project/reads';
import type { Db } from './db';

/** By event index: its clip, and which item of the clip it names (null where its track decides). */
export interface EventClips {
  readonly clipIds: readonly (string | null)[];
  readonly positions: readonly (number | null)[];
}

export function putReads(db: Db, timelineId: string, { names, ...reads }: TimelineReads): void {
  db.prepare('INSERT OR REPLACE INTO timeline_reads (timeline_id, reads, names) VALUES (?, ?, ?)').run(
    timelineId,
    serialize(reads),
    JSON.stringify(names),
  );
}

/** Undefined where there are none that this version of Node.js can read: the document tells the same. */
export function readsOfTimeline(db: Db, timelineId: string): TimelineReads | undefined {
  const kept = db.prepare('SELECT reads FROM timeline_reads WHERE timeline_id = ?').pluck().get(timelineId) as Buffer | undefined;
  if (!kept) return undefined;
  try {
    return withNames(db, timelineId, deserialize(kept) as Omit<TimelineReads, 'names'>);
  } catch {
    return undefined;
  }
}

/** The names are read when somebody asks for one. */
function withNames(db: Db, timelineId: string, reads: Omit<TimelineReads, 'names'>): TimelineReads {
  const read = () => db.prepare('SELECT names FROM timeline_reads WHERE timeline_id = ?').pluck().get(timelineId) as string | undefined;
  let names: readonly string[] | null = null;
  return {
    ...reads,
    get names() {
      return (names ??= JSON.parse(read() ?? '[]') as string[]);
    },
  };
}

/** Gives a copy of a timeline what the other reads, of other clips. */
export function copyReads(db: Db, fromTimeline: string, toTimeline: string, clips: ReadonlyMap<string, string>): void {
  const reads = readsOfTimeline(db, fromTimeline);
  if (reads)
    putReads(
      db,
      toTimeline,
      withClips(reads, (id) => clips.get(id) ?? id),
    );
}

/** Clip of each event, by index, as far as there are any. */
export function eventClips(db: Db, timelineId: string): EventClips {
  const rows = db
    .prepare('SELECT event_index, clip_id, link_position FROM timeline_events WHERE timeline_id = ? ORDER BY event_index')
    .raw()
    .all(timelineId) as [number, string, number | null][];
  const clipIds: (string | null)[] = [];
  const positions: (number | null)[] = [];
  for (const [index, clipId, position] of rows) {
    while (clipIds.length < index) {
      clipIds.push(null);
      positions.push(null);
    }
    clipIds[index] = clipId;
    positions[index] = position;
  }
  return { clipIds, positions };
}
