/** Clips as sources: what is a copy of what, and whose clip a file is. */
import { fileName, type Place } from '../../core/media/item';
import type { Db } from './db';

/** SQL: the clips named in @only, each looked up by its id. */
export const ONLY_CLIPS = '(SELECT DISTINCT value AS id FROM json_each(@only)) w CROSS JOIN clips c ON c.id = w.id';

/** SQL: what links lead to with their copies; see IS_COPY. */
export const COPIES_OF_LINKS = `FROM clips c CROSS JOIN renditions r ON r.clip_id = c.id CROSS JOIN links l ON l.rendition_id = r.id CROSS JOIN items i ON i.content = l.content`;
export const IS_COPY = `i.gone_at IS NULL AND (i.shelf_id IS NOT l.shelf_id OR i.path IS NOT l.path) AND i.shelf_id IN (SELECT id FROM shelves WHERE retired_at IS NULL)`;

/** A copy of what a link leads to. */
export interface LinkCopy {
  readonly renditionId: string;
  readonly position: number;
  readonly shelfId: string;
  readonly path: string;
  readonly chosen: number;
}

/** A file of a clip's source, standing or gone. */
export interface SourceFile {
  readonly renditionId: string;
  readonly position: number;
  readonly of: 'source' | 'part' | 'earlier';
  readonly shelfId: string;
  readonly path: string;
  readonly isLinked: boolean;
  readonly isChosen: boolean;
  /** Nothing, or something else, stands there. */
  readonly isGone: boolean;
  /** When a stocktake saw it last, and when every byte of it was read last; ISO 8601. */
  readonly seenAt: string | null;
  readonly verifiedAt: string | null;
}

/** A clip that a file belongs to. */
export interface ClipOfFile {
  readonly id: string;
  /** Which item of its source the file is, or is a part of. */
  readonly position: number;
  /** The part that the file is; null for a whole one. */
  readonly part: string | null;
}

const OF_FILE = `c.id, coalesce(r.part ->> 'position', l.position) AS position, CASE WHEN r.part ->> 'range' IS NOT NULL THEN r.id END AS part`;

export class Sources {
  constructor(private readonly db: Db) {}

  /** Where files of the same bytes as those that clips link stand, by rendition and position. `only`: of these clips; null for all. */
  copies(projectId: string, only: readonly string[] | null = null): LinkCopy[] {
    const from = only === null ? COPIES_OF_LINKS : COPIES_OF_LINKS.replace('clips c', ONLY_CLIPS);
    return this.db
      .prepare(
        `SELECT l.rendition_id AS renditionId, l.position, i.shelf_id AS shelfId, i.path, l.chosen ${from}
         WHERE c.project_id = @projectId AND ${IS_COPY}`,
      )
      .all({ projectId, ...(only === null ? {} : { only: JSON.stringify(only) }) }) as LinkCopy[];
  }

  /** The shelf that most links of a project lead to, and how many of its links lead to shelves at all. */
  linksByShelf(projectId: string): { shelfId: string; links: number }[] {
    return this.db
      .prepare(
        `SELECT l.shelf_id AS shelfId, count(*) AS links FROM clips c JOIN renditions r ON r.clip_id = c.id JOIN links l ON l.rendition_id = r.id
         WHERE c.project_id = ? AND l.shelf_id IS NOT NULL AND r.kind = 'source' AND r.part IS NULL GROUP BY l.shelf_id ORDER BY links DESC, shelfId`,
      )
      .all(projectId) as { shelfId: string; links: number }[];
  }

  /** Has a link read where it leads, before any other copy, or no more. */
  choose(renditionId: string, position: number, isChosen: boolean): void {
    this.db.prepare('UPDATE links SET chosen = ? WHERE rendition_id = ? AND position = ?').run(isChosen ? 1 : 0, renditionId, position);
  }

  /**
   * The clip whose source is the file at a place or a copy of it, and which of its items that is. What stood at the place
   * counts where nothing stands there now. Of several, first what links the place itself, then what bears its name.
   */
  idByPlace(projectId: string, place: Place): ClipOfFile | null {
    const linked = this.idByLink(projectId, place);
    if (linked) return linked;
    const found = this.db
      .prepare(
        `SELECT ${OF_FILE}
         FROM (SELECT content FROM items WHERE shelf_id = @shelfId AND path = @path AND content IS NOT NULL ORDER BY gone_at IS NOT NULL LIMIT 1) i
         JOIN links l ON l.content = i.content JOIN renditions r ON r.id = l.rendition_id JOIN clips c ON c.id = r.clip_id
         WHERE r.kind = 'source' AND c.project_id = @projectId ORDER BY r.part ->> 'range' IS NOT NULL, l.name = @name DESC, c.rowid LIMIT 1`,
      )
      .get({ ...place, projectId, name: fileName(place.path) });
    return (found as ClipOfFile | undefined) ?? null;
  }

