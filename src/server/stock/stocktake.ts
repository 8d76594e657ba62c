/** Walking a shelf and reading what each file is. What is known already and untouched is not read again. */
import { isWithin } from '../../core/naming/within';
import { lstatSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import PQueue from 'p-queue';
import { findSequences, sequenceName } from '../../core/media/image-sequence';
import { fileName, folderOf, type Item } from '../../core/media/item';
import { NOTHING_COUNTED, type StocktakeFigures } from '../../core/planning/stocktake/stocktake';
import type { Catalogue } from '../catalogue/catalogue';
import { whenFree } from '../catalogue/when-free';
import { enterItem } from './enter-item';
import { KnownContents } from './known-contents';
import { readItem, type StoodItem } from './read-item';
import { walkShelf } from './walk';
import { oneOrMany } from '../../core/words/figures';

/** How it goes on, or ended. `interrupted`: the drive went away; what was read is kept, nothing was taken for gone. */
export interface Stocktaking extends Writable<StocktakeFigures> {
  state: 'running' | 'done' | 'failed' | 'cancelled' | 'interrupted';
}

type Writable<T> = { -readonly [K in keyof T]: T[K] };

export function newStocktaking(): Stocktaking {
  return { state: 'running', ...NOTHING_COUNTED };
}

const PROBES_AT_ONCE = 2;
const BUSY_PAUSE_MS = 50;

/** The shelf is not where the stocktake began. */
class ShelfGone extends Error {}

/** `stands`: whether the shelf is there at this moment. */
export interface Standing {
  readonly shelfId: string;
  readonly root: string;
  readonly stands: () => boolean;
}

/**
 * Takes stock of the shelf at `root`. Fills `progress` as it goes and calls `tell` on each change.
 * Resolves when over, interrupted, cancelled or failed; the state says which. Nothing is written unless the shelf
 * stands at `root` at that moment.
 */
export async function takeStock(
  catalogue: Catalogue,
  { shelfId, root, stands }: Standing,
  progress: Stocktaking,
  tell: () => void,
  signal: AbortSignal,
): Promise<void> {
  const mustBeThere = () => {
    if (!stands()) throw new ShelfGone();
  };
  const trouble = new AbortController();
  // No item is dropped because something holds the catalogue for long.
  const patience = { pauseMs: BUSY_PAUSE_MS, may: () => !signal.aborted };
  try {
    // Known before the walk: what a run makes meanwhile is not taken for gone.
    const known = knownItems(catalogue, shelfId);
    const contents = new KnownContents(known.values());
    const { files, unreadable, closedFolders } = await walkShelf(root, signal);
    mustBeThere();
    progress.files = files.length;
    progress.problems += unreadable.length + closedFolders.length;
    const queue = new PQueue({ concurrency: PROBES_AT_ONCE });
    const failures: unknown[] = [];
    const vanished: string[] = [];
    for (const found of files) {
      void queue.add(async () => {
        if (signal.aborted || trouble.signal.aborted) return;
        try {
          progress.current = found.path;
          const old = known.get(found.path) ?? null;
          const read = await readItem(shelfId, found, old, contents);
          mustBeThere();
          // What was broken off says nothing of the file.
          if (signal.aborted) return;
          if (read === null) vanished.push(found.path);
          else if (read.how !== 'known') {
            await whenFree(() => enterItem(catalogue, read, found, old), patience);
            if (read.item.problem) progress.problems++;
            if (read.how === 'read') progress.readFiles++;
            else if (read.isMoved) progress.movedFiles = (progress.movedFiles ?? 0) + 1;
            else if (old === null) progress.copiedFiles = (progress.copiedFiles ?? 0) + 1;
          }
          progress.doneFiles++;
          tell();
        } catch (error) {
          failures.push(error);
          trouble.abort();
        }
      });
    }
    await queue.onIdle();
    if (failures.length > 0) throw failures[0];
    if (signal.aborted) {
      progress.state = 'cancelled';
    } else {
      const now = new Date().toISOString();
      const met = new Set(files.map((file) => file.path));
      const gone = [...known.values()].map(({ item }) => item).filter((item) => !met.has(item.place.path) && isGone(root, item, closedFolders));
      mustBeThere();
      await whenFree(() => {
        catalogue.items.markGone(gone, now, catalogue.shelves.get(shelfId)?.stocktakeAt ?? null);
        catalogue.shelves.tookStock(shelfId, now);
      }, patience);
      progress.goneFiles = gone.length;
      progress.state = 'done';
      progress.message = passedOver(unreadable, closedFolders, vanished);
    }
  } catch (error) {
    const away = error instanceof ShelfGone || !stands();
    progress.state = signal.aborted ? 'cancelled' : away ? 'interrupted' : 'failed';
    progress.message = away
      ? 'The drive went away in the middle. What was read is kept and nothing was taken for gone. Plug it in, then look for changes again.'
      : `The stocktake could not be finished: ${(error as Error).message}. Look at the drive, then look for changes again.`;
  }
  tell();
}

function knownItems(catalogue: Catalogue, shelfId: string): Map<string, StoodItem> {
  const known = catalogue.items.knownOn(shelfId);
  const frames = catalogue.items.framesOf(known.filter(({ item }) => item.facts.kind === 'sequence').map(({ item }) => item.id));
  return new Map(known.map((entry) => [entry.item.place.path, { ...entry, frames: frames.get(entry.item.id) ?? null }]));
}

/** Whether an item that the walk did not meet is really not there. Of what lies in closed folders nothing is known. */
export function isGone(root: string, item: Item, closedFolders: readonly string[]): boolean {
  const { path } = item.place;
  if (closedFolders.some((folder) => isWithin(path, folder))) return false;
  if (item.facts.kind !== 'sequence') return !isFile(join(root, path)) || isHidden(path) || inSequence(root, path);
  try {
    const { sequences } = findSequences(readdirSync(join(root, folderOf(path))));
    return !sequences.some(({ facts }) => sequenceName(facts) === fileName(path));
  } catch (error) {
    return ['ENOENT', 'ENOTDIR'].includes((error as NodeJS.ErrnoException).code ?? '');
  }
}

/** True as well if it cannot be determined. */
function isFile(path: string): boolean {
  try {
    return lstatSync(path, { throwIfNoEntry: false })?.isFile() ?? false;
  } catch {
    return true;
  }
}

function isHidden(path: string): boolean {
  return path.split('/').some((name) => name.startsWith('.'));
}

/** A still that has become a frame of a sequence is no item of its own any more. */
function inSequence(root: string, path: string): boolean {
  try {
    return findSequences(readdirSync(join(root, folderOf(path)))).sequences.some(({ files }) => files.includes(fileName(path)));
  } catch {
    return false;
  }
}

function passedOver(unreadable: readonly string[], closedFolders: readonly string[], vanished: readonly string[]): string | null {
  const said = [
    ...(vanished.length > 0
      ? [
          `${vanished.length === 1 ? 'A file' : `${vanished.length} files`} went away while it was read, for instance ${vanished[0]}. Look for changes again when nobody moves files`,
        ]
      : []),
    ...(unreadable.length > 0
      ? [
          `${unreadable.length === 1 ? 'A name is' : `${unreadable.length} names are`} no UTF-8 text and ${oneOrMany(unreadable.length, 'was', 'were')} passed over, for instance ${unreadable[0]}. Rename what should be seen, then look for changes again`,
        ]
      : []),
    ...(closedFolders.length > 0
      ? [
          `${closedFolders.length === 1 ? 'A folder' : `${closedFolders.length} folders`} could not be opened, so nothing in ${oneOrMany(closedFolders.length, 'it', 'them')} counts as gone: ${closedFolders.slice(0, 3).join(', ')}${closedFolders.length > 3 ? ' …' : ''}. Change the rights, then look for changes again`,
        ]
      : []),
  ];
  return said.length === 0 ? null : `${said.join('. ')}.`;
}
