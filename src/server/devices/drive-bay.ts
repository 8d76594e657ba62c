/**
 * A simulated drive bay: drives are folders that stand in `plugged/` or `out/`, each with a capacity of its own
 * (bay.json). Pulling a drive out while it is written to gives the same errors as a real one: the path is gone.
 */
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join, relative, sep } from 'node:path';
import { folderBytes } from '../stock/folder-bytes';

export interface BayDrive {
  readonly name: string;
  readonly capacityBytes: number;
}

export class DriveBay {
  constructor(private readonly folder: string) {}

  private read(): BayDrive[] {
    const file = join(this.folder, 'bay.json');
    return existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as { drives: BayDrive[] }).drives : [];
  }

  /** Folder in which plugged drives appear. */
  get pluggedFolder(): string {
    return join(this.folder, 'plugged');
  }

  /** Adds an empty drive, plugged in. */
  add(drive: BayDrive): string {
    mkdirSync(join(this.folder, 'out'), { recursive: true });
    const path = join(this.pluggedFolder, drive.name);
    mkdirSync(path, { recursive: true });
    writeFileSync(
      join(this.folder, 'bay.json'),
      JSON.stringify({ drives: [...this.read().filter((entry) => entry.name !== drive.name), drive] }, null, 2),
    );
    return path;
  }

  drives(): (BayDrive & { plugged: boolean })[] {
    return this.read().map((drive) => ({ ...drive, plugged: existsSync(join(this.pluggedFolder, drive.name)) }));
  }

  /** Puts a drive in or takes it out. False when there is no such drive. */
  setPlugged(name: string, plugged: boolean): boolean {
    if (!this.read().some((drive) => drive.name === name)) return false;
    const inside = join(this.pluggedFolder, name);
    const outside = join(this.folder, 'out', name);
    if (plugged && existsSync(outside)) renameSync(outside, inside);
    if (!plugged && existsSync(inside)) renameSync(inside, outside);
    return existsSync(plugged ? inside : outside);
  }

  /** Name of the simulated drive that a path lies on; null for any other path. */
  driveOf(path: string): string | null {
    const name = relative(this.pluggedFolder, path).split(sep)[0] ?? '';
    return this.read().some((drive) => drive.name === name) ? name : null;
  }

  /** The simulated drive that a path lies on, and its space; null for any other path. */
  async space(path: string): Promise<{ capacityBytes: number; freeBytes: number } | null> {
    const name = this.driveOf(path);
    const drive = this.read().find((entry) => entry.name === name);
    if (!drive || name === null) return null;
    const used = await folderBytes(join(this.pluggedFolder, name));
    return { capacityBytes: drive.capacityBytes, freeBytes: Math.max(0, drive.capacityBytes - used) };
  }
}
