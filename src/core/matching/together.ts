/** Events of one timeline come from the same few folders: what most of its sources agree on is the likelier. */
import { folderOf } from '../media/item';
import type { Judged } from './judge';

/** A match that was accepted, or is proven, says as much as this many that only may be. */
const ACCEPTED_VOTES = 1000;

function folderKey({ candidate: { place } }: Judged): string {
  return `${place.shelfId}\n${folderOf(place.path)}`;
}

/** Counts, by folder, the sources that have a file there which holds what is read; each source once. */
export class FolderCount {
  private readonly counts = new Map<string, number>();

  add(judged: readonly Judged[], accepted: Judged | null = null): void {
    const folders = new Set(
      judged.filter(({ held, against }) => held !== null && !against.includes('kind') && !against.includes('rate')).map(folderKey),
    );
    for (const folder of folders) this.counts.set(folder, (this.counts.get(folder) ?? 0) + 1);
    if (accepted) this.counts.set(folderKey(accepted), (this.counts.get(folderKey(accepted)) ?? 0) + ACCEPTED_VOTES);
  }

  readonly votes = (judged: Judged): number => this.counts.get(folderKey(judged)) ?? 0;
}
