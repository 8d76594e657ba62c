/** Clips of one source become one, and are several again: events, renditions and words of each are kept. */
import { readTimeline } from '../../core/interchange/otio/otio-reader';
import type { OtioObject } from '../../core/interchange/otio/otio-types';
import { sourceRendition, type Clip } from '../../core/project/clip';
import type { Moment } from '../../core/project/moment';
import { readsOf } from '../../core/project/reads';
import type { Clips } from './clips';
import type { Db } from './db';
import type { Projects } from './projects';
import { eventClips, putReads } from './timeline-reads';

/** What was joined, as it was. */
export interface Joined {
  /** Clips that were removed, without what moved to the clip that stays. */
  readonly clips: readonly Clip[];
  readonly touched: readonly string[];
  /** By id of such a clip: its renditions, its source first, and its events by timeline. */
  readonly renditions: Readonly<Record<string, readonly { readonly id: string; readonly part: string | null }[]>>;
  readonly events: Readonly<Record<string, readonly (readonly [timelineId: string, index: number])[]>>;
  readonly keep: Pick<Clip, 'id' | 'note' | 'colour' | 'marks' | 'mediaStart'>;
}

export class Joins {
  constructor(
    private readonly db: Db,
    private readonly clips: Clips,
    private readonly projects: Projects,
  ) {}

  /** Clips of a project whose sources are equal in every byte, item by item; in the order in which they came. */
  oneSource(projectId: string): { content: string; clipIds: string[] }[] {
    const rows = this.db
      .prepare(
        `SELECT c.id, group_concat(l.content, ' ' ORDER BY l.position) AS content FROM clips c
         CROSS JOIN renditions r ON r.clip_id = c.id AND r.kind = 'source' AND r.part IS NULL CROSS JOIN links l ON l.rendition_id = r.id
         WHERE c.project_id = ? GROUP BY c.id HAVING count(*) = count(l.content) ORDER BY c.rowid`,
      )
      .all(projectId) as { id: string; content: string }[];
    const groups = new Map<string, string[]>();
    for (const { id, content } of rows) {
      const own = groups.get(content);
      if (own) own.push(id);
      else groups.set(content, [id]);
    }
    return [...groups].filter(([, clipIds]) => clipIds.length > 1).map(([content, clipIds]) => ({ content, clipIds }));
  }

  /** Part of a transaction. Their own source links stay with the clip, so that what was linked by them is found and taken back. */
  join(projectId: string, keepId: string, joinIds: readonly string[], mediaStart: Moment | null): Joined {
    const [keep] = this.clips.ofProject(projectId, [keepId]);
    const others = this.clips.ofProject(projectId, joinIds);
    const touched = this.db.prepare('SELECT id FROM clips WHERE touched = 1 AND id IN (SELECT value FROM json_each(?))').pluck().all(JSON.stringify(joinIds)) as string[]; // prettier-ignore
    const renditions = this.db.prepare('SELECT id, part FROM renditions WHERE clip_id = ? ORDER BY rowid');
    const events = this.db.prepare('SELECT timeline_id, event_index FROM timeline_events WHERE clip_id = ?').raw();
    const joined: Joined = {
      clips: others,
      touched,
      renditions: Object.fromEntries(others.map(({ id }) => [id, renditions.all(id) as Joined['renditions'][string]])),
      events: Object.fromEntries(others.map(({ id }) => [id, events.all(id) as [string, number][]])),
      keep: { id: keepId, note: keep!.note, colour: keep!.colour, marks: keep!.marks, mediaStart: keep!.mediaStart },
    };
    const timelines = this.timelinesOf(joinIds);
    for (const clip of others) {
      const source = sourceRendition(clip)?.id ?? '';
      this.db.prepare('UPDATE timeline_events SET clip_id = ? WHERE clip_id = ?').run(keepId, clip.id);
      this.db
        .prepare(`UPDATE renditions SET clip_id = ?, part = CASE WHEN id = ? THEN '{"earlier":true}' ELSE part END WHERE clip_id = ?`)
        .run(keepId, source, clip.id);
      this.nameToo(keepId, clip.name);
    }
    const words = others.reduce<Pick<Clip, 'note' | 'colour' | 'marks'>>(
      (all, { note, colour, marks }) => ({
        note: note === '' || all.note.includes(note) ? all.note : [all.note, note].filter((text) => text !== '').join('\n'),
        colour: all.colour || colour,
        marks: all.marks ?? marks,
      }),
      keep!,
    );
    this.setWords(keepId, { ...words, mediaStart });
    this.clips.remove(joinIds);
    this.readAgain(projectId, timelines);
    return joined;
  }

