/** Made pictures and previews on the disk, within a budget: the longest unused go first. */
import { randomUUID } from 'node:crypto';
import { mkdir, readFile, rename, rm, stat, utimes } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { filesIn } from '../caches/folder-cache';

/** SHA-256 with an ending, whole or half-made. */
const OWN_NAME = /^[0-9a-f]{64}\.[a-z0-9]{2,4}(\.[0-9a-f-]{36}\.part)?$/;
/** After how long a use is worth noting. */
const NOTED_MS = 3_600_000;
/** A budget that is full is emptied to this share of it. */
const KEPT_SHARE = 0.8;

/** Whether a file of this name is of a picture cache. */
export function isPictureName(name: string): boolean {
  return OWN_NAME.test(name);
}

export class PictureCache {
  /** Null until the folder was counted. */
  private bytes: Promise<number> | null = null;

  constructor(
    private readonly folder: string,
    private readonly mostBytes: number,
    private readonly ending = '.jpg',
  ) {}

  async get(key: string): Promise<Buffer | null> {
    const path = await this.find(key);
    const picture = path === null ? null : await readFile(path).catch(() => null);
    return picture && picture.length > 0 ? picture : null;
  }

  /** Like `make`; the picture itself. */
  async put(key: string, make: (part: string) => Promise<boolean>): Promise<Buffer | null> {
    const path = await this.make(key, make);
    return path === null ? null : readFile(path);
  }

  /** Where it stands, noted as used; null where it was not made. */
  async find(key: string): Promise<string | null> {
    const path = this.pathOf(key);
    const used = await stat(path).catch(() => null);
    if (!used || used.size === 0) return null;
    const now = new Date();
    if (now.getTime() - used.mtimeMs > NOTED_MS) await utimes(path, now, now).catch(() => undefined);
    return path;
  }

  /** `make` writes to the path it gets and says whether it did. Half-made ones never stand under the final name. */
  async make(key: string, make: (part: string) => Promise<boolean>): Promise<string | null> {
    const path = this.pathOf(key);
    await mkdir(dirname(path), { recursive: true });
    const part = `${path}.${randomUUID()}.part`;
    try {
      if (!(await make(part))) return null;
      const { size } = await stat(part);
      if (size === 0) return null;
      await rename(part, path);
      await this.added(size);
      return path;
    } finally {
      await rm(part, { force: true });
    }
  }

  private pathOf(key: string): string {
    return join(this.folder, key.slice(0, 2), key + this.ending);
  }

  private async added(bytes: number): Promise<void> {
    // The first count finds the new one there already.
    this.bytes = this.bytes?.then((sum) => sum + bytes) ?? this.tidy();
    if ((await this.bytes) > this.mostBytes) await (this.bytes = this.tidy());
  }

  /** Counts the folder; above the budget removes the longest unused. Half-made ones of a process that was killed go too. */
  private async tidy(): Promise<number> {
    // What is not of its making is left, wherever somebody put it.
    const standing = (await filesIn(this.folder, isPictureName)).sort((a, b) => b.usedMs - a.usedMs);
    let sum = 0;
    for (const { path, bytes, usedMs } of standing) {
      const isLeft = path.endsWith('.part') && Date.now() - usedMs > NOTED_MS;
      if (isLeft || sum + bytes > this.mostBytes * KEPT_SHARE) await rm(path, { force: true });
      else sum += bytes;
    }
    return sum;
  }
}
