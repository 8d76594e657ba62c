import type { Db } from './database';

export interface ShelfRow {
  readonly id: string;
  readonly name: string;
  readonly registeredAt: string;
  readonly seenAt: string | null;
  readonly stocktakeAt: string | null;
  /** As last seen; a shelf that is unplugged keeps them. */
  readonly capacityBytes: number;
  readonly freeBytes: number;
}

const COLUMNS =
  'id, name, registered_at AS registeredAt, seen_at AS seenAt, stocktake_at AS stocktakeAt, capacity_bytes AS capacityBytes, free_bytes AS freeBytes';

export class Shelves {
  constructor(private readonly db: Db) {}

  list(): ShelfRow[] {
    return this.db.prepare(`SELECT ${COLUMNS} FROM shelves ORDER BY name COLLATE NOCASE`).all() as ShelfRow[];
  }

  get(id: string): ShelfRow | null {
    return (this.db.prepare(`SELECT ${COLUMNS} FROM shelves WHERE id = ?`).get(id) as ShelfRow | undefined) ?? null;
  }

  /** Adds the shelf, or renames the one already known under this id. */
  put(id: string, name: string, at: string): void {
    this.db
      .prepare('INSERT INTO shelves (id, name, registered_at) VALUES (?, ?, ?) ON CONFLICT DO UPDATE SET name = excluded.name')
      .run(id, name, at);
  }

  saw(id: string, at: string, capacityBytes: number, freeBytes: number): void {
    this.db.prepare('UPDATE shelves SET seen_at = ?, capacity_bytes = ?, free_bytes = ? WHERE id = ?').run(at, capacityBytes, freeBytes, id);
  }

  tookStock(id: string, at: string): void {
    this.db.prepare('UPDATE shelves SET stocktake_at = ? WHERE id = ?').run(at, id);
  }

  remove(id: string): void {
    this.db.prepare('DELETE FROM shelves WHERE id = ?').run(id);
  }
}
