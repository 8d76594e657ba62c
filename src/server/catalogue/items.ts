import { looksSame, type FileIdentity } from '../../core/media/identity';
import type { Sharer } from '../../core/planning/evidence/proof';
import { fileName, folderOf, type Item, type Place } from '../../core/media/item';
import { nameTell } from '../../core/matching/tells';
import { rateAsNumber } from '../../core/time/rate';
import { ONLY_CLIPS } from './sources';
import type { Statement } from 'better-sqlite3';
import type { Db } from './db';
import { ITEM_COLUMNS, itemColumns } from './item-columns';
import { COLUMNS, itemFromRaw, OWN_COLUMNS, type RawItem } from './item-row';
import { countAmong, itemWindow, type ItemQuestion } from './item-window';

/** Raised when the facts that are read of a file change: older ones are read again at the next stocktake. */
export const FACTS_VERSION = 7;
/** A frame of picture beside a sound: of the slowest, ten seconds. */
const MOST_SLACK_SECONDS = 10;
/** Files of one content that are looked through for a few of each shelf. */
const MOST_TWINS = 10_000;
/** A problem that the next stocktake looks at again. */
const TO_BE_READ = 0;

const PUT = [...COLUMNS, ...ITEM_COLUMNS];
const KEPT_WHEN_PUT = new Set(['id', 'shelf_id', 'path']);
const NOW = "strftime('%Y-%m-%dT%H:%M:%fZ', 'now')";
/** SQL: size, time of writing and fingerprint are as they were; one that was made in an earlier way cannot be compared. */
const IS_SAME_FILE = `items.size_bytes = excluded.size_bytes AND json_extract(items.identity, '$.modifiedNs') = json_extract(excluded.identity, '$.modifiedNs')
    AND (items.fingerprint IS excluded.fingerprint
      OR substr(items.fingerprint, 1, instr(items.fingerprint, ':')) <> substr(excluded.fingerprint, 1, instr(excluded.fingerprint, ':')))`;
const PUT_ITEM = `INSERT INTO items (${PUT.join(', ')}, known_at) VALUES (${PUT.map(() => '?').join(', ')}, ${NOW})
  ON CONFLICT (shelf_id, path) DO UPDATE SET gone_at = NULL,
  known_at = CASE WHEN items.gone_at IS NULL AND items.fingerprint IS excluded.fingerprint THEN items.known_at ELSE excluded.known_at END,
  -- A checksum holds while the file was not written since; another of the same size and time has another fingerprint.
  sha256 = CASE WHEN ${IS_SAME_FILE} THEN items.sha256 END,
  frames_sum = CASE WHEN ${IS_SAME_FILE} THEN items.frames_sum END,
  -- The name it came with is known as long as it is this file.
  original_name = CASE WHEN items.gone_at IS NULL AND items.fingerprint IS excluded.fingerprint THEN items.original_name END,
  ${PUT.filter((column) => !KEPT_WHEN_PUT.has(column))
    .map((column) => `${column} = excluded.${column}`)
    .join(', ')}`;

export class Items {
  constructor(private readonly db: Db) {}

  /** Prepared once: a stocktake writes one item after the other. */
  private readonly statements = new Map<string, Statement<unknown[]>>();

  private prepared(sql: string): Statement<unknown[]> {
    const known = this.statements.get(sql) ?? this.db.prepare(sql);
    this.statements.set(sql, known);
    return known;
  }

  /** The standing items that clips of a project link, on listed shelves. `only`: these clips; null for all. */
  linkedBy(projectId: string, only: readonly string[] | null = null): Item[] {
    const from = only === null ? 'clips c' : ONLY_CLIPS;
    const which = { projectId, ...(only === null ? {} : { only: JSON.stringify(only) }) };
    const rows = this.db
      .prepare(
        `SELECT ${OWN_COLUMNS} FROM items WHERE rowid IN (
           SELECT i.rowid FROM ${from} JOIN renditions r ON r.clip_id = c.id JOIN links l ON l.rendition_id = r.id
           JOIN items i ON i.shelf_id = l.shelf_id AND i.path = l.path JOIN shelves s ON s.id = i.shelf_id
           WHERE c.project_id = @projectId AND i.gone_at IS NULL AND s.retired_at IS NULL)`,
      )
      .all(which) as RawItem[];
    return rows.map(itemFromRaw);
  }

