/** Walking a shelf and reading what each file is. Files known already by size and time are not read again. */
import { createHash, randomUUID } from 'node:crypto';
import { stat } from 'node:fs/promises';
import PQueue from 'p-queue';
import type { Item, MediaFacts } from '../../core/media/item';
import type { Catalogue } from '../catalogue/catalogue';
import { probeFacts, ProbeError, otherFacts } from '../media/probe';
import { fingerprintFile } from './fingerprint-file';
import { walkShelf, type FoundFile } from './walk';

export interface StocktakeProgress {
  readonly shelfId: string;
  state: 'running' | 'done' | 'failed' | 'cancelled';
  files: number;
  doneFiles: number;
  readFiles: number;
  goneFiles: number;
  problems: number;
  current: string;
  message: string | null;
}

const PROBES_AT_ONCE = 2;

/**
 * Takes stock of the shelf at `root`. Fills `progress` as it goes and calls `tell` on each change.
 * Resolves when over, cancelled or failed; the state says which.
 */
export async function takeStock(
  catalogue: Catalogue,
  shelfId: string,
  root: string,
  progress: StocktakeProgress,
  tell: () => void,
  signal: AbortSignal,
): Promise<void> {
  try {
    const { files, unreadable } = await walkShelf(root, signal);
    const known = new Map(catalogue.items.onShelf(shelfId).map((item) => [item.place.path, item]));
    progress.files = files.length;
    progress.problems += unreadable.length;
    const queue = new PQueue({ concurrency: PROBES_AT_ONCE });
    for (const found of files) {
      void queue.add(async () => {
        if (signal.aborted) return;
        progress.current = found.path;
        const old = known.get(found.path);
        const same = old !== undefined && old.sizeBytes === found.sizeBytes && old.modifiedMs === found.modifiedMs;
        if (!same) {
          const item = await readItem(shelfId, found, old?.id ?? randomUUID());
          if (item.problem) progress.problems++;
          catalogue.items.put(item);
          progress.readFiles++;
        }
        progress.doneFiles++;
        tell();
      });
    }
    await queue.onIdle();
    if (signal.aborted) {
      progress.state = 'cancelled';
    } else {
      const now = new Date().toISOString();
      progress.goneFiles = catalogue.items.markGone(shelfId, new Set(files.map((file) => file.path)), now);
      catalogue.shelves.tookStock(shelfId, now);
      progress.state = 'done';
      if (unreadable.length > 0)
        progress.message = `${unreadable.length} names cannot be read as UTF-8 text and were passed over, for instance ${unreadable[0]}`;
    }
  } catch (error) {
    progress.state = signal.aborted ? 'cancelled' : 'failed';
    progress.message = `The shelf could not be walked: ${(error as Error).message}. Look whether it is still plugged in, then take stock again.`;
  }
  tell();
}

/** One item with its facts; a file that cannot be read is an item with a problem. */
export async function readItem(shelfId: string, found: FoundFile, id: string): Promise<Item> {
  let facts: MediaFacts = otherFacts(found.path);
  let problem: string | null = null;
  try {
    facts = await probeFacts(found.file, found.sequence);
  } catch (error) {
    if (!(error instanceof ProbeError)) throw error;
    problem = error.message;
  }
  const fingerprint = await contentFingerprint(found).catch(() => null);
  return { id, place: { shelfId, path: found.path }, sizeBytes: found.sizeBytes, modifiedMs: found.modifiedMs, fingerprint, facts, problem };
}

/** A sequence is told by its first frame, its bytes and its numbers together. */
async function contentFingerprint(found: FoundFile): Promise<string> {
  if (!found.sequence) return fingerprintFile(found.file, found.sizeBytes);
  const first = await fingerprintFile(found.file, (await stat(found.file)).size);
  const { firstNumber, lastNumber, missingNumbers } = found.sequence;
  return createHash('sha256')
    .update(JSON.stringify([first, found.sizeBytes, firstNumber, lastNumber, missingNumbers]))
    .digest('hex');
}
