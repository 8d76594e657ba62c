/** Crates that were made here, what they held, and how they stand now. */
import type { CrateAbout } from '../../core/planning/crate/crate-about';
import { crateState, type CrateCounts, type CrateStanding } from '../../core/planning/package/crate-standing';
import type { CarriedClip, CrateCarries } from '../../core/planning/crate/crate-label';
import type { CrateHolds } from '../../core/planning/crate/crate-words';
import { CRATE_FORMAT } from '../../core/archive/archive-formats';
import { joinPath, samePlace, type Place } from '../../core/media/item';
import type { Db } from './db';

export interface CrateRow {
  readonly id: string;
  readonly projectId: string | null;
  readonly runId: number | null;
  readonly name: string;
  /** Where it was made. */
  readonly place: Place;
  readonly files: number;
  readonly bytes: number;
  readonly madeAt: string;
  /** Null for one of an earlier version. */
  readonly holds: CrateHolds | null;
  /** When all of it was read last; null for one of an earlier version that was not checked since. */
  readonly checkedAt: string | null;
  /** Day until which no undo takes it, as 2027-03-31, inclusive. */
  readonly lockedUntil: string | null;
  /** Since when it counts as handed over. */
  readonly acceptedAt: string | null;
  readonly about: CrateAbout;
  /** What the last check found that no stocktake sees, in words; null where nothing. */
  readonly found: string | null;
}

/** What became of a crate. */
export interface CrateMark {
  readonly at: string;
  readonly mark: 'made' | 'checked' | 'doubted' | 'retracted' | 'undone' | 'locked' | 'unlocked' | 'accepted' | 'returned';
  readonly words: string | null;
  readonly actor: string;
}

type Raw = Omit<CrateRow, 'place' | 'holds' | 'about'> & {
  shelfId: string;
  path: string;
  clips: number | null;
  lacks: string | null;
  about: string | null;
};

const COLUMNS =
  'id, project_id AS projectId, run_id AS runId, name, shelf_id AS shelfId, path, files, bytes, made_at AS madeAt, clips, lacks, checked_at AS checkedAt, locked_until AS lockedUntil, accepted_at AS acceptedAt, about, found';

/** The list of lists: no two crates have the same. */
export const OWN_LIST = CRATE_FORMAT.tagList;
const DECLARATION = CRATE_FORMAT.mark;

export class Crates {
  constructor(private readonly db: Db) {}

  add(crate: Omit<CrateRow, 'lockedUntil' | 'acceptedAt' | 'found'>, { timelines, clips }: CrateCarries, actor: string): void {
    this.db
      .prepare(
        `INSERT INTO made_crates (id, project_id, run_id, name, shelf_id, path, files, bytes, made_at, clips, lacks, checked_at, about, project_name)
         VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, (SELECT name FROM projects WHERE id = ?))
         ON CONFLICT DO UPDATE SET taken_back_at = NULL, run_id = excluded.run_id, files = excluded.files, bytes = excluded.bytes, made_at = excluded.made_at, clips = excluded.clips,
           lacks = excluded.lacks, checked_at = excluded.checked_at, about = excluded.about`,
      )
      .run(
        crate.id,
        crate.projectId,
        crate.runId,
        crate.name,
        crate.place.shelfId,
        crate.place.path,
        crate.files,
        crate.bytes,
        crate.madeAt,
        crate.holds?.clips ?? null,
        crate.holds ? JSON.stringify(crate.holds.lacks) : null,
        crate.checkedAt,
        JSON.stringify(crate.about),
        crate.projectId,
      );
    for (const table of ['crate_timelines', 'crate_clips']) this.db.prepare(`DELETE FROM ${table} WHERE crate_id = ?`).run(crate.id);
    const timeline = this.db.prepare('INSERT INTO crate_timelines (crate_id, ordinal, timeline_id, name) VALUES (?, ?, ?, ?)');
    timelines.forEach(({ id, name }, ordinal) => timeline.run(crate.id, ordinal, id, name));
    const clip = this.db.prepare(
      `INSERT INTO crate_clips (crate_id, ordinal, clip_id, name, shelf_id, path, fingerprint, content, start_frame, end_frame)
       VALUES (?, ?, ?, ?, ?, ?, ?, (SELECT content FROM items WHERE shelf_id = ? AND path = ?), ?, ?)`,
    );
    clips.forEach(({ id, name, place: { shelfId, path }, fingerprint, start, end }, ordinal) =>
      clip.run(crate.id, ordinal, id, name, shelfId, path, fingerprint, shelfId, path, start, end),
    );
    this.mark(crate.id, 'made', null, actor);
  }

  /** Marks a crate that was undone or is in doubt: it no longer counts as a copy, and stays on record. Part of a transaction. */
  takeBack(id: string, mark: 'undone' | 'retracted', actor: string): void {
    const { changes } = this.db
      .prepare('UPDATE made_crates SET taken_back_at = ? WHERE id = ? AND taken_back_at IS NULL')
      .run(new Date().toISOString(), id);
    if (changes > 0) this.mark(id, mark, null, actor);
  }

