import type { Db } from './database';

const MOST_KEPT = 20;

/** What was read of a project, kept while its stamp is the same; the one read last is the last. */
export class Kept<T> {
  private readonly known = new Map<string, { stamp: number | undefined; value: T }>();

  constructor(private readonly db: Db) {}

  of(projectId: string, read: () => T): T {
    const stamp = this.db.prepare('SELECT version FROM stamps WHERE scope = ?').pluck().get(projectId) as number | undefined;
    const known = this.known.get(projectId);
    if (known && known.stamp === stamp) return known.value;
    const value = read();
    this.known.delete(projectId);
    this.known.set(projectId, { stamp, value });
    if (this.known.size > MOST_KEPT) this.known.delete(this.known.keys().next().value!);
    return value;
  }
}
