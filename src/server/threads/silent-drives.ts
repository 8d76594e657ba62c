/**
 * Folders below which nothing answers just now: whoever touches them waits for ever. Whatever goes to a thread takes the list
 * along.
 */
import { EventEmitter } from 'node:events';

class SilentDrives extends EventEmitter<{ fell: [string]; back: [string] }> {
  private readonly folders = new Set<string>();

  now(): readonly string[] {
    return [...this.folders];
  }

  add(folder: string): void {
    if (this.folders.has(folder)) return;
    this.folders.add(folder);
    this.emit('fell', folder);
  }

  remove(folder: string): void {
    if (this.folders.delete(folder)) this.emit('back', folder);
  }

  has(path: string): boolean {
    return isBelowAny(path, this.folders);
  }
}

export const silentDrives = new SilentDrives();
silentDrives.setMaxListeners(0);

export function isBelowAny(path: string, folders: Iterable<string>): boolean {
  for (const folder of folders) if (path === folder || path.startsWith(`${folder}/`)) return true;
  return false;
}