  /** What became of a crate, from its making on. */
  marksOf(id: string): CrateMark[] {
    return this.db.prepare('SELECT at, mark, words, actor FROM crate_marks WHERE crate_id = ? ORDER BY id').all(id) as CrateMark[];
  }

  /** Timelines and clips that it carries, also of one that was taken back. */
  carriedBy(id: string): CrateCarries {
    const timelines = this.db.prepare('SELECT timeline_id AS id, name FROM crate_timelines WHERE crate_id = ? ORDER BY ordinal').all(id);
    const clips = this.db
      .prepare(
        'SELECT clip_id AS id, name, shelf_id AS shelfId, path, fingerprint, start_frame AS start, end_frame AS end FROM crate_clips WHERE crate_id = ? ORDER BY ordinal',
      )
      .all(id) as (Omit<CarriedClip, 'place'> & Place)[];
    return {
      timelines: timelines as CrateCarries['timelines'],
      clips: clips.map(({ shelfId, path, ...clip }) => ({ ...clip, place: { shelfId, path } })),
    };
  }

  private mark(id: string, mark: CrateMark['mark'], words: string | null, actor: string): void {
    this.db.prepare('INSERT INTO crate_marks (crate_id, at, mark, words, actor) VALUES (?, ?, ?, ?, ?)').run(id, new Date().toISOString(), mark, words, actor); // prettier-ignore
  }

  get(id: string): CrateRow | null {
    const raw = this.db.prepare(`SELECT ${COLUMNS} FROM crates WHERE id = ?`).get(id) as Raw | undefined;
    return raw ? crateRow(raw) : null;
  }

  ofProject(projectId: string): CrateRow[] {
    return (this.db.prepare(`SELECT ${COLUMNS} FROM crates WHERE project_id = ? ORDER BY made_at DESC`).all(projectId) as Raw[]).map(crateRow);
  }

  /** The one that a run made; null where it made none. */
  ofRun(runId: number): CrateRow | null {
    const raw = this.db.prepare(`SELECT ${COLUMNS} FROM crates WHERE run_id = ?`).get(runId) as Raw | undefined;
    return raw ? crateRow(raw) : null;
  }

  /** All of it was read and compared at `root`: what stands there now of these paths on the shelf is what it holds. What lies beside it is none of it. */
  checked(id: string, root: Place, at: string, paths: readonly string[], actor: string): void {
    this.db.prepare('DELETE FROM crate_files WHERE crate_id = ?').run(id);
    this.db
      .prepare(
        `INSERT INTO crate_files (crate_id, path, bytes, content)
         SELECT ?, substr(i.path, ?), i.size_bytes, i.content FROM json_each(?) w CROSS JOIN items i ON i.shelf_id = ? AND i.path = w.value AND i.gone_at IS NULL`,
      )
      .run(id, root.path.length === 0 ? 1 : [...root.path].length + 2, JSON.stringify(paths), root.shelfId);
    this.db.prepare('UPDATE made_crates SET checked_at = ?, found = NULL WHERE id = ?').run(at, id);
    this.mark(id, 'checked', null, actor);
  }

  /** A check found what no stocktake sees, and that it is not whole therefore. */
  doubt(id: string, found: string, actor: string): void {
    this.db.prepare('UPDATE made_crates SET found = ? WHERE id = ?').run(found, id);
    this.mark(id, 'doubted', found, actor);
  }

  /** What it held when it was made or last checked, by the paths below its root; none of one of an earlier version that was not checked since. */
  filesOf(id: string): { path: string; bytes: number; content: string | null }[] {
    return this.db.prepare('SELECT path, bytes, content FROM crate_files WHERE crate_id = ? ORDER BY path').all(id) as {
      path: string;
      bytes: number;
      content: string | null;
    }[];
  }

  /** Like `filesOf`, but only files that are there today and unchanged. */
  filesStanding(crate: CrateRow): ReturnType<Crates['filesOf']> {
    const { place } = this.standing(crate);
    const rows = this.db
      .prepare(
        `SELECT f.path, f.bytes, f.content FROM crate_files f JOIN items i ON i.shelf_id = ? AND i.path = ? || f.path AND i.gone_at IS NULL
         WHERE f.crate_id = ? AND i.size_bytes = f.bytes AND (f.bytes = 0 OR i.content IS NULL OR i.content IS f.content) ORDER BY f.path`,
      )
      .all(place.shelfId, place.path === '' ? '' : `${place.path}/`, crate.id);
    return rows as ReturnType<Crates['filesOf']>;
  }

  lock(id: string, until: string | null, actor: string): void {
    this.db.prepare('UPDATE made_crates SET locked_until = ? WHERE id = ?').run(until, id);
    this.mark(id, until === null ? 'unlocked' : 'locked', until, actor);
  }

