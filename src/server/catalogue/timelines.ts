import { createHash } from 'node:crypto';
import type { Finding } from '../../core/words/finding';
import type { TimelineReads } from '../../core/project/reads';
import type { TimelineSums } from '../../core/usage/timeline-sums';
import type { Db } from './db';
import { LastMade } from './last-made';
import type { TimelineHead } from './timeline-head';
import { copyReads, eventClips, putReads, readsOfTimeline, type EventClips } from './timeline-reads';

export interface TimelineRow {
  readonly id: string;
  readonly name: string;
  readonly format: string;
  readonly sourceName: string;
  readonly broughtInAt: string;
  /** OTIO JSON of this timeline. */
  readonly document: string;
  readonly findings: readonly Finding[];
  /** SHA-256 of the document as it came, where this one counts its sources otherwise; null where it is as it came. */
  readonly cameAs: string | null;
}

/** A timeline as lists tell of it. */
export interface TimelineEntry extends Omit<TimelineRow, 'document'> {
  readonly head: TimelineHead;
}

/** What is added of a timeline beside its text. */
export interface TimelineParts extends EventClips {
  readonly reads: TimelineReads;
  /** Null where its model cannot be read. */
  readonly head: TimelineHead | null;
  /** By event index: whether it reads sound; null where nothing of it is shown. */
  readonly sounds: readonly (boolean | null)[];
}

/** Item of a clip that events read. */
export interface ClipRead {
  readonly clipId: string;
  readonly sound: boolean;
  readonly position: number | null;
}

/** Which clips the events of a project show, and how often. */
interface Uses {
  readonly events: ReadonlyMap<string, number>;
  readonly reads: readonly ClipRead[];
  readonly clips: ReadonlySet<string>;
}

interface RawEntry extends Omit<TimelineRow, 'findings' | 'document'> {
  findings: string;
  head: string;
}

const WORDS = 'id, name, format, source_name AS sourceName, brought_in_at AS broughtInAt, findings, came_as AS cameAs';

/** What a document is known by; see TimelineRow.cameAs. */
export function digest(document: string): string {
  return createHash('sha256').update(document).digest('hex');
}

export class Timelines {
  private readonly uses = new LastMade<Uses>(20);

  constructor(private readonly db: Db) {}

  isOf(projectId: string, id: string): boolean {
    return this.db.prepare('SELECT 1 FROM timelines WHERE id = ? AND project_id = ?').get(id, projectId) !== undefined;
  }

  /** The timelines of a project in the order they came in; those that cannot be read are left out. */
  entries(projectId: string): TimelineEntry[] {
    const rows = this.db
      .prepare(`SELECT ${WORDS}, head FROM timelines WHERE project_id = ? AND head <> 'null' ORDER BY brought_in_at, rowid`)
      .all(projectId) as RawEntry[];
    return rows.map((row) => ({ ...row, findings: JSON.parse(row.findings) as Finding[], head: JSON.parse(row.head) as TimelineHead }));
  }

  /** Timelines of a project that came with this very text: their ids and names. */
  withDocument(projectId: string, document: string): { id: string; name: string }[] {
    return this.db
      .prepare(
        `SELECT t.id, t.name FROM timelines t JOIN timeline_documents d ON d.timeline_id = t.id
         WHERE t.project_id = ? AND (t.came_as = ? OR (t.came_as IS NULL AND t.bytes = ? AND d.document = ?)) ORDER BY t.brought_in_at, t.rowid`,
      )
      .all(projectId, digest(document), Buffer.byteLength(document), document) as { id: string; name: string }[];
  }

  /** Timelines of which any event uses one of these clips. */
  using(clipIds: readonly string[]): ReadonlySet<string> {
    return new Set(this.eventsOf(clipIds).keys());
  }

  /** What one reads of its clips; undefined where it could not be read. */
  readsOf(id: string): TimelineReads | undefined {
    return readsOfTimeline(this.db, id);
  }

  /** Null when it is not there any more. */
  document(id: string): string | null {
    return (this.db.prepare('SELECT document FROM timeline_documents WHERE timeline_id = ?').pluck().get(id) as string | undefined) ?? null;
  }

