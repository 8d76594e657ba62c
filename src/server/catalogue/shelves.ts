import { NO_RECORD, type ShelfKind, type ShelfRecord } from '../../core/media/shelf-kind';
import { writeIfFree, type Db } from './db';

export interface ShelfRow {
  readonly id: string;
  readonly name: string;
  readonly kind: ShelfKind;
  readonly record: ShelfRecord;
  readonly registeredAt: string;
  readonly seenAt: string | null;
  readonly stocktakeAt: string | null;
  /** As last seen; a shelf that is unplugged keeps them. */
  readonly capacityBytes: number | null;
  readonly freeBytes: number | null;
}

const COLUMNS =
  'id, name, kind, record, registered_at AS registeredAt, seen_at AS seenAt, stocktake_at AS stocktakeAt, nullif(capacity_bytes, 0) AS capacityBytes, iif(capacity_bytes = 0, NULL, free_bytes) AS freeBytes';

type RawShelf = Omit<ShelfRow, 'record'> & { readonly record: string };

function fromRaw(raw: RawShelf): ShelfRow {
  return { ...raw, record: { ...NO_RECORD, ...(JSON.parse(raw.record) as Partial<ShelfRecord>) } };
}

const SEEN_EVERY_MS = 10_000;

export class Shelves {
  private readonly lastSeenMs = new Map<string, number>();

  constructor(private readonly db: Db) {}

  /** The shelves on the list. */
  list(): ShelfRow[] {
    return (this.db.prepare(`SELECT ${COLUMNS} FROM shelves WHERE retired_at IS NULL ORDER BY name COLLATE NOCASE`).all() as RawShelf[]).map(fromRaw);
  }

  get(id: string): ShelfRow | null {
    const raw = this.db.prepare(`SELECT ${COLUMNS} FROM shelves WHERE id = ? AND retired_at IS NULL`).get(id) as RawShelf | undefined;
    return raw ? fromRaw(raw) : null;
  }

  /** Every shelf ever registered by its name, those taken off the list among them. */
  names(): Map<string, string> {
    const rows = this.db.prepare('SELECT id, name FROM shelves').all() as { id: string; name: string }[];
    return new Map(rows.map((row) => [row.id, row.name]));
  }

  /** Adds the shelf, or renames the one already known under this id; one that was taken off the list comes back. */
  put(id: string, name: string, at: string): void {
    this.db
      .prepare('INSERT INTO shelves (id, name, registered_at) VALUES (?, ?, ?) ON CONFLICT DO UPDATE SET name = excluded.name, retired_at = NULL')
      .run(id, name, at);
  }

  setKind(id: string, kind: ShelfKind): void {
    this.db.prepare('UPDATE shelves SET kind = ? WHERE id = ?').run(kind, id);
  }

  note(id: string, record: ShelfRecord): void {
    this.db.prepare('UPDATE shelves SET record = ? WHERE id = ?').run(JSON.stringify(record), id);
  }

  /** What a shelf is called, on the list or taken off it. */
  namer(): (id: string) => string {
    const names = new Map([...this.list().map(({ id, name }): [string, string] => [id, name]), ...this.retired()]);
    return (id) => names.get(id) ?? 'unknown shelf';
  }

  /** Names of the shelves that were taken off the list. */
  retired(): Map<string, string> {
    const rows = this.db.prepare('SELECT id, name FROM shelves WHERE retired_at IS NOT NULL').all() as { id: string; name: string }[];
    return new Map(rows.map((row) => [row.id, row.name]));
  }

  /** Remembers the space of an attached shelf. It is only a help for later: where the catalogue has no room, nothing is said. */
  sawIfRoom(id: string, at: string, capacityBytes: number | null, freeBytes: number | null): void {
    // Asked with every view, it is written now and then.
    if (Date.parse(at) - (this.lastSeenMs.get(id) ?? 0) < SEEN_EVERY_MS) return;
    writeIfFree(this.db, () => {
      this.db
        .prepare('UPDATE shelves SET seen_at = ?, capacity_bytes = ?, free_bytes = ? WHERE id = ?')
        .run(at, capacityBytes ?? 0, freeBytes ?? 0, id);
      this.lastSeenMs.set(id, Date.parse(at));
    });
  }

  tookStock(id: string, at: string): void {
    this.db.prepare('UPDATE shelves SET stocktake_at = ? WHERE id = ?').run(at, id);
  }

  /** Takes the shelf off the list. What it holds and who links it stays known. */
  retire(id: string, at: string): void {
    this.db.prepare('UPDATE shelves SET retired_at = ? WHERE id = ?').run(at, id);
  }
}
