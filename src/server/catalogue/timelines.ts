import type { Finding } from '../../core/planning/finding';
import type { Db } from './database';

export interface TimelineRow {
  readonly id: string;
  readonly name: string;
  readonly format: string;
  readonly sourceName: string;
  readonly broughtInAt: string;
  /** OTIO JSON of this timeline. */
  readonly document: string;
  readonly findings: readonly Finding[];
}

/** By event index: its clip, and which item of the clip it names (null where its track decides). */
export interface EventClips {
  readonly clipIds: readonly (string | null)[];
  readonly positions: readonly (number | null)[];
}

interface Raw extends Omit<TimelineRow, 'findings'> {
  findings: string;
}

const COLUMNS = 'id, name, format, source_name AS sourceName, brought_in_at AS broughtInAt, document, findings';

export class Timelines {
  constructor(private readonly db: Db) {}

  ofProject(projectId: string): TimelineRow[] {
    const rows = this.db.prepare(`SELECT ${COLUMNS} FROM timelines WHERE project_id = ? ORDER BY brought_in_at, rowid`).all(projectId) as Raw[];
    return rows.map((row) => ({ ...row, findings: JSON.parse(row.findings) as Finding[] }));
  }

  add(projectId: string, row: TimelineRow, { clipIds, positions }: EventClips): void {
    this.db
      .prepare('INSERT INTO timelines (id, project_id, name, format, source_name, brought_in_at, document, findings) VALUES (?, ?, ?, ?, ?, ?, ?, ?)')
      .run(row.id, projectId, row.name, row.format, row.sourceName, row.broughtInAt, row.document, JSON.stringify(row.findings));
    const event = this.db.prepare('INSERT INTO timeline_events (timeline_id, event_index, clip_id, link_position) VALUES (?, ?, ?, ?)');
    clipIds.forEach((clipId, index) => {
      if (clipId !== null) event.run(row.id, index, clipId, positions[index] ?? null);
    });
  }

  /** Clip of each event, by index, as far as there are any. */
  eventClips(timelineId: string): EventClips {
    const rows = this.db.prepare('SELECT event_index, clip_id, link_position FROM timeline_events WHERE timeline_id = ?').raw().all(timelineId) as [
      number,
      string,
      number | null,
    ][];
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

  /** Takes a timeline out; returns the clips it used. */
  remove(projectId: string, timelineId: string): string[] {
    const used = this.db.prepare('SELECT DISTINCT clip_id FROM timeline_events WHERE timeline_id = ?').pluck().all(timelineId) as string[];
    this.db.prepare('DELETE FROM timelines WHERE id = ? AND project_id = ?').run(timelineId, projectId);
    return used;
  }
}
