/** Files that stand somewhere else from now on: the stock and everything that links them follow together. */
import type { FileIdentity } from '../../core/media/identity';
import { fileName, type MediaFacts, type Place, type SequenceFacts } from '../../core/media/item';
import type { Db } from './db';
import { ITEM_COLUMNS, itemColumns } from './item-columns';
import { factsFromJson } from './item-facts';
import { formerMediaKey, placeMediaKey } from '../../core/project/media-key';

const SET_COLUMNS = ITEM_COLUMNS.map((column) => `${column} = ?`).join(', ');

interface RawMoved {
  id: string;
  facts: string;
}

export class Moves {
  constructor(private readonly db: Db) {}

  /**
   * The item at `from` stands at `to`, and every link of every project to it leads there. `sequence`: how its frames are
   * named there. Once done, doing it again changes nothing. Part of a transaction.
   */
  move(from: Place, to: Place, sequence: SequenceFacts | null, originalName: string | null): void {
    const raw = this.db.prepare('SELECT id, facts FROM items WHERE shelf_id = ? AND path = ? AND gone_at IS NULL').get(from.shelfId, from.path) as
      RawMoved | undefined;
    if (raw) {
      // A stocktake in the middle of the move may have met it there.
      this.db.prepare('DELETE FROM items WHERE shelf_id = ? AND path = ? AND id <> ?').run(to.shelfId, to.path, raw.id);
      const facts: MediaFacts = sequence === null ? factsFromJson(raw.facts) : { ...factsFromJson(raw.facts), sequence };
      this.db
        .prepare(`UPDATE items SET shelf_id = ?, path = ?, facts = ?, original_name = ?, ${SET_COLUMNS} WHERE id = ?`)
        .run(to.shelfId, to.path, JSON.stringify(facts), originalName, ...itemColumns(to.path, facts, originalName), raw.id);
    }
    this.relink(from, to);
  }

  /**
   * The clips that link a file which a run takes from there are no more known by where it stood alone; those whose file
   * comes back are again. Of two that stood there one after the other, the later is known.
   */
  fileLeft(from: Place, to: Place, projectId: string | null = null): void {
    const linking = this.db
      .prepare(
        `SELECT DISTINCT c.id, c.project_id AS projectId, c.media_key AS key FROM links l JOIN renditions r ON r.id = l.rendition_id JOIN clips c ON c.id = r.clip_id
         WHERE l.shelf_id = ? AND l.path = ? AND (@projectId IS NULL OR c.project_id = @projectId)`,
      )
      .all(from.shelfId, from.path, { projectId }) as { id: string; projectId: string; key: string }[];
    const set = this.db.prepare('UPDATE OR IGNORE clips SET media_key = ? WHERE id = ?');
    const aside = this.db.prepare(`UPDATE clips SET media_key = media_key || ' ' || id WHERE project_id = ? AND media_key = ?`);
    for (const clip of linking) {
      if (clip.key === placeMediaKey(from)) {
        aside.run(clip.projectId, formerMediaKey(from));
        set.run(formerMediaKey(from), clip.id);
      } else if (clip.key === formerMediaKey(to)) set.run(placeMediaKey(to), clip.id);
    }
  }

  private relink(from: Place, to: Place): void {
    this.fileLeft(from, to);
    this.db
      .prepare(
        `UPDATE links SET shelf_id = @toShelf, path = @toPath,
           expected = CASE WHEN json_extract(expected, '$.name') = @oldName THEN json_set(expected, '$.name', @newName) ELSE expected END
         WHERE shelf_id = @shelfId AND path = @path`,
      )
      .run({
        toShelf: to.shelfId,
        toPath: to.path,
        oldName: fileName(from.path),
        newName: fileName(to.path),
        shelfId: from.shelfId,
        path: from.path,
      });
  }

  /** The name an item came with, when it stands under another. */
  setOriginalName(place: Place, name: string): void {
    const raw = this.db.prepare('SELECT id, facts FROM items WHERE shelf_id = ? AND path = ? AND gone_at IS NULL').get(place.shelfId, place.path) as
      RawMoved | undefined;
    if (!raw) return;
    this.db
      .prepare(`UPDATE items SET original_name = ?, ${SET_COLUMNS} WHERE id = ?`)
      .run(name, ...itemColumns(place.path, factsFromJson(raw.facts), name), raw.id);
  }

  /** How the file at a place stands there now: the same content in another state. `frames`: of each frame, packed. */
  setIdentity(place: Place, identity: FileIdentity, frames: readonly string[] | null): void {
    const id = this.db
      .prepare('UPDATE items SET identity = ? WHERE shelf_id = ? AND path = ? AND gone_at IS NULL RETURNING id')
      .pluck()
      .get(JSON.stringify(identity), place.shelfId, place.path) as string | undefined;
    if (id !== undefined && frames !== null)
      this.db.prepare('INSERT OR REPLACE INTO frames (item_id, identities) VALUES (?, ?)').run(id, JSON.stringify(frames));
  }
}
