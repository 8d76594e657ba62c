import type { Place } from '../../core/media/item';
import type { CrateHolds } from '../../core/planning/crate/crate-words';
import type { Db } from './db';

export interface CrateRow {
  readonly id: string;
  readonly projectId: string | null;
  readonly runId: number | null;
  readonly name: string;
  readonly place: Place;
  readonly files: number;
  readonly bytes: number;
  readonly madeAt: string;
  /** Null for one of an earlier version. */
  readonly holds: CrateHolds | null;
}

type Raw = Omit<CrateRow, 'place' | 'holds'> & { shelfId: string; path: string; clips: number | null; lacks: string | null };

const COLUMNS = 'id, project_id AS projectId, run_id AS runId, name, shelf_id AS shelfId, path, files, bytes, made_at AS madeAt, clips, lacks';

export class Crates {
  constructor(private readonly db: Db) {}

  add(crate: CrateRow): void {
    this.db
      .prepare(
        'INSERT INTO crates (id, project_id, run_id, name, shelf_id, path, files, bytes, made_at, clips, lacks) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT DO UPDATE SET run_id = excluded.run_id, files = excluded.files, bytes = excluded.bytes, made_at = excluded.made_at, clips = excluded.clips, lacks = excluded.lacks',
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
      );
  }

  remove(id: string): void {
    this.db.prepare('DELETE FROM crates WHERE id = ?').run(id);
  }

  ofProject(projectId: string): CrateRow[] {
    const rows = this.db.prepare(`SELECT ${COLUMNS} FROM crates WHERE project_id = ? ORDER BY made_at DESC`).all(projectId) as Raw[];
    return rows.map(({ shelfId, path, clips, lacks, ...row }) => ({
      ...row,
      place: { shelfId, path },
      holds: clips === null || lacks === null ? null : { clips, lacks: JSON.parse(lacks) as CrateHolds['lacks'] },
    }));
  }
}
