import type { Item, MediaFacts, Place } from '../../core/media/item';
import type { Db } from './database';

interface Raw {
  id: string;
  shelf_id: string;
  path: string;
  size_bytes: number;
  modified_ms: number;
  fingerprint: string | null;
  facts: string;
  problem: string | null;
}

function fromRaw(raw: Raw): Item {
  return {
    id: raw.id,
    place: { shelfId: raw.shelf_id, path: raw.path },
    sizeBytes: raw.size_bytes,
    modifiedMs: raw.modified_ms,
    fingerprint: raw.fingerprint,
    facts: JSON.parse(raw.facts) as MediaFacts,
    problem: raw.problem,
  };
}

export class Items {
  constructor(private readonly db: Db) {}

  /** Everything that stood on the shelves at their last stocktake. */
  present(): Item[] {
    return (this.db.prepare('SELECT * FROM items WHERE gone_at IS NULL').all() as Raw[]).map(fromRaw);
  }

  onShelf(shelfId: string): Item[] {
    return (this.db.prepare('SELECT * FROM items WHERE shelf_id = ? AND gone_at IS NULL ORDER BY path').all(shelfId) as Raw[]).map(fromRaw);
  }

  get(id: string): Item | null {
    const raw = this.db.prepare('SELECT * FROM items WHERE id = ?').get(id) as Raw | undefined;
    return raw ? fromRaw(raw) : null;
  }

  at(place: Place): Item | null {
    const raw = this.db.prepare('SELECT * FROM items WHERE shelf_id = ? AND path = ? AND gone_at IS NULL').get(place.shelfId, place.path) as
      Raw | undefined;
    return raw ? fromRaw(raw) : null;
  }

  /** Adds the item or brings what is known of that place up to date; the id of a place stays the same. */
  put(item: Item): void {
    this.db
      .prepare(
        `INSERT INTO items (id, shelf_id, path, size_bytes, modified_ms, fingerprint, facts, problem) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
         ON CONFLICT (shelf_id, path) DO UPDATE SET size_bytes = excluded.size_bytes, modified_ms = excluded.modified_ms,
           fingerprint = excluded.fingerprint, facts = excluded.facts, problem = excluded.problem, gone_at = NULL`,
      )
      .run(item.id, item.place.shelfId, item.place.path, item.sizeBytes, item.modifiedMs, item.fingerprint, JSON.stringify(item.facts), item.problem);
  }

  /** Marks as gone what the stocktake of a shelf did not meet. */
  markGone(shelfId: string, met: ReadonlySet<string>, at: string): number {
    const gone = this.onShelf(shelfId).filter((item) => !met.has(item.place.path));
    const mark = this.db.prepare('UPDATE items SET gone_at = ? WHERE id = ?');
    this.db.transaction(() => gone.forEach((item) => mark.run(at, item.id)))();
    return gone.length;
  }

  countsByShelf(): Map<string, { items: number; bytes: number }> {
    const rows = this.db
      .prepare('SELECT shelf_id AS shelfId, count(*) AS items, sum(size_bytes) AS bytes FROM items WHERE gone_at IS NULL GROUP BY shelf_id')
      .all() as {
      shelfId: string;
      items: number;
      bytes: number;
    }[];
    return new Map(rows.map((row) => [row.shelfId, { items: row.items, bytes: row.bytes }]));
  }
}