  /** Bytes of all documents of a project. */
  bytes(projectId: string): number {
    return this.db.prepare('SELECT coalesce(sum(bytes), 0) FROM timelines WHERE project_id = ?').pluck().get(projectId) as number;
  }

  add(projectId: string, row: TimelineRow, { clipIds, positions, head, sounds, reads }: TimelineParts): void {
    this.db
      .prepare(
        `INSERT INTO timelines (id, project_id, name, format, source_name, brought_in_at, findings, head, bytes, came_as)
         VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
      )
      .run(
        row.id,
        projectId,
        row.name,
        row.format,
        row.sourceName,
        row.broughtInAt,
        JSON.stringify(row.findings),
        JSON.stringify(head),
        Buffer.byteLength(row.document),
        row.cameAs,
      );
    this.db.prepare('INSERT INTO timeline_documents (timeline_id, document) VALUES (?, ?)').run(row.id, row.document);
    putReads(this.db, row.id, reads);
    const event = this.db.prepare('INSERT INTO timeline_events (timeline_id, event_index, clip_id, link_position, sound) VALUES (?, ?, ?, ?, ?)');
    clipIds.forEach((clipId, index) => {
      const sound = sounds[index] ?? null;
      if (clipId !== null) event.run(row.id, index, clipId, positions[index] ?? null, sound === null ? null : Number(sound));
    });
  }

  /** Copies every timeline of a project into another; `clips`: old clip id → new one. */
  duplicate(fromProject: string, toProject: string, clips: ReadonlyMap<string, string>, newId: () => string): void {
    const ids = this.db.prepare('SELECT id FROM timelines WHERE project_id = ? ORDER BY brought_in_at, rowid').pluck().all(fromProject) as string[];
    const copy = this.db.prepare(
      `INSERT INTO timelines (id, project_id, name, format, source_name, brought_in_at, findings, head, bytes, came_as)
       SELECT ?, ?, name, format, source_name, brought_in_at, findings, head, bytes, came_as FROM timelines WHERE id = ?`,
    );
    const document = this.db.prepare('INSERT INTO timeline_documents (timeline_id, document) SELECT ?, document FROM timeline_documents WHERE timeline_id = ?'); // prettier-ignore
    const events = this.db.prepare('SELECT event_index, clip_id, link_position, sound FROM timeline_events WHERE timeline_id = ?').raw();
    const event = this.db.prepare('INSERT INTO timeline_events (timeline_id, event_index, clip_id, link_position, sound) VALUES (?, ?, ?, ?, ?)');
    for (const id of ids) {
      const own = newId();
      copy.run(own, toProject, id);
      document.run(own, id);
      copyReads(this.db, id, own, clips);
      for (const [index, clipId, position, sound] of events.all(id) as [number, string, number | null, number | null][])
        if (clips.has(clipId)) event.run(own, index, clips.get(clipId), position, sound);
    }
  }

  /** By clip id: how many events of the project's timelines show something of it. */
  eventsByClip(projectId: string): ReadonlyMap<string, number> {
    return this.usesOf(projectId).events;
  }

  /** By timeline id: how many events use one of these clips. */
  eventsOf(clipIds: readonly string[]): Map<string, number> {
    const rows = this.db
      .prepare('SELECT timeline_id, count(*) FROM timeline_events WHERE clip_id IN (SELECT value FROM json_each(?)) GROUP BY timeline_id')
      .raw()
      .all(JSON.stringify(clipIds)) as [string, number][];
    return new Map(rows);
  }

  /** By timeline id, as far as they are known: kept until a clip or a file of it is another. */
  figures(projectId: string): Map<string, TimelineSums> {
    const rows = this.db
      .prepare(
        `SELECT f.timeline_id AS id, f.clips, f.media_seconds AS mediaSeconds, f.used_seconds AS usedSeconds
         FROM timelines t JOIN timeline_figures f ON f.timeline_id = t.id WHERE t.project_id = ?`,
      )
      .all(projectId) as (TimelineSums & { id: string })[];
    return new Map(rows.map(({ id, ...figures }) => [id, figures]));
  }

  putFigures(timelineId: string, { clips, mediaSeconds, usedSeconds }: TimelineSums): void {
    this.db
      .prepare('INSERT OR REPLACE INTO timeline_figures (timeline_id, clips, media_seconds, used_seconds) VALUES (?, ?, ?, ?)')
      .run(timelineId, clips, mediaSeconds, usedSeconds);
  }

  /** What events of the project's timelines read of its clips, each once. */
  reads(projectId: string): readonly ClipRead[] {
    return this.usesOf(projectId).reads;
  }

  /** Clips that any timeline of the project uses. */
  clipsOn(projectId: string): ReadonlySet<string> {
    return this.usesOf(projectId).clips;
  }

  /** Events never change: known as long as the project has the same timelines. */
  private usesOf(projectId: string): Uses {
    const joined = this.db.prepare('SELECT joined FROM projects WHERE id = ?').pluck().get(projectId);
    const ids = JSON.stringify([joined, this.db.prepare('SELECT id FROM timelines WHERE project_id = ? ORDER BY id').pluck().all(projectId)]);
    return this.uses.of(projectId, ids, () => {
      const rows = this.db
        .prepare(
          `SELECT clip_id, sound, link_position, count(*) FROM timeline_events INDEXED BY timeline_events_by_clip
           WHERE clip_id IN (SELECT id FROM clips WHERE project_id = ?) GROUP BY clip_id, sound, link_position`,
        )
        .raw()
        .all(projectId) as [string, number | null, number | null, number][];
      const shown = rows.filter(([, sound]) => sound !== null);
      const events = new Map<string, number>();
      for (const [clipId, , , count] of shown) events.set(clipId, (events.get(clipId) ?? 0) + count);
      return {
        events,
        reads: shown.map(([clipId, sound, position]): ClipRead => ({ clipId, sound: sound === 1, position })),
        clips: new Set(rows.map(([clipId]) => clipId)),
      };
    });
  }

  /** Clip of each event, by index, as far as there are any. */
  eventClips(timelineId: string): EventClips {
    return eventClips(this.db, timelineId);
  }

  /** Every id that a timeline is known by: its own, and those of timelines whose place it took. */
  knownAs(id: string): readonly string[] {
    return [id, ...(this.db.prepare('SELECT former_id FROM timeline_follows WHERE timeline_id = ?').pluck().all(id) as string[])];
  }

  /** Who knew a timeline by one of these ids finds `id` from then on. `runId`: the run that does it. In the transaction that does. */
  follow(formerIds: readonly string[], id: string, runId: number | null = null): void {
    const insert = this.db.prepare('INSERT OR REPLACE INTO timeline_follows (former_id, timeline_id, run_id) VALUES (?, ?, ?)');
    for (const formerId of formerIds) if (formerId !== id) insert.run(formerId, id, runId);
    // The one that came back follows nobody.
    this.db.prepare('DELETE FROM timeline_follows WHERE former_id = ?').run(id);
  }

  /** By the ids that timelines of a project had before: those they have now. */
  followers(projectId: string): ReadonlyMap<string, string> {
    const rows = this.db
      .prepare('SELECT f.former_id, f.timeline_id FROM timelines t JOIN timeline_follows f ON f.timeline_id = t.id WHERE t.project_id = ?')
      .raw()
      .all(projectId) as [string, string][];
    return new Map(rows);
  }

  /** By the ids that timelines of a project have now: those they had before. */
  formerIds(projectId: string): ReadonlyMap<string, readonly string[]> {
    const out = new Map<string, string[]>();
    for (const [former, now] of this.followers(projectId)) out.set(now, [...(out.get(now) ?? []), former]);
    return out;
  }

  /** The run that put another in the place of a timeline, where one did. */
  replacedBy(formerId: string): number | null {
    return (this.db.prepare('SELECT run_id FROM timeline_follows WHERE former_id = ?').pluck().get(formerId) as number | null | undefined) ?? null;
  }

  /** Takes a timeline out; returns the clips it used. */
  remove(projectId: string, timelineId: string): string[] {
    const used = this.db.prepare('SELECT DISTINCT clip_id FROM timeline_events WHERE timeline_id = ?').pluck().all(timelineId) as string[];
    this.db.prepare('DELETE FROM timelines WHERE id = ? AND project_id = ?').run(timelineId, projectId);
    return used;
  }
}