  /** Gives how many are there again; none where the clip they became is gone. */
  unjoin(projectId: string, { clips, touched, renditions, events, keep }: Joined): number {
    const there = this.db.prepare('SELECT 1 FROM clips WHERE id = ? AND project_id = ?').get(keep.id, projectId);
    if (there === undefined) return 0;
    for (const clip of clips) {
      this.clips.put(projectId, { ...clip, renditions: [], parts: [], partCopies: [] });
      this.db.prepare('UPDATE clips SET touched = ? WHERE id = ?').run(touched.includes(clip.id) ? 1 : 0, clip.id);
      for (const { id, part } of renditions[clip.id] ?? [])
        this.db.prepare('UPDATE renditions SET clip_id = ?, part = ? WHERE id = ? AND clip_id = ?').run(clip.id, part, id, keep.id);
      for (const [timelineId, index] of events[clip.id] ?? [])
        this.db
          .prepare('UPDATE timeline_events SET clip_id = ? WHERE timeline_id = ? AND event_index = ? AND clip_id = ?')
          .run(clip.id, timelineId, index, keep.id);
    }
    this.setWords(keep.id, keep);
    this.readAgain(projectId, this.timelinesOf(clips.map(({ id }) => id)));
    return clips.length;
  }

  private timelinesOf(clipIds: readonly string[]): string[] {
    return this.db
      .prepare('SELECT DISTINCT timeline_id FROM timeline_events WHERE clip_id IN (SELECT value FROM json_each(?))')
      .pluck()
      .all(JSON.stringify(clipIds)) as string[];
  }

  /** The name of a clip that went finds the one it became. */
  private nameToo(clipId: string, name: string): void {
    this.db
      .prepare(
        `UPDATE links SET expected = json_set(expected, '$.told.names', json_insert(coalesce(expected -> '$.told.names', '[]'), '$[#]', @name),
           '$.told.reels', json(coalesce(expected -> '$.told.reels', '[]')))
         WHERE position = 0 AND rendition_id = (SELECT id FROM renditions WHERE clip_id = @clipId AND kind = 'source' AND part IS NULL ORDER BY rowid LIMIT 1)`,
      )
      .run({ clipId, name });
  }

  private setWords(id: string, { note, colour, marks, mediaStart }: Pick<Clip, 'note' | 'colour' | 'marks' | 'mediaStart'>): void {
    this.db
      .prepare('UPDATE clips SET note = ?, colour = ?, marks = ?, media_start = ?, touched = 1 WHERE id = ?')
      .run(note, colour, marks && JSON.stringify(marks), mediaStart && JSON.stringify(mediaStart), id);
  }

  /** What timelines read is kept by the clips of their events. */
  private readAgain(projectId: string, timelineIds: readonly string[]): void {
    this.db.prepare('UPDATE projects SET joined = joined + 1 WHERE id = ?').run(projectId);
    const project = this.projects.get(projectId);
    const document = this.db.prepare('SELECT document FROM timeline_documents WHERE timeline_id = ?').pluck();
    for (const id of timelineIds) {
      const model = readTimeline(JSON.parse(document.get(id) as string) as OtioObject, project!.rate);
      if (!model) continue;
      const { clipIds, positions } = eventClips(this.db, id);
      putReads(this.db, id, readsOf(model, clipIds, positions));
      this.db.prepare('DELETE FROM timeline_figures WHERE timeline_id = ?').run(id);
    }
  }
}