  /** The standing items at these places; those where none stands are left out. */
  atPlaces(places: readonly Place[]): Item[] {
    const rows = this.db
      .prepare(
        `SELECT ${OWN_COLUMNS.split(', ')
          .map((column) => `i.${column}`)
          .join(', ')} FROM json_each(?) w
         CROSS JOIN items i ON i.shelf_id = w.value ->> 0 AND i.path = w.value ->> 1 WHERE i.gone_at IS NULL`,
      )
      .all(JSON.stringify(places.map(({ shelfId, path }) => [shelfId, path]))) as RawItem[];
    return rows.map(itemFromRaw);
  }

  /** Every frame of the sequence at a place was read: this is what all of them hold. The identity must still be the one that was read. */
  recordFrames(place: Place, sum: string): void {
    this.db.prepare('UPDATE items SET frames_sum = ? WHERE shelf_id = ? AND path = ? AND gone_at IS NULL').run(sum, place.shelfId, place.path);
  }

  /** Where files of the same bytes stand, the place itself among them; empty where not every byte of it is known. */
  copiesOf(place: Place): Item[] {
    const rows = this.db
      .prepare(
        `SELECT ${OWN_COLUMNS} FROM items WHERE content = (SELECT content FROM items WHERE shelf_id = ? AND path = ? AND content IS NOT NULL)
         AND gone_at IS NULL AND shelf_id IN (SELECT id FROM shelves WHERE retired_at IS NULL) ORDER BY shelf_id, path`,
      )
      .all(place.shelfId, place.path) as RawItem[];
    return rows.map(itemFromRaw);
  }

  /**
   * Asks, of one item after the other, what stands on other shelves of the list and holds the same, or may: by its content, or by its
   * samples and size. The first few of each shelf.
   */
  askElsewhere(most = 4): (item: Item) => Item[] {
    const others = this.db.prepare(
      `SELECT ${OWN_COLUMNS} FROM items WHERE rowid IN (
         SELECT rowid FROM items WHERE content = @content UNION SELECT rowid FROM items WHERE fingerprint = @fingerprint AND size_bytes = @sizeBytes)
       AND gone_at IS NULL AND shelf_id <> @shelfId AND shelf_id IN (SELECT id FROM shelves WHERE retired_at IS NULL) ORDER BY shelf_id, content IS NOT @content, path LIMIT ${MOST_TWINS}`,
    );
    return ({ place: { shelfId }, fingerprint, sizeBytes, content = null }) => {
      const found = new Map<string, RawItem[]>();
      for (const raw of others.iterate({ content, fingerprint, sizeBytes, shelfId }) as IterableIterator<RawItem>) {
        const own = found.get(raw.shelf_id) ?? [];
        if (own.length < most) found.set(raw.shelf_id, [...own, raw]);
      }
      return [...found.values()].flat().map(itemFromRaw);
    };
  }

  onShelf(shelfId: string): Item[] {
    return (this.db.prepare(`SELECT ${OWN_COLUMNS} FROM items WHERE shelf_id = ? AND gone_at IS NULL ORDER BY path`).all(shelfId) as RawItem[]).map(
      itemFromRaw,
    );
  }

  /** A part of the list of a shelf, or (null) of all that are listed; see item-window.ts. */
  window(shelfId: string | null, question: ItemQuestion): { total: number; rows: Item[] } {
    return itemWindow(this.db, shelfId, question);
  }

  /** How many files of a shelf are duplicates, read by no project, or broken. */
  countAmong(shelfId: string): ReturnType<typeof countAmong> {
    return countAmong(this.db, shelfId);
  }

  /** Clips that read a file, or one that is equal to it: of whatever project, a few of them. */
  readersOf({ place: { shelfId, path }, content }: Item): { readonly project: string; readonly projectId: string; readonly clip: string }[] {
    return this.db
      .prepare(
        `SELECT DISTINCT p.name AS project, p.id AS projectId, c.name AS clip FROM links l JOIN renditions r ON r.id = l.rendition_id
         JOIN clips c ON c.id = r.clip_id JOIN projects p ON p.id = c.project_id
         WHERE (l.shelf_id = @shelfId AND l.path = @path) OR l.content = @content ORDER BY p.name, c.name LIMIT 40`,
      )
      .all({ shelfId, path, content: content ?? null }) as { project: string; projectId: string; clip: string }[];
  }

  get(id: string): Item | null {
    const raw = this.db.prepare(`SELECT ${OWN_COLUMNS} FROM items WHERE id = ?`).get(id) as RawItem | undefined;
    return raw ? itemFromRaw(raw) : null;
  }

  at(place: Place): Item | null {
    const raw = this.db
      .prepare(`SELECT ${OWN_COLUMNS} FROM items WHERE shelf_id = ? AND path = ? AND gone_at IS NULL`)
      .get(place.shelfId, place.path) as RawItem | undefined;
    return raw ? itemFromRaw(raw) : null;
  }

