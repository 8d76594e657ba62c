/** Second copies that one step has written and proven, until the step after it gives them their names. */
import { rm } from 'node:fs/promises';
import { placeKey, type Place } from '../../../core/media/item';

/** Of one file: read back, equal to the first copy. */
export interface ReadBack {
  readonly part: string;
  readonly bytes: number;
  readonly sha256: string;
}

export class Handed {
  private readonly proven = new Map<string, ReadBack>();
  private readonly made = new Set<string>();

  /** A file or folder that is begun for the next step. */
  begun(path: string): void {
    this.made.add(path);
  }

  give(target: Place, proven: ReadBack): void {
    this.proven.set(placeKey(target), proven);
  }

  has(target: Place): boolean {
    return this.proven.has(placeKey(target));
  }

  /** What was given for a place, once. */
  take(target: Place): ReadBack | null {
    const found = this.proven.get(placeKey(target)) ?? null;
    this.proven.delete(placeKey(target));
    return found;
  }

  /** What nobody took goes. */
  async clear(): Promise<void> {
    this.proven.clear();
    for (const path of this.made) await rm(path, { force: true, recursive: true }).catch(() => undefined);
  }
}
