/** What stands on the drives just now: shelves with their room, folders to choose from. In a thread of its own: a drive that does not answer holds up nobody else. */
import { existsSync, readdirSync, realpathSync, statSync } from 'node:fs';
import { basename, dirname, join, resolve } from 'node:path';
import { joinPath } from '../../core/media/item';
import { archiveAt } from '../../core/archive/archive-formats';
import { byName } from '../../core/naming/by-name';
import type { NewShelf } from '../../core/forms/shelf-forms';
import { notFound, Problem } from '../errors/problem';
import { shelfSnapshots } from '../projects/snapshot';
import { attachedRoots, type Mounts } from '../stock/mounts';
import { seenPlaces, type SeenPlace } from '../stock/seen-places';
import { touching } from '../stock/touching';
import { registerShelf } from '../stock/register-shelf';
import { nestingsAmong, type Nesting } from '../stock/nested-shelves';
import type { FolderView, ShelfView } from '../stock/views/shelf';
import type { QuestionOf } from './question';

/** Without the stocktakes, which go on elsewhere. */
type StandingShelf = Omit<ShelfView, 'stocktake'>;

const shelves: QuestionOf<object, StandingShelf[]> = {
  lane: 'disks',
  async answer({ catalogue, mounts, bay }) {
    const snapshots = await shelfSnapshots(catalogue, mounts);
    const counts = catalogue.items.countsByShelf();
    const rows = new Map(catalogue.shelves.list().map((row) => [row.id, row]));
    const drives = bay?.drives() ?? [];
    const nestings = nestingsAmong(mounts, [...rows.keys()]);
    return snapshots.flatMap((shelf) => {
      const row = rows.get(shelf.id);
      // Taken off the list meanwhile.
      if (!row) return [];
      const count = counts.get(shelf.id) ?? { items: 0, bytes: 0 };
      const root = mounts.rootOf(shelf.id);
      return {
        ...shelf,
        kind: row.kind,
        record: row.record,
        // Shown so that it can be copied; it is not kept in the catalogue.
        mountPath: root,
        seenAt: row.seenAt,
        isSilent: mounts.keepsSilent(shelf.id),
        stocktakeAt: row.stocktakeAt,
        items: count.items,
        itemBytes: count.bytes,
        knownBy: mounts.knownBy(shelf.id),
        copies: mounts.copiesOf(shelf.id),
        inside: insideOf(shelf.id, nestings, rows),
        bayDrive: drives.find((drive) => drive.name === (root ? basename(root) : shelf.name))?.name ?? null,
      };
    });
  },
};

function insideOf(shelfId: string, nestings: readonly Nesting[], rows: ReadonlyMap<string, { readonly name: string }>): ShelfView['inside'] {
  const nesting = nestings.find(({ inner }) => inner === shelfId);
  return nesting ? { shelf: rows.get(nesting.outer)?.name ?? '', path: nesting.path } : null;
}

/** Where every shelf stands, as one text: another one whenever a drive comes or goes. `anew`: looked for at once. */
const drives: QuestionOf<{ readonly anew: boolean }, string> = {
  lane: 'disks',
  answer({ catalogue, mounts }, { anew }) {
    if (anew) mounts.lookAgain();
    return catalogue.shelves
      .list()
      .map(({ id }) => `${id} ${mounts.rootOf(id) ?? ''} ${mounts.copiesOf(id).join(' ')}`)
      .join('\n');
  },
};

/** Folders of an attached shelf, for choosing one. */
const shelfFolders: QuestionOf<{ readonly shelfId: string; readonly path: string }, FolderView> = {
  lane: 'disks',
  answer({ mounts }, { shelfId, path }) {
    const folder = mounts.resolve({ shelfId, path });
    return {
      path,
      parent: path === '' ? null : path.split('/').slice(0, -1).join('/'),
      folders: foldersIn(mounts, folder, (name) => joinPath(path, name)),
    };
  },
};

/** Folders of this machine in which a shelf may be registered; the allowed roots where none is named. */
const folders: QuestionOf<{ readonly path: string | null }, FolderView> = {
  lane: 'disks',
  answer({ mounts }, { path: asked }) {
    const { roots } = mounts;
    if (!asked)
      return { path: null, parent: null, folders: roots.filter((root) => existsSync(root)).map((root) => folderEntry(mounts, root, root, root)) };
    const path = resolve(asked);
    if (mounts.isSilent(path)) throw new Problem('unplugged', `${path} does not answer.`, 'Look at the drive, then try again.');
    if (!mounts.isAllowed(path))
      throw new Problem('not-allowed', `${path} lies outside the folders this server may use.`, 'Start it with --roots to allow more.');
    return {
      path,
      parent: roots.includes(path) ? '' : dirname(path),
      folders: foldersIn(mounts, path, (name) => join(path, name)),
    };
  },
};

/** A folder that whoever touches it waits for, for ever, is left out. */
function foldersIn(mounts: Mounts, folder: string, pathOf: (name: string) => string): FolderView['folders'] {
  if (!statSync(folder, { throwIfNoEntry: false })?.isDirectory()) throw notFound('folder');
  return readdirSync(folder, { withFileTypes: true })
    .filter((entry) => entry.isDirectory() && !entry.name.startsWith('.') && !mounts.isSilent(join(folder, entry.name)))
    .map(({ name }) => touching(join(folder, name), () => folderEntry(mounts, join(folder, name), pathOf(name), name)))
    .sort((a, b) => byName(a.name, b.name));
}

function folderEntry(mounts: Mounts, absolute: string, path: string, name: string): FolderView['folders'][number] {
  return { path, name, shelfId: mounts.shelfAt(absolute), isCrate: archiveAt((mark) => existsSync(join(absolute, mark))) !== undefined };
}

/** A folder becomes a shelf: in the thread that touches drives. */
const addShelf: QuestionOf<NewShelf, { readonly id: string; readonly name: string }> = {
  lane: 'disks',
  changes: true,
  answer({ catalogue, mounts }, { path, name, kind, ownIdentity }) {
    if (mounts.isSilent(resolve(path))) throw new Problem('unplugged', `${path} does not answer.`, 'Look at the drive, then try again.');
    const { id, name: own } = touching(resolve(path), () => registerShelf(catalogue, mounts, path, name, ownIdentity, kind));
    return { id, name: own };
  },
};

/** What of this machine may hold media and is not on the list yet, and where it was looked for. */
const seen: QuestionOf<object, { readonly roots: readonly string[]; readonly places: readonly SeenPlace[] }> = {
  lane: 'disks',
  answer({ catalogue, mounts }) {
    const taken = attachedRoots(mounts, catalogue.shelves.list().map(({ id }) => id)).map(({ root }) => realpathSync(root)); // prettier-ignore
    const roots = mounts.roots.filter((root) => mounts.isSilent(root) || existsSync(root));
    return { roots, places: seenPlaces({ roots, taken, cards: catalogue.cardRules.cards(), isSilent: (at) => mounts.isSilent(at) }) };
  },
};

export const diskQuestions = { shelves, 'seen-places': seen, drives, 'add-shelf': addShelf, 'shelf-folders': shelfFolders, folders };
