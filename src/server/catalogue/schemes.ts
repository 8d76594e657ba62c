import type { Scheme } from '../../core/scheme/scheme';
import type { Db } from './db';

/** `revision` counts the changes from 1. */
export interface KeptScheme {
  readonly scheme: Scheme;
  readonly revision: number;
}

interface Row {
  readonly document: string;
  readonly revision: number;
}

function kept({ document, revision }: Row): KeptScheme {
  return { scheme: JSON.parse(document) as Scheme, revision };
}

/** Schemes of this house, beside those that come with the application. */
export class Schemes {
  constructor(private readonly db: Db) {}

  list(): KeptScheme[] {
    return (this.db.prepare('SELECT document, revision FROM schemes ORDER BY name, id').all() as Row[]).map(kept);
  }

  get(id: string): KeptScheme | null {
    const row = this.db.prepare('SELECT document, revision FROM schemes WHERE id = ?').get(id) as Row | undefined;
    return row ? kept(row) : null;
  }

  /** Answers the revision it has now: one more than before, 1 for a new one. */
  put(scheme: Scheme, at: string): number {
    return this.db
      .prepare(
        `INSERT INTO schemes (id, name, document, changed_at) VALUES (?, ?, ?, ?)
         ON CONFLICT (id) DO UPDATE SET name = excluded.name, document = excluded.document, changed_at = excluded.changed_at, revision = revision + 1
         RETURNING revision`,
      )
      .pluck()
      .get(scheme.id, scheme.name, JSON.stringify(scheme), at) as number;
  }

  /** False when there is none. */
  remove(id: string): boolean {
    return this.db.prepare('DELETE FROM schemes WHERE id = ?').run(id).changes > 0;
  }
}
