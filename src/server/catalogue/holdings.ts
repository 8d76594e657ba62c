/** Which files hold what clips show and sound like, of all projects: those they link, and copies that are equal in every byte. */
import { folderOf, type Place } from '../../core/media/item';
import type { FileReader } from '../../core/planning/taking/file-readers';
import { isExpected } from '../../core/project/clip';
import type { Db } from './db';

/** A link of a clip to a file, or to another that is equal in every byte. */
export type Holder = Omit<FileReader, 'losesLast'>;

/** A file that stands where an item of a rendition is looked for. */
export interface HeldFile {
  readonly clipId: string;
  readonly renditionId: string;
  readonly position: number;
  /** Null: no such file is known to stand anywhere. */
  readonly place: Place | null;
}

const LIVE = 'SELECT id FROM shelves WHERE retired_at IS NULL';

export class Holdings {
  constructor(private readonly db: Db) {}

  /** Every clip that a file at one of these places belongs to. */
  holders(places: readonly Place[]): Holder[] {
    const rows = this.db
      .prepare(
        `WITH w AS MATERIALIZED (SELECT value ->> 0 AS shelf_id, value ->> 1 AS path FROM json_each(@places))
         SELECT p.id AS projectId, p.name AS project, c.id AS clipId, c.name AS clip, r.id AS renditionId, f.shelf_id AS shelfId, f.path, f.linked AS isLinked, r.part IS NOT NULL AS isPart
         FROM (SELECT w.shelf_id, w.path, l.rendition_id, 1 AS linked FROM w CROSS JOIN links l ON l.shelf_id = w.shelf_id AND l.path = w.path
           UNION ALL
           SELECT w.shelf_id, w.path, l.rendition_id, 0 FROM w CROSS JOIN items i ON i.shelf_id = w.shelf_id AND i.path = w.path AND i.gone_at IS NULL
             CROSS JOIN links l ON l.content = i.content WHERE l.shelf_id IS NOT w.shelf_id OR l.path IS NOT w.path) f
         CROSS JOIN renditions r ON r.id = f.rendition_id CROSS JOIN clips c ON c.id = r.clip_id CROSS JOIN projects p ON p.id = c.project_id
         WHERE r.part ->> 'earlier' IS NULL`,
      )
      .all({ places: JSON.stringify(places.map(({ shelfId, path }) => [shelfId, path])) }) as (Omit<Holder, 'place' | 'isLinked' | 'isPart'> &
      Place & { isLinked: number; isPart: number })[];
    return rows.map(({ shelfId, path, isLinked, isPart, ...row }) => ({
      ...row,
      place: { shelfId, path },
      isLinked: isLinked === 1,
      isPart: isPart === 1,
    }));
  }

  /** Folders of a shelf in which clips of any project have files. */
  foldersLinked(shelfId: string): string[] {
    const paths = this.db.prepare('SELECT DISTINCT path FROM links WHERE shelf_id = ? AND path IS NOT NULL').pluck().all(shelfId) as string[];
    return [...new Set(paths.map(folderOf))];
  }

  /** Files that stand and are equal in every byte to what stands at these places, as far as both were read whole. */
  sameContent(places: readonly Place[]): { readonly of: Place; readonly place: Place }[] {
    const rows = this.db
      .prepare(
        `WITH w AS MATERIALIZED (SELECT value ->> 0 AS shelf_id, value ->> 1 AS path FROM json_each(@places))
         SELECT w.shelf_id, w.path, o.shelf_id, o.path FROM w CROSS JOIN items i ON i.shelf_id = w.shelf_id AND i.path = w.path AND i.gone_at IS NULL
           CROSS JOIN items o ON o.content = i.content WHERE i.content IS NOT NULL AND o.gone_at IS NULL AND o.shelf_id IN (${LIVE})
             AND (o.shelf_id <> i.shelf_id OR o.path <> i.path)`,
      )
      .raw()
      .all({ places: JSON.stringify(places.map(({ shelfId, path }) => [shelfId, path])) }) as [string, string, string, string][];
    return rows.map(([shelfId, path, otherShelf, otherPath]) => ({ of: { shelfId, path }, place: { shelfId: otherShelf, path: otherPath } }));
  }

