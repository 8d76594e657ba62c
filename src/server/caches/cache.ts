/** What can be made again: all that is kept to be quicker has this one face. A new cache is one of these, and a line where the house registers it. */

export interface CachedFile {
  readonly path: string;
  readonly bytes: number;
  /** Time of last use, as far as the file system records it. */
  readonly usedMs: number;
}

export interface Cache {
  readonly name: string;
  /** What it takes to have it again, in words. */
  readonly again: string;
  /** All that is in it. Rejects where it cannot be read. */
  readonly list: () => Promise<readonly CachedFile[]>;
  /** Takes away what is in it, but for what is being made; gives the bytes that are free again. */
  readonly clear: () => Promise<number>;
}

export interface CacheNow {
  readonly name: string;
  readonly again: string;
  readonly files: number;
  readonly bytes: number;
  readonly lastUsedAt: string | null;
}

/** All caches of a house, each by its name. */
export class Caches {
  private readonly known = new Map<string, Cache>();

  /** Throws for a second one of a name. */
  register(cache: Cache): void {
    if (this.known.has(cache.name)) throw new Error(`There are two caches "${cache.name}".`);
    this.known.set(cache.name, cache);
  }

  names(): string[] {
    return [...this.known.keys()];
  }

  now(): Promise<CacheNow[]> {
    return Promise.all(
      [...this.known.values()].map(async ({ name, again, list }) => {
        const files = await list().catch(() => []);
        const used = Math.max(0, ...files.map(({ usedMs }) => usedMs));
        const bytes = files.reduce((sum, file) => sum + file.bytes, 0);
        return { name, again, files: files.length, bytes, lastUsedAt: used > 0 ? new Date(used).toISOString() : null };
      }),
    );
  }

  /** Gives the bytes that are free again; null where there is no cache of that name. */
  async clear(name: string): Promise<number | null> {
    return (await this.known.get(name)?.clear()) ?? null;
  }
}