  /** Like `idByPlace`, of what links that very place. */
  idByLink(projectId: string, place: Place): ClipOfFile | null {
    const found = this.db
      .prepare(
        `SELECT ${OF_FILE} FROM links l JOIN renditions r ON r.id = l.rendition_id JOIN clips c ON c.id = r.clip_id
         WHERE l.shelf_id = ? AND l.path = ? AND r.kind = 'source' AND c.project_id = ? ORDER BY r.part ->> 'range' IS NOT NULL, c.rowid LIMIT 1`,
      )
      .get(place.shelfId, place.path, projectId);
    return (found as ClipOfFile | undefined) ?? null;
  }

  /** Every file of a clip's source: what it links, copies of that, parts, and what it linked before. */
  filesOf(clipId: string): SourceFile[] {
    const rows = this.db
      .prepare(
        `SELECT l.rendition_id AS renditionId, coalesce(r.part ->> 'position', l.position) AS position,
           CASE WHEN r.part IS NULL THEN 'source' WHEN r.part ->> 'earlier' IS NULL THEN 'part' ELSE 'earlier' END AS of,
           f.shelf_id AS shelfId, f.path, f.linked AS isLinked, l.chosen AND f.linked AS isChosen,
           i.id IS NULL OR i.gone_at IS NOT NULL OR (f.linked AND (i.fingerprint IS NOT l.fingerprint OR coalesce(i.content <> l.content, 0))) AS isGone,
           coalesce(CASE WHEN i.gone_at IS NOT NULL THEN i.seen_at END, s.stocktake_at) AS seenAt, i.sha256_at AS verifiedAt
         FROM renditions r JOIN links l ON l.rendition_id = r.id
         JOIN (SELECT l.rendition_id, l.position, l.shelf_id, l.path, 1 AS linked FROM renditions r JOIN links l ON l.rendition_id = r.id
             WHERE r.clip_id = @clipId AND l.shelf_id IS NOT NULL AND l.path IS NOT NULL
           UNION ALL
           SELECT l.rendition_id, l.position, c.shelf_id, c.path, 0 FROM renditions r JOIN links l ON l.rendition_id = r.id JOIN items c ON c.content = l.content
             WHERE r.clip_id = @clipId AND c.gone_at IS NULL AND (c.shelf_id IS NOT l.shelf_id OR c.path IS NOT l.path)
               AND c.shelf_id IN (SELECT id FROM shelves WHERE retired_at IS NULL)) f
           ON f.rendition_id = l.rendition_id AND f.position = l.position
         LEFT JOIN items i ON i.shelf_id = f.shelf_id AND i.path = f.path LEFT JOIN shelves s ON s.id = f.shelf_id
         WHERE r.clip_id = @clipId AND r.kind = 'source' ORDER BY r.rowid, l.position, f.linked DESC, f.shelf_id, f.path`,
      )
      .all({ clipId }) as (Omit<SourceFile, 'isLinked' | 'isChosen' | 'isGone'> & { isLinked: number; isChosen: number; isGone: number })[];
    return rows.map((row) => ({ ...row, isLinked: row.isLinked === 1, isChosen: row.isChosen === 1, isGone: row.isGone === 1 }));
  }

  /** Whether what stands, or stood, at one place is equal in every byte to what stands at the other. */
  isCopy(linked: Place, read: Place): boolean {
    const content = this.db.prepare('SELECT content FROM items WHERE shelf_id = ? AND path = ?').pluck();
    const own = content.get(linked.shelfId, linked.path) as string | null | undefined;
    return !!own && own === content.get(read.shelfId, read.path);
  }

  /** Whether a file is marked as one with a burn-in, wherever it is linked. */
  isBurned({ shelfId, path }: Place): boolean {
    const found = this.db
      .prepare(
        `SELECT 1 FROM links l JOIN renditions r ON r.id = l.rendition_id WHERE l.shelf_id = ? AND l.path = ? AND r.made ->> 'burnIn' = 1 LIMIT 1`,
      )
      .get(shelfId, path);
    return found !== undefined;
  }

  /** The clip of a source, by what it is known by in every house. */
  idBySource(projectId: string, sourceId: string): string | null {
    const found = this.db
      .prepare('SELECT id FROM clips WHERE project_id = ? AND source_id = ? ORDER BY rowid LIMIT 1')
      .pluck()
      .get(projectId, sourceId);
    return (found as string | undefined) ?? null;
  }
}
