import type { FileIdentity } from '../../core/media/identity';
import { gapsIn } from '../../core/media/image-sequence';
import { fileName, folderOf, type Item, type MediaFacts, type NumberRun, type Place, type SequenceFacts } from '../../core/media/item';
import type { Db } from './database';

/** Raised when the facts that are read of a file change: older ones are read again at the next stocktake. */
export const FACTS_VERSION = 1;
/** A problem that the next stocktake looks at again. */
const UNSETTLED = 0;

interface Raw {
  id: string;
  shelf_id: string;
  path: string;
  size_bytes: number;
  modified_ms: number;
  fingerprint: string | null;
  facts: string;
  problem: string | null;
  identity: string | null;
  facts_version: number;
}

function fromRaw(raw: Raw): Item {
  return {
    id: raw.id,
    place: { shelfId: raw.shelf_id, path: raw.path },
    sizeBytes: raw.size_bytes,
    modifiedMs: raw.modified_ms,
    fingerprint: raw.fingerprint,
    facts: factsFromRaw(raw.facts),
    problem: raw.problem,
    identity: raw.identity === null ? null : (JSON.parse(raw.identity) as FileIdentity),
  };
}

/** Earlier versions kept the missing numbers of a sequence one by one. */
function factsFromRaw(text: string): MediaFacts {
  const facts = JSON.parse(text) as Omit<MediaFacts, 'sequence'> & { sequence: (SequenceFacts & { missingNumbers?: readonly number[] }) | null };
  if (!facts.sequence?.missingNumbers) return facts;
  const { missingNumbers, ...sequence } = facts.sequence;
  return { ...facts, sequence: { ...sequence, missingRuns: runsOf(missingNumbers) } };
}

function runsOf(numbers: readonly number[]): NumberRun[] {
  const gaps = gapsIn(numbers);
  const starts = [numbers[0], ...gaps.map(([, last]) => last + 1)];
  const ends = [...gaps.map(([first]) => first - 1), numbers.at(-1)];
  return numbers.length === 0 ? [] : starts.map((start, index): NumberRun => [start!, ends[index]!]);
}

export class Items {
  constructor(private readonly db: Db) {}

  /** Everything that stood on the listed shelves at their last stocktake. */
  present(): Item[] {
    return (
      this.db.prepare('SELECT i.* FROM items i JOIN shelves s ON s.id = i.shelf_id WHERE i.gone_at IS NULL AND s.retired_at IS NULL').all() as Raw[]
    ).map(fromRaw);
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

  /** Adds the item or brings what is known of that place up to date; the id of a place stays the same. Unless settled, it is read again. */
  put(item: Item, frames: readonly string[] | null = null, isSettled = true): void {
    this.db
      .prepare(
        `INSERT INTO items (id, shelf_id, path, size_bytes, modified_ms, fingerprint, facts, problem, identity, facts_version)
         VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
         ON CONFLICT (shelf_id, path) DO UPDATE SET size_bytes = excluded.size_bytes, modified_ms = excluded.modified_ms,
           fingerprint = excluded.fingerprint, facts = excluded.facts, problem = excluded.problem, identity = excluded.identity,
           facts_version = excluded.facts_version, gone_at = NULL`,
      )
      .run(
        item.id,
        item.place.shelfId,
        item.place.path,
        item.sizeBytes,
        item.modifiedMs,
        item.fingerprint,
        JSON.stringify(item.facts),
        item.problem,
        item.identity ? JSON.stringify(item.identity) : null,
        isSettled ? FACTS_VERSION : UNSETTLED,
      );
    const known = this.get(item.id) ?? this.at(item.place);
    if (frames && known) this.db.prepare('INSERT OR REPLACE INTO frames (item_id, identities) VALUES (?, ?)').run(known.id, JSON.stringify(frames));
  }

  /** Items of a shelf, or below a folder of it, as a stocktake needs them: which are known, and whether their facts are up to date. */
  knownOn(shelfId: string, folder = ''): { item: Item; isCurrent: boolean }[] {
    return this.rawBelow({ shelfId, path: folder }).map((raw) => ({ item: fromRaw(raw), isCurrent: raw.facts_version === FACTS_VERSION }));
  }

  /** Rows below a folder, by the index of paths: '0' is the sign after '/'. */
  private rawBelow({ shelfId, path }: Place): Raw[] {
    if (path === '') return this.db.prepare('SELECT * FROM items WHERE shelf_id = ? AND gone_at IS NULL').all(shelfId) as Raw[];
    return this.db
      .prepare('SELECT * FROM items WHERE shelf_id = ? AND path >= ? AND path < ? AND gone_at IS NULL')
      .all(shelfId, `${path}/`, `${path}0`) as Raw[];
  }

  /** By item id: packed identities of the frames of the sequences among these items. */
  framesOf(itemIds: readonly string[]): Map<string, readonly string[]> {
    const get = this.db.prepare('SELECT identities FROM frames WHERE item_id = ?').pluck();
    const out = new Map<string, readonly string[]>();
    for (const id of itemIds) {
      const text = get.get(id) as string | undefined;
      if (text !== undefined) out.set(id, JSON.parse(text) as string[]);
    }
    return out;
  }

  /** The file at a place, or the sequence with such a frame, is gone: marked in the same step that removed it. */
  markRemoved(place: Place, at: string): void {
    const mark = this.db.prepare('UPDATE items SET gone_at = ? WHERE shelf_id = ? AND path = ? AND gone_at IS NULL');
    if (mark.run(at, place.shelfId, place.path).changes > 0) return;
    const name = fileName(place.path);
    for (const { place: own, facts } of this.sequencesIn({ shelfId: place.shelfId, path: folderOf(place.path) }))
      if (name.startsWith(facts.sequence!.prefix) && name.endsWith(facts.sequence!.suffix)) mark.run(at, own.shelfId, own.path);
  }

  /** Where items with this fingerprint stand. */
  placesOf(fingerprint: string): Place[] {
    return this.db
      .prepare(
        `SELECT i.shelf_id AS shelfId, i.path FROM items i JOIN shelves s ON s.id = i.shelf_id
         WHERE i.fingerprint = ? AND i.gone_at IS NULL AND s.retired_at IS NULL`,
      )
      .all(fingerprint) as Place[];
  }

  /** Sequences whose frames stand in a folder. */
  sequencesIn(folder: Place): Item[] {
    return this.rawBelow(folder)
      .filter((raw) => raw.path.includes('['))
      .map(fromRaw)
      .filter((item) => item.facts.sequence !== null && folderOf(item.place.path) === folder.path);
  }

  markGone(items: readonly Item[], at: string): void {
    const mark = this.db.prepare('UPDATE items SET gone_at = ? WHERE id = ?');
    this.db.transaction(() => items.forEach((item) => mark.run(at, item.id))).immediate();
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
