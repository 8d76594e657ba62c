/** What a sort must know of the catalogue, in few questions. */
import type { ClipUse } from '../../core/planning/sort/sort-input';
import { stemOf } from '../../core/media/card';
import { fileName, folderOf, placeKey, type Item, type Place } from '../../core/media/item';
import { foldPath } from '../../core/naming/fold-path';
import { trimEndOf } from '../../core/naming/trim-end';
import type { Db } from './db';
import { itemFromRaw, OWN_COLUMNS, type RawItem } from './item-row';

export class SortQuestions {
  constructor(private readonly db: Db) {}

  /** All that stands on a shelf (path "") or below a folder of it. */
  itemsBelow({ shelfId, path }: Place): Item[] {
    const rows =
      path === ''
        ? this.db.prepare(`SELECT ${OWN_COLUMNS} FROM items WHERE shelf_id = ? AND gone_at IS NULL`).all(shelfId)
        : // '0' is the sign after '/'.
          this.db
            .prepare(`SELECT ${OWN_COLUMNS} FROM items WHERE shelf_id = ? AND path >= ? AND path < ? AND gone_at IS NULL`)
            .all(shelfId, `${path}/`, `${path}0`);
    return (rows as RawItem[]).map(itemFromRaw);
  }

  /** What may be the sidecar of these items: all that is no media in their folders, and media there whose name begins as theirs does. */
  beside(items: readonly Item[]): Item[] {
    const folders = new Map<string, { place: Place; stems: Set<string> }>();
    for (const { place, facts } of items) {
      const folder = { ...place, path: folderOf(place.path) };
      const own = folders.get(placeKey(folder)) ?? { place: folder, stems: new Set() };
      if (!facts.sequence) own.stems.add(foldPath(stemOf(place.path)));
      else own.stems.add(foldPath(trimEndOf(facts.sequence.prefix, /[._\- ]/)));
      folders.set(placeKey(folder), own);
    }
    const find = this.db
      .prepare(
        'SELECT id, path, kind FROM items INDEXED BY items_by_path_key WHERE shelf_id = ? AND path_key >= ? AND path_key < ? AND folder = ? AND gone_at IS NULL',
      )
      .raw();
    const ids = [...folders.values()].flatMap(({ place: { shelfId, path }, stems }) => {
      const key = path.normalize('NFC');
      const [from, to] = path === '' ? ['', '\u{10ffff}'] : [`${key}/`, `${key}0`];
      const rows = find.all(shelfId, from, to, path) as [string, string, string][];
      return rows.flatMap(([id, own, kind]) => (kind === 'other' || stems.has(foldPath(stemOf(own))) ? [id] : []));
    });
    const rows = this.db.prepare(`SELECT ${OWN_COLUMNS} FROM items WHERE id IN (SELECT value FROM json_each(?))`).all(JSON.stringify(ids));
    return (rows as RawItem[]).map(itemFromRaw);
  }

  /** Paths of what is no media below a folder, apart from these items; null where media lies there that is none of them. */
  papersBelow({ shelfId, path }: Place, apart: ReadonlySet<string>): string[] | null {
    const rows = this.db
      .prepare('SELECT id, path, kind FROM items WHERE shelf_id = ? AND path >= ? AND path < ? AND gone_at IS NULL')
      .raw()
      .iterate(shelfId, `${path}/`, `${path}0`) as IterableIterator<[string, string, string]>;
    const papers: string[] = [];
    for (const [id, own, kind] of rows) {
      if (apart.has(id)) continue;
      if (kind !== 'other') return null;
      papers.push(own);
    }
    return papers;
  }

  /** By placeKey: the project's clips that link a place, or a copy of what stands there, in the order of their names. */
  uses(projectId: string): Map<string, ClipUse[]> {
    const rows = this.db
      .prepare(
        `SELECT * FROM (
           SELECT l.shelf_id, l.path, c.id, c.name, c.bin_path, c.colour, c.rowid AS number, l.position FROM clips c JOIN renditions r ON r.clip_id = c.id
           JOIN links l ON l.rendition_id = r.id WHERE c.project_id = @projectId AND l.shelf_id IS NOT NULL AND l.path IS NOT NULL
           UNION ALL
           SELECT i.shelf_id, i.path, c.id, c.name, c.bin_path, c.colour, c.rowid, l.position FROM clips c CROSS JOIN renditions r ON r.clip_id = c.id
           CROSS JOIN links l ON l.rendition_id = r.id CROSS JOIN items i ON i.content = l.content
           WHERE c.project_id = @projectId AND i.gone_at IS NULL AND (i.shelf_id IS NOT l.shelf_id OR i.path IS NOT l.path))
         ORDER BY name, number, position`,
      )
      .raw()
      .all({ projectId }) as [string, string, string, string, string, string, number, number][];
    const out = new Map<string, ClipUse[]>();
    for (const [shelfId, path, clipId, name, bin, colour] of rows) {
      const key = placeKey({ shelfId, path });
      const own = out.get(key);
      if (own) own.push({ clipId, name, bin, colour });
      else out.set(key, [{ clipId, name, bin, colour }]);
    }
    return out;
  }