  /** Name of a crate that a file lies in and that nobody may take: handed over, or locked on this day (as 2027-03-31); null where there is none. */
  keptAt({ shelfId, path }: Place, today: string): string | null {
    const name = this.db
      .prepare(
        `SELECT name FROM crates WHERE shelf_id = @shelfId AND substr(@path, 1, length(path) + 1) = path || '/'
         AND (accepted_at IS NOT NULL OR locked_until >= @today) LIMIT 1`,
      )
      .pluck()
      .get({ shelfId, path, today }) as string | undefined;
    return name ?? null;
  }

  accept(id: string, at: string | null, actor: string): void {
    this.db.prepare('UPDATE made_crates SET accepted_at = ? WHERE id = ?').run(at, id);
    this.mark(id, at === null ? 'returned' : 'accepted', null, actor);
  }

  /** How it stands by what the last stocktakes saw: where it was made, else where its own list is found. */
  standing({ id, place, found }: CrateRow): CrateStanding {
    const others = this.listsOf(id).filter((found) => !samePlace(found, place));
    const here = this.countsAt(id, place);
    if (this.stands(place, DECLARATION) || here.equal + here.unread > 0 || others.length === 0)
      return { ...here, state: crateState(here, this.stands(place, DECLARATION), found), found, place, isMoved: false, copies: others };
    const [now, ...copies] = others;
    const there = this.countsAt(id, now!);
    return { ...there, state: crateState(there, this.stands(now!, DECLARATION), found), found, place: now!, isMoved: true, copies };
  }

  /** Shelves on which its crates were made, or where their lists stand now. */
  shelvesOf(projectId: string): string[] {
    return this.db
      .prepare(
        `SELECT shelf_id FROM crates WHERE project_id = @projectId UNION
         SELECT i.shelf_id FROM crates c JOIN crate_files f ON f.crate_id = c.id AND f.path = @list JOIN items i ON i.content = f.content
         WHERE c.project_id = @projectId AND f.content IS NOT NULL AND i.gone_at IS NULL ORDER BY 1`,
      )
      .pluck()
      .all({ projectId, list: OWN_LIST }) as string[];
  }

  private stands(root: Place, name: string): boolean {
    return (
      this.db.prepare('SELECT 1 FROM items WHERE shelf_id = ? AND path = ? AND gone_at IS NULL').get(root.shelfId, joinPath(root.path, name)) !==
      undefined
    );
  }

  /** Folders that hold its list of lists, and are not where another crate was made. */
  private listsOf(id: string): Place[] {
    return this.db
      .prepare(
        `SELECT i.shelf_id AS shelfId, i.folder AS path FROM crate_files f JOIN items i ON i.content = f.content JOIN shelves s ON s.id = i.shelf_id
         WHERE f.crate_id = ? AND f.path = ? AND f.content IS NOT NULL AND i.gone_at IS NULL AND s.retired_at IS NULL AND i.name_key = ?
           AND NOT EXISTS (SELECT 1 FROM crates c WHERE c.shelf_id = i.shelf_id AND c.path = i.folder AND c.id <> f.crate_id) ORDER BY i.shelf_id, i.path`,
      )
      .all(id, OWN_LIST, OWN_LIST) as Place[];
  }

  private countsAt(id: string, root: Place): CrateCounts {
    return this.db
      .prepare(
        `SELECT count(*) AS files,
           count(CASE WHEN i.path IS NOT NULL AND i.size_bytes = f.bytes AND (i.content = f.content OR f.bytes = 0) THEN 1 END) AS equal,
           count(CASE WHEN i.path IS NOT NULL AND i.size_bytes = f.bytes AND f.bytes > 0 AND i.content IS NULL THEN 1 END) AS unread,
           count(CASE WHEN i.path IS NOT NULL AND (i.size_bytes <> f.bytes OR i.content <> f.content OR (f.content IS NULL AND f.bytes > 0 AND i.content IS NOT NULL)) THEN 1 END) AS other,
           count(CASE WHEN i.path IS NULL THEN 1 END) AS missing,
           CASE WHEN count(*) = 0 THEN 0 ELSE (SELECT count(*) FROM items a WHERE a.shelf_id = @shelfId AND a.path >= @root || 'data/' AND a.path < @root || 'data0'
             AND a.gone_at IS NULL AND NOT EXISTS (SELECT 1 FROM crate_files o WHERE o.crate_id = @id AND o.path = substr(a.path, length(@root) + 1))) END AS extra
         FROM crate_files f LEFT JOIN items i ON i.shelf_id = @shelfId AND i.path = @root || f.path AND i.gone_at IS NULL WHERE f.crate_id = @id`,
      )
      .get({ shelfId: root.shelfId, root: root.path === '' ? '' : `${root.path}/`, id }) as CrateCounts;
  }
}

function crateRow({ shelfId, path, clips, lacks, about, ...row }: Raw): CrateRow {
  return {
    ...row,
    place: { shelfId, path },
    holds: clips === null || lacks === null ? null : { clips, lacks: JSON.parse(lacks) as CrateHolds['lacks'] },
    about: about === null ? {} : (JSON.parse(about) as CrateAbout),
  };
}