  /** Like `at`, for any Unicode composition of the path; the exact path is preferred. */
  atComposed(place: Place): Item | null {
    const raw = this.db
      .prepare(`SELECT ${OWN_COLUMNS} FROM items WHERE shelf_id = ? AND path_key = ? AND gone_at IS NULL ORDER BY path = ? DESC LIMIT 1`)
      .get(place.shelfId, place.path.normalize('NFC'), place.path) as RawItem | undefined;
    return raw ? itemFromRaw(raw) : null;
  }

  /** What stood at a place and is gone. */
  goneAt(place: Place): Item | null {
    const raw = this.db
      .prepare(`SELECT ${OWN_COLUMNS} FROM items WHERE shelf_id = ? AND path_key = ? AND gone_at IS NOT NULL ORDER BY gone_at DESC LIMIT 1`)
      .get(place.shelfId, place.path.normalize('NFC')) as RawItem | undefined;
    return raw ? itemFromRaw(raw) : null;
  }

  /**
   * Items of the same shelf that may be parts of the same recording: they share its material identifier, its reel about when
   * it begins, or its name and folder.
   */
  tiedTo({ place: { shelfId, path }, facts }: Item): Item[] {
    const found: RawItem[] = [];
    if (facts.materialId)
      found.push(
        ...(this.db
          .prepare(`SELECT ${OWN_COLUMNS} FROM items INDEXED BY items_by_material WHERE material_id = ? AND shelf_id = ? AND gone_at IS NULL`)
          .all(facts.materialId, shelfId) as RawItem[]),
      );
    const isSound = facts.kind === 'audio';
    const mayTie = isSound || (facts.kind === 'video' && facts.audio.length === 0);
    if (mayTie && facts.reel && facts.startFrame !== null && facts.rate) {
      const start = facts.startFrame / rateAsNumber(facts.rate);
      const slack = isSound ? MOST_SLACK_SECONDS : Math.max(1, 2 / rateAsNumber(facts.rate));
      found.push(
        ...(this.db
          .prepare(
            `SELECT ${OWN_COLUMNS} FROM items INDEXED BY ${isSound ? 'items_silent_by_reel' : 'items_sound_by_reel'} WHERE reel_key = ? AND start_seconds BETWEEN ? AND ?
             AND shelf_id = ? AND gone_at IS NULL AND ${isSound ? "kind = 'video' AND channels = 0" : "kind = 'audio'"}`,
          )
          .all(facts.reel.toLowerCase(), start - slack, start + slack, shelfId) as RawItem[]),
      );
    }
    if (mayTie)
      found.push(
        ...(this.db
          .prepare(
            // The plus keeps other indexes away: a name is rarer than what stands on a shelf.
            `SELECT ${OWN_COLUMNS} FROM item_tells t CROSS JOIN items ON items.rowid = t.item
             WHERE t.key = ? AND +shelf_id = ? AND +folder = ? AND +gone_at IS NULL`,
          )
          .all(nameTell(path), shelfId, folderOf(path)) as RawItem[]),
      );
    return [...new Map(found.map((raw) => [raw.path, raw])).values()].sort((a, b) => (a.path < b.path ? -1 : 1)).map(itemFromRaw);
  }

  /** Adds the item or brings what is known of that place up to date; the id of a place stays the same. Unless settled, it is read again. */
  put(item: Item, frames: readonly string[] | null = null, isSettled = true): void {
    this.prepared(PUT_ITEM).run(
      item.id,
      item.place.shelfId,
      item.place.path,
      item.sizeBytes,
      item.modifiedMs,
      item.fingerprint,
      JSON.stringify(item.facts),
      item.problem,
      item.identity ? JSON.stringify(item.identity) : null,
      isSettled ? FACTS_VERSION : TO_BE_READ,
      item.damage ?? null,
      ...itemColumns(item.place.path, item.facts, this.originalNameOf(item)),
    );
    if (frames === null) return;
    const known = this.get(item.id) ?? this.at(item.place);
    if (known) this.db.prepare('INSERT OR REPLACE INTO frames (item_id, identities) VALUES (?, ?)').run(known.id, JSON.stringify(frames));
  }

  /** The name that the file at a place came with, while the same content stands there. */
  private originalNameOf({ place, fingerprint }: Item): string | null {
    const row = this.prepared('SELECT original_name AS name FROM items WHERE shelf_id = ? AND path = ? AND gone_at IS NULL AND fingerprint IS ?').get(
      place.shelfId,
      place.path,
      fingerprint,
    );
    return (row as { name: string | null } | undefined)?.name ?? null;
  }