  /** Where the parts of these clips' sources stand, and copies of them, by the renditions that are of the same part: made of it, or it itself. */
  partFiles(clipIds: readonly string[]): Map<string, Place[]> {
    const rows = this.db
      .prepare(
        `SELECT o.id, f.shelf_id, f.path FROM json_each(@ids) w CROSS JOIN renditions r ON r.clip_id = w.value AND r.kind = 'source' AND r.part ->> 'range' IS NOT NULL
         CROSS JOIN links l ON l.rendition_id = r.id CROSS JOIN renditions o ON o.clip_id = r.clip_id AND o.part ->> 'position' = r.part ->> 'position'
           AND o.part ->> '$.range.start' = r.part ->> '$.range.start' AND o.part ->> '$.range.end' = r.part ->> '$.range.end'
         CROSS JOIN items f ON ((f.shelf_id = l.shelf_id AND f.path = l.path AND f.fingerprint IS l.fingerprint) OR f.content = l.content) AND f.gone_at IS NULL AND f.damage IS NULL AND f.shelf_id IN (${LIVE})`,
      )
      .raw()
      .all({ ids: JSON.stringify(clipIds) }) as [string, string, string][];
    const found = new Map<string, Place[]>();
    for (const [id, shelfId, path] of rows) found.set(id, [...(found.get(id) ?? []), { shelfId, path }]);
    return found;
  }

  /** Every file that holds one of the whole renditions of these clips, item by item, as the stock knows it. Parts are none. */
  wholeFiles(clipIds: readonly string[]): HeldFile[] {
    const rows = this.db
      .prepare(
        `SELECT r.clip_id AS clipId, r.id AS renditionId, l.position, l.fingerprint, l.size_bytes AS sizeBytes, l.kind, l.content, f.shelf_id AS shelfId, f.path,
           f.fingerprint AS itemPrint, f.size_bytes AS itemSize, f.content AS itemContent, f.kind AS itemKind
         FROM json_each(@ids) w CROSS JOIN renditions r ON r.clip_id = w.value CROSS JOIN links l ON l.rendition_id = r.id
         LEFT JOIN (SELECT l.rendition_id, l.position, i.* FROM json_each(@ids) w CROSS JOIN renditions r ON r.clip_id = w.value CROSS JOIN links l ON l.rendition_id = r.id
             CROSS JOIN items i ON i.shelf_id = l.shelf_id AND i.path = l.path
           UNION ALL
           SELECT l.rendition_id, l.position, i.* FROM json_each(@ids) w CROSS JOIN renditions r ON r.clip_id = w.value CROSS JOIN links l ON l.rendition_id = r.id
             CROSS JOIN items i ON i.content = l.content WHERE i.shelf_id IS NOT l.shelf_id OR i.path IS NOT l.path) f
           ON f.rendition_id = l.rendition_id AND f.position = l.position AND f.gone_at IS NULL AND f.damage IS NULL AND f.shelf_id IN (${LIVE})
         WHERE r.part IS NULL`,
      )
      .all({ ids: JSON.stringify(clipIds) }) as RawHeld[];
    return rows.map(
      ({ clipId, renditionId, position, fingerprint, sizeBytes, kind, content, shelfId, path, itemPrint, itemSize, itemContent, itemKind }) => {
        const item = { sizeBytes: itemSize, fingerprint: itemPrint, content: itemContent, facts: { kind: itemKind, audio: [] } };
        const isThere = shelfId !== null && path !== null && isExpected(item, { expected: { fingerprint, sizeBytes, kind }, content });
        return { clipId, renditionId, position, place: isThere ? { shelfId, path } : null };
      },
    );
  }
}

type Known = Parameters<typeof isExpected>;

interface RawHeld {
  readonly clipId: string;
  readonly renditionId: string;
  readonly position: number;
  readonly fingerprint: string | null;
  readonly sizeBytes: number | null;
  readonly kind: Known[1]['expected']['kind'];
  readonly content: string | null;
  readonly shelfId: string | null;
  readonly path: string | null;
  readonly itemPrint: string | null;
  readonly itemSize: number;
  readonly itemContent: string | null;
  readonly itemKind: Known[0]['facts']['kind'];
}
