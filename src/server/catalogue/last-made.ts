/** What was made last, by its name: made anew when it is made of something else. */
import { LRUCache } from 'lru-cache';

export class LastMade<T> {
  private readonly known: LRUCache<string, { readonly madeOf: unknown; readonly value: T }>;

  /** `most`: so many are kept; the one asked for last goes last. */
  constructor(most: number) {
    this.known = new LRUCache({ max: most });
  }

  of(key: string, madeOf: unknown, make: () => T): T {
    const known = this.known.get(key);
    const value = known && known.madeOf === madeOf ? known.value : make();
    this.known.set(key, { madeOf, value });
    return value;
  }

  forget(key: string): void {
    this.known.delete(key);
  }
}
