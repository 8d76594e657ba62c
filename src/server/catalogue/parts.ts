/** Files of a clip beside its source: parts of it, and what it was before. */
import { placeKey, type Place } from '../../core/media/item';
import type { MediaLink, Part, PartCopy } from '../../core/project/clip';
import type { KnownParts } from '../../core/planning/exchange/exchange';
import type { FrameRange } from '../../core/time/range';
import type { Db } from './db';
import { insertLink } from './link-rows';

/** What the catalogue keeps of a part. */
export type PartOf = Pick<Part, 'position' | 'range'>;

export class Parts {
  constructor(private readonly db: Db) {}

  /** A file that holds some frames of the clip's source; nothing where the clip has it already. */
  addPart(clipId: string, { id, links: [link], position, range }: Part): void {
    const known = this.db
      .prepare(
        `SELECT 1 FROM renditions r JOIN links l ON l.rendition_id = r.id WHERE r.clip_id = ? AND l.shelf_id IS ? AND l.path IS ? AND l.url = ?`,
      )
      .get(clipId, link.place?.shelfId ?? null, link.place?.path ?? null, link.url);
    if (known !== undefined) return;
    const added = this.db
      .prepare(`INSERT INTO renditions (id, clip_id, kind, part) SELECT ?, id, 'source', ? FROM clips WHERE id = ?`)
      .run(id, JSON.stringify({ position, range } satisfies PartOf), clipId);
    if (added.changes > 0) insertLink(this.db, id, 0, link);
  }

  /** What was made of a part; nothing where there is no such clip any more. */
  addCopy(clipId: string, { id, kind, links, made, cameBy, position, range }: PartCopy): void {
    const added = this.db
      .prepare('INSERT OR IGNORE INTO renditions (id, clip_id, kind, made, came_by, part) SELECT ?, id, ?, ?, ?, ? FROM clips WHERE id = ?')
      .run(id, kind, made ? JSON.stringify(made) : null, cameBy ?? null, JSON.stringify({ position, range } satisfies PartOf), clipId);
    if (added.changes > 0) links.forEach((link, at) => insertLink(this.db, id, at, link));
  }

  /** Files that hold frames of some source of any project: by place, and what copies of them are known by. */
  all(): KnownParts {
    const rows = this.db
      .prepare(
        `SELECT l.shelf_id, l.path, l.content, l.fingerprint FROM renditions r JOIN links l ON l.rendition_id = r.id
         WHERE r.part IS NOT NULL AND r.part ->> 'range' IS NOT NULL AND l.shelf_id IS NOT NULL AND l.position = 0`,
      )
      .raw()
      .all() as [string, string, string | null, string | null][];
    return {
      places: new Set(rows.map(([shelfId, path]) => placeKey({ shelfId, path }))),
      marks: new Set(rows.flatMap(([, , ...marks]) => marks.filter((mark) => mark !== null))),
    };
  }

  /** Clips of which these files hold a part, by placeKey, with the frames they hold; of several the first by name. */
  partsAt(places: readonly Place[]): Map<string, { readonly clip: string; readonly range: FrameRange }> {
    const find = this.db
      .prepare(
        `SELECT c.name, r.part ->> 'range' FROM links l JOIN renditions r ON r.id = l.rendition_id JOIN clips c ON c.id = r.clip_id
         WHERE l.shelf_id = ? AND l.path = ? AND r.part ->> 'range' IS NOT NULL ORDER BY c.name, c.rowid LIMIT 1`,
      )
      .raw();
    const found = new Map<string, { clip: string; range: FrameRange }>();
    for (const place of places) {
      const row = find.get(place.shelfId, place.path) as [string, string] | undefined;
      if (row) found.set(placeKey(place), { clip: row[0], range: JSON.parse(row[1]) as FrameRange });
    }
    return found;
  }

  /** Files below a folder are parts of no clip of the project any more. */
  forgetParts(projectId: string, { shelfId, path }: Place): void {
    this.db
      .prepare(
        `DELETE FROM renditions WHERE part IS NOT NULL AND part ->> 'earlier' IS NULL AND clip_id IN (SELECT id FROM clips WHERE project_id = ?)
         AND id IN (SELECT rendition_id FROM links WHERE shelf_id = ? AND path >= ? AND path < ?)`,
      )
      .run(projectId, shelfId, path === '' ? '' : `${path}/`, path === '' ? '\u{10ffff}' : `${path}0`);
  }

  /** What an item of the clip's source was before another took its place: the clip is known by it too. */
  addEarlier(clipId: string, id: string, position: number, link: MediaLink): void {
    const part = JSON.stringify({ position, earlier: true });
    const added = this.db
      .prepare(`INSERT INTO renditions (id, clip_id, kind, part) SELECT ?, id, 'source', ? FROM clips WHERE id = ?`)
      .run(id, part, clipId);
    if (added.changes > 0) insertLink(this.db, id, 0, link);
  }
}