  /** Places that clips of any project link as light copies or mezzanines alone, as placeKeys. */
  linkedAsCopiesOnly(): Set<string> {
    const rows = this.db
      .prepare(
        `SELECT l.shelf_id, l.path FROM renditions r JOIN links l ON l.rendition_id = r.id
         WHERE r.kind IN ('proxy', 'mezzanine') AND l.shelf_id IS NOT NULL AND l.path IS NOT NULL
         AND NOT EXISTS (SELECT 1 FROM links o JOIN renditions s ON s.id = o.rendition_id
           WHERE o.shelf_id = l.shelf_id AND o.path = l.path AND s.kind NOT IN ('proxy', 'mezzanine'))`,
      )
      .raw()
      .all() as [string, string][];
    return new Set(rows.map(([shelfId, path]) => placeKey({ shelfId, path })));
  }

  /** Places that clips of other projects link, as placeKeys. */
  linkedByOthers(projectId: string): Set<string> {
    const rows = this.db
      .prepare(
        `SELECT DISTINCT l.shelf_id, l.path FROM links l JOIN renditions r ON r.id = l.rendition_id JOIN clips c ON c.id = r.clip_id
         WHERE c.project_id <> ? AND l.shelf_id IS NOT NULL AND l.path IS NOT NULL`,
      )
      .raw()
      .all(projectId) as [string, string][];
    return new Set(rows.map(([shelfId, path]) => placeKey({ shelfId, path })));
  }

  /** Places that one rendition of the project links together. */
  takes(projectId: string): Place[][] {
    const rows = this.db
      .prepare(
        `SELECT r.id, l.position, l.shelf_id AS shelfId, l.path FROM clips c JOIN renditions r ON r.clip_id = c.id JOIN links l ON l.rendition_id = r.id
         WHERE c.project_id = ? AND l.shelf_id IS NOT NULL AND l.path IS NOT NULL
         AND EXISTS (SELECT 1 FROM links o WHERE o.rendition_id = r.id AND o.position > 0) ORDER BY r.rowid, l.position`,
      )
      .all(projectId) as { id: string; shelfId: string; path: string }[];
    const out = new Map<string, Place[]>();
    for (const { id, shelfId, path } of rows) out.set(id, [...(out.get(id) ?? []), { shelfId, path }]);
    return [...out.values()];
  }

  /** Media below a folder that no clip of the project links; what lies in `own` is passed over. */
  notLinkedBelow(projectId: string, { shelfId, path }: Place, own: Place | null): { files: number; bytes: number } {
    const range = path === '' ? '' : 'AND i.path >= @from AND i.path < @to';
    return this.db
      .prepare(
        `SELECT count(*) AS files, coalesce(sum(i.size_bytes), 0) AS bytes FROM items i WHERE i.shelf_id = @shelfId ${range} AND i.gone_at IS NULL
         AND i.kind <> 'other' AND NOT (@ownShelf = i.shelf_id AND i.path >= @ownFrom AND i.path < @ownTo)
         AND NOT EXISTS (SELECT 1 FROM links l JOIN renditions r ON r.id = l.rendition_id JOIN clips c ON c.id = r.clip_id
           WHERE l.shelf_id = i.shelf_id AND l.path = i.path AND c.project_id = @projectId)
         AND NOT EXISTS (SELECT 1 FROM links l JOIN renditions r ON r.id = l.rendition_id JOIN clips c ON c.id = r.clip_id
           WHERE l.content = i.content AND c.project_id = @projectId)`,
      )
      .get({
        projectId,
        shelfId,
        ...(path === '' ? {} : { from: `${path}/`, to: `${path}0` }),
        ownShelf: own?.shelfId ?? '',
        ownFrom: `${own?.path ?? ''}/`,
        ownTo: `${own?.path ?? ''}0`,
      }) as { files: number; bytes: number };
  }

  /** Crates as they lie on their shelves: those of this house, and every other folder that is a bag by what lies in it (RFC 8493, section 2). */
  crates(): { place: Place; name: string }[] {
    const own = this.db.prepare('SELECT shelf_id AS shelfId, path, name FROM crates').all() as { shelfId: string; path: string; name: string }[];
    const known = new Set(own.map(placeKey));
    const bags = this.db
      .prepare(
        `SELECT b.shelf_id AS shelfId, b.folder AS path, s.name AS shelf FROM items b JOIN shelves s ON s.id = b.shelf_id
         WHERE b.name_key = 'bagit.txt' AND b.gone_at IS NULL AND EXISTS (SELECT 1 FROM items m INDEXED BY items_by_path_key
           WHERE m.shelf_id = b.shelf_id AND m.path_key >= substr(b.path_key, 1, length(b.path_key) - 9) || 'manifest-'
             AND m.path_key < substr(b.path_key, 1, length(b.path_key) - 9) || 'manifest.' AND m.folder = b.folder AND m.gone_at IS NULL)`,
      )
      .all() as { shelfId: string; path: string; shelf: string }[];
    const others = bags
      .filter((bag) => !known.has(placeKey(bag)))
      .map(({ shelfId, path, shelf }) => ({ shelfId, path, name: fileName(path) || shelf }));
    return [...own, ...others].map(({ name, shelfId, path }) => ({ name, place: { shelfId, path } }));
  }
}
