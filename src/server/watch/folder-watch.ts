/**
 * Watches all folders below a root, and tells that something in them is another: not what. Where the system watches whole trees it
 * is asked for that; Linux (inotify) watches each folder by itself, and a new one is watched from when it is met.
 */
import { opendirSync, watch, type FSWatcher } from 'node:fs';
import { join } from 'node:path';
import { PART_SUFFIX } from '../stock/part-name';
import { touching } from '../stock/touching';

/** Systems limit how many folders are watched; more than these are not tried. */
const MOST_FOLDERS = 100_000;
const TREES = process.platform === 'darwin' || process.platform === 'win32';

export class FolderWatch {
  private readonly watchers = new Map<string, FSWatcher>();

  /** `lost`: it cannot be watched, or not any more. */
  constructor(
    private readonly root: string,
    private readonly changed: () => void,
    private readonly lost: (why: string) => void,
  ) {}

  /** Watches what is there now; a folder that went away is let go. */
  sync(): void {
    try {
      if (TREES) return this.watch(this.root, true);
      const there = touching(this.root, () => foldersBelow(this.root));
      const met = new Set(there);
      for (const [folder, watcher] of this.watchers) if (!met.has(folder)) this.leave(folder, watcher);
      for (const folder of there) this.watch(folder, false);
    } catch (error) {
      this.close();
      this.lost((error as Error).message);
    }
  }

  private watch(folder: string, recursive: boolean): void {
    if (this.watchers.has(folder)) return;
    try {
      const watcher = watch(folder, { recursive, persistent: false }, (_event, name) => isOwn(name) || this.changed());
      // A folder that went away: what is left is met by the next sync.
      watcher.on('error', () => (this.leave(folder, watcher), this.changed()));
      this.watchers.set(folder, watcher);
    } catch (error) {
      if (['ENOENT', 'ENOTDIR', 'EACCES', 'EPERM'].includes((error as NodeJS.ErrnoException).code ?? '') && folder !== this.root) return;
      throw error;
    }
  }

  private leave(folder: string, watcher: FSWatcher): void {
    watcher.close();
    this.watchers.delete(folder);
  }

  close(): void {
    for (const [folder, watcher] of this.watchers) this.leave(folder, watcher);
  }
}

/** What no stocktake lists: hidden names, and half-made files. */
function isOwn(path: string | null): boolean {
  return path !== null && path.split(/[/\\]/).some((name) => name.startsWith('.') || name.endsWith(PART_SUFFIX));
}

/** The root and every folder below it that a stocktake goes into. Throws where there are too many, or the root cannot be listed. */
function foldersBelow(root: string): string[] {
  const folders = [root];
  for (const folder of folders) {
    if (folders.length > MOST_FOLDERS) throw new Error(`more than ${MOST_FOLDERS} folders`);
    try {
      const opened = opendirSync(folder);
      try {
        for (let entry = opened.readSync(); entry; entry = opened.readSync())
          if (entry.isDirectory() && !entry.name.startsWith('.')) folders.push(join(folder, entry.name));
      } finally {
        opened.closeSync();
      }
    } catch (error) {
      if (folder === root) throw error;
    }
  }
  return folders;
}
