import type { Scheme } from '../../core/scheme/scheme';
import type { Db } from './db';

/** Schemes of this house, beside those that come with the application. */
export class Schemes {
  constructor(private readonly db: Db) {}

  list(): Scheme[] {
    const texts = this.db.prepare('SELECT document FROM schemes ORDER BY name, id').pluck().all() as string[];
    return texts.map((text) => JSON.parse(text) as Scheme);
  }

  get(id: string): Scheme | null {
    const text = this.db.prepare('SELECT document FROM schemes WHERE id = ?').pluck().get(id) as string | undefined;
    return text === undefined ? null : (JSON.parse(text) as Scheme);
  }

  put(scheme: Scheme, at: string): void {
    this.db
      .prepare(
        'INSERT INTO schemes (id, name, document, changed_at) VALUES (?, ?, ?, ?) ON CONFLICT (id) DO UPDATE SET name = excluded.name, document = excluded.document, changed_at = excluded.changed_at',
      )
      .run(scheme.id, scheme.name, JSON.stringify(scheme), at);
  }

  /** False when there is none. */
  remove(id: string): boolean {
    return this.db.prepare('DELETE FROM schemes WHERE id = ?').run(id).changes > 0;
  }
}