  /** Items of a shelf, or below a folder of it, as a stocktake needs them: which are known, and whether their facts are up to date. */
  knownOn(shelfId: string, folder = ''): { item: Item; isCurrent: boolean }[] {
    return this.rawBelow({ shelfId, path: folder }).map((raw) => ({ item: itemFromRaw(raw), isCurrent: raw.facts_version === FACTS_VERSION }));
  }

  /** Rows below a folder, by the index of paths: '0' is the sign after '/'. */
  private rawBelow({ shelfId, path }: Place): RawItem[] {
    if (path === '') return this.db.prepare(`SELECT ${OWN_COLUMNS} FROM items WHERE shelf_id = ? AND gone_at IS NULL`).all(shelfId) as RawItem[];
    return this.db
      .prepare(`SELECT ${OWN_COLUMNS} FROM items WHERE shelf_id = ? AND path >= ? AND path < ? AND gone_at IS NULL`)
      .all(shelfId, `${path}/`, `${path}0`) as RawItem[];
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
    const mark = this.db.prepare('UPDATE items SET gone_at = @at, seen_at = @at WHERE shelf_id = @shelfId AND path = @path AND gone_at IS NULL');
    if (mark.run({ at, shelfId: place.shelfId, path: place.path }).changes > 0) return;
    const name = fileName(place.path);
    for (const { place: own, facts } of this.sequencesIn({ shelfId: place.shelfId, path: folderOf(place.path) }))
      if (name.startsWith(facts.sequence!.prefix) && name.endsWith(facts.sequence!.suffix)) mark.run({ at, shelfId: own.shelfId, path: own.path });
  }

  /**
   * Enters the checksum of every byte of the file at a place, as it was when it was read. Gives what was known before of
   * the file in this very state, if that is another: it lost bits. Not entered where the item is another by now.
   */
  recordChecksum(place: Place, read: FileIdentity, sha256: string, at: string): { sha256: string; at: string } | null {
    const known = this.db
      .prepare('SELECT id, identity, sha256, sha256_at AS at FROM items WHERE shelf_id = ? AND path = ? AND gone_at IS NULL')
      .get(place.shelfId, place.path) as { id: string; identity: string | null; sha256: string | null; at: string } | undefined;
    if (!known?.identity || !looksSame(JSON.parse(known.identity) as FileIdentity, read)) return null;
    this.db.prepare('UPDATE items SET sha256 = ?, sha256_at = ? WHERE id = ?').run(sha256, at, known.id);
    return known.sha256 !== null && known.sha256 !== sha256 ? { sha256: known.sha256, at: known.at } : null;
  }

  /** Every file known to have or have had this fingerprint, on whatever shelf, gone or not. */
  sharersOf(fingerprint: string): Sharer[] {
    const rows = this.db
      .prepare(
        `SELECT id, gone_at, size_bytes, json_extract(identity, '$.modifiedNs') AS modified_ns, sha256, known_at, seen_at
         FROM items INDEXED BY items_by_fingerprint WHERE fingerprint = ? LIMIT 200`,
      )
      .all(fingerprint) as {
      id: string;
      gone_at: string | null;
      size_bytes: number;
      modified_ns: string | null;
      sha256: string | null;
      known_at: string | null;
      seen_at: string | null;
    }[];
    return rows.map((row) => ({
      itemId: row.id,
      isGone: row.gone_at !== null,
      sizeBytes: row.size_bytes,
      modifiedNs: row.modified_ns,
      sha256: row.sha256,
      knownAt: row.known_at,
      seenAt: row.seen_at,
    }));
  }

  /** A run met something of the file at a place that cannot be read. It is told of until the file is read anew. */
  markDamaged(place: Place, damage: string): void {
    this.db
      .prepare('UPDATE items SET damage = ? WHERE shelf_id = ? AND path = ? AND gone_at IS NULL AND damage IS NULL')
      .run(damage, place.shelfId, place.path);
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
    const rows = this.db
      .prepare(
        `SELECT ${OWN_COLUMNS} FROM items INDEXED BY items_sequences WHERE shelf_id = ? AND folder = ? AND kind = 'sequence' AND gone_at IS NULL ORDER BY path`,
      )
      .all(folder.shelfId, folder.path) as RawItem[];
    return rows.map(itemFromRaw);
  }

  /** `seenAt`: when they were seen last, at the stocktake before; null where there was none. */
  markGone(items: readonly Item[], at: string, seenAt: string | null): void {
    const mark = this.db.prepare("UPDATE items SET gone_at = ?, seen_at = max(coalesce(?, ''), coalesce(known_at, '')) WHERE id = ?");
    this.db.transaction(() => items.forEach((item) => mark.run(at, seenAt, item.id))).immediate();
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
