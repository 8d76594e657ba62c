/** What a sort is planned from: the stock, the project, and what stands on the disks where files go. */
import { isWithin } from '../../../core/naming/within';
import { readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { frameName, presentNumbers } from '../../../core/media/image-sequence';
import { below, folderOf, joinPath, placeKey, type Item, type Place } from '../../../core/media/item';
import { notHeldBy } from '../../../core/media/file-system';
import type { ShelfSnapshot } from '../../../core/planning/plan/snapshot';
import { type Cards } from '../../../core/media/card';
import type { ExtraFile, Papers, SortInput, UndividedTrouble } from '../../../core/planning/sort/sort-input';
import type { SortScope, SortSettings } from '../../../core/planning/sort/settings';
import { proofKey } from '../../../core/planning/sort/proof-key';
import { rootFolder } from '../../../core/planning/sort/target-folder';
import { mayBeUndivided, undividedAround, undividedFolders, type UndividedFolder } from '../../../core/planning/sort/units';
import type { Catalogue } from '../../catalogue/catalogue';
import { localDay } from '../../../core/time/local-day';
import { identifySync } from '../../stock/identify';
import type { Mounts } from '../../stock/mounts';
import { isOfAnother } from '../../stock/part-name';
import { PlanRequestError } from '../../errors/problem';
import { NO_WISH } from '../../../core/project/reading';
import { attachedIn, itemsRead, readingWish } from '../../projects/reading';
import { byName } from '../../../core/naming/by-name';
import { foldPath } from '../../../core/naming/fold-path';
import { nestingsAmong } from '../../stock/nested-shelves';
import { isInCardTree } from '../../stock/card-around';
import { fileSystemOf } from '../../stock/mount-table';
import { allBelow } from '../../stock/all-below';
import { otherHouses, readsIn } from '../../stock/house-notes';
import { openFiles } from './open-files';

type OfProject = { readonly id: string; readonly name: string };

interface House {
  readonly catalogue: Catalogue;
  readonly mounts: Mounts;
  readonly shelves: readonly ShelfSnapshot[];
}

/** Everything of the catalogue as of one moment. Throws PlanRequestError. */
export function gatherInput(project: { readonly id: string; readonly name: string }, settings: SortSettings, house: House): SortInput {
  const { catalogue, shelves, mounts } = house;
  const cards = catalogue.cardRules.cards();
  const { items, chosen } = itemsOf(project, settings, house, cards);
  const uses = catalogue.sort.uses(project.id);
  const usedClips = catalogue.timelines.clipsOn(project.id);
  const byPlace = new Map(items.map((item) => [placeKey(item.place), item.id]));
  const here = standingAt(settings.destination, settings, project, house);
  const there = settings.action === 'copy' ? standingAt(settings.second, settings, project, house) : NOTHING_STANDS;
  const isAttached = new Set(shelves.filter(({ attached }) => attached).map(({ id }) => id));
  return {
    project,
    shelves,
    items,
    chosen,
    ...extrasOf(items, undividedFolders(items, settings.whole, cards), mounts, isAttached),
    papers: settings.action === 'move' && settings.scope.of !== 'folder' ? papersLeft(items, project, settings, catalogue) : [],
    uses,
    used: new Set([...uses].filter(([, clips]) => clips.some(({ clipId }) => usedClips.has(clipId))).map(([key]) => key)),
    takes: catalogue.sort
      .takes(project.id)
      .map((places) => [...new Set(places.flatMap((place) => byPlace.get(placeKey(place)) ?? []))])
      .filter((ids) => ids.length > 1),
    days: new Map(items.map((item) => [item.id, item.facts.recordedOn ?? localDay(new Date(item.modifiedMs))])),
    frames: catalogue.items.framesOf(items.filter(({ facts }) => facts.sequence !== null).map(({ id }) => id)),
    standing: here.standing,
    standingSecond: there.standing.map((path) =>
      joinPath(settings.destination?.path ?? '', path.slice(settings.second?.path ? settings.second.path.length + 1 : 0)),
    ),
    otherWriter: here.otherWriter ?? there.otherWriter,
    ...(settings.action === 'move' ? { readElsewhere: readElsewhere(items, mounts, catalogue) } : {}),
    copiesOnly: catalogue.sort.linkedAsCopiesOnly(),
    ...standingItems(settings, project, catalogue),
    cards,
    onCard: new Set([settings.destination, settings.action === 'copy' ? settings.second : null].flatMap((place) => (place && isOnCard(place, settings, project, mounts, cards) ? [place.shelfId] : []))), // prettier-ignore
    notHeld: new Map([settings.destination, settings.action === 'copy' ? settings.second : null].flatMap((place) => notHeldAt(place, mounts))),
    sealed: catalogue.sort.crates(),
    nested: nestingsAmong(mounts, shelves.map(({ id }) => id)), // prettier-ignore
    open: openFiles(
      items.map(({ place }) => place).filter(({ shelfId }) => isAttached.has(shelfId)),
      mounts,
    ),
    volumes: new Map(shelves.flatMap(({ id }) => [mounts.volumeOf(id)].flatMap((own): [string, string][] => (own === null ? [] : [[id, own]])))),
    others: catalogue.sort.linkedByOthers(project.id),
  };
}

/** Other houses that read where these lie. */
function readElsewhere(items: readonly Item[], mounts: Mounts, catalogue: Catalogue): string[] {
  const folders = new Map<string, Set<string>>();
  for (const { place } of items) folders.set(place.shelfId, (folders.get(place.shelfId) ?? new Set()).add(folderOf(place.path)));
  const found = [...folders].flatMap(([shelfId, own]) => {
    const root = mounts.rootOf(shelfId);
    const houses = root === null ? [] : otherHouses(root, catalogue.id);
    return houses.filter((note) => [...own].some((folder) => readsIn(note, folder))).map(({ name }) => name);
  });
  return [...new Set(found)];
}

function isOnCard(destination: Place, settings: SortSettings, project: OfProject, mounts: Mounts, cards: Cards): boolean {
  const root = mounts.rootOf(destination.shelfId);
  return root !== null && isInCardTree(root, joinPath(destination.path, rootFolder({ project }, settings)), cards);
}

/** In the topmost folders that all media leaves; the project's own at the destination is where papers belong. */
function papersLeft(items: readonly Item[], project: OfProject, settings: SortSettings, catalogue: Catalogue): Papers[] {
  const own = settings.destination && below(settings.destination, rootFolder({ project }, settings));
  const apart = new Set(items.map(({ id }) => id));
  const tops = new Map(
    items.flatMap(({ place: { shelfId, path } }) => {
      const cut = path.indexOf('/');
      const top = { shelfId, path: path.slice(0, cut) };
      const isHome = own?.shelfId === shelfId && isWithin(own.path, top.path);
      return cut < 0 || isHome ? [] : [[placeKey(top), top] as const];
    }),
  );
  return [...tops.values()].flatMap((folder): Papers[] => {
    const paths = catalogue.sort.papersBelow(folder, apart);
    return paths && paths.length > 0 ? [{ folder, paths: [...paths].sort(byName) }] : [];
  });
}

function notHeldAt(destination: Place | null, mounts: Mounts): [string, string][] {
  const root = destination && mounts.rootOf(destination.shelfId);
  const words = root ? notHeldBy(fileSystemOf(root) ?? '') : null;
  return words === null ? [] : [[destination!.shelfId, words]];
}

/** What is sorted, and what must stay with it. */
function itemsOf(
  project: OfProject,
  { scope, whole }: SortSettings,
  { catalogue, shelves }: House,
  cards: Cards,
): Pick<SortInput, 'items' | 'chosen'> {
  if (scope.of === 'folder' && !shelves.some(({ id }) => id === scope.place.shelfId))
    throw new PlanRequestError('The shelf is not on the list any more.');
  const chosen = chosenItems(project, scope, shelves, catalogue);
  const found = new Map(chosen.map((item) => [item.id, item]));
  const add = (items: readonly Item[]) => items.forEach((item) => found.set(item.id, item));
  for (const folder of mayBeUndivided(chosen, whole, cards)) add(catalogue.sort.itemsBelow(folder));
  if (scope.of !== 'folder') add(catalogue.sort.beside(chosen));
  return { items: [...found.values()], chosen: new Set(chosen.map(({ id }) => id)) };
}

function chosenItems(project: OfProject, scope: SortScope, shelves: House['shelves'], catalogue: Catalogue): Item[] {
  if (scope.of === 'folder') return catalogue.sort.itemsBelow(scope.place);
  const row = catalogue.projects.get(project.id);
  // Of a file and its copies the one that is read: what the project has in its own folder is not gathered again.
  const read = (only: readonly string[] | null) => itemsRead(catalogue, project.id, row ? readingWish(catalogue, row) : NO_WISH, attachedIn(shelves), only); // prettier-ignore
  if (scope.of === 'project') return read(null);
  if (scope.of === 'clips') return read(scope.clipIds);
  const clips = scope.timelineIds.flatMap((id) => {
    if (!catalogue.timelines.isOf(project.id, id))
      throw new PlanRequestError('One of the timelines is not in this project any more. Choose among those that are.');
    return catalogue.timelines.eventClips(id).clipIds.filter((clipId) => clipId !== null);
  });
  return read([...new Set(clips)]);
}

/** What lies in folders kept whole and is not in the stock: hidden files and empty folders go along, what cannot is told. */
function extrasOf(
  items: readonly Item[],
  folders: ReadonlyMap<string, UndividedFolder>,
  mounts: Mounts,
  isAttached: ReadonlySet<string>,
): Pick<SortInput, 'extras' | 'hollow' | 'cannotGo'> {
  const roots = new Map<string, Place>();
  const known = new Set<string>();
  for (const { place, facts } of items) {
    const root = undividedAround(place, folders)?.place;
    if (!root || !isAttached.has(root.shelfId)) continue;
    roots.set(placeKey(root), root);
    const home = folderOf(place.path);
    if (facts.sequence)
      for (const number of presentNumbers(facts.sequence)) known.add(placeKey({ ...place, path: joinPath(home, frameName(facts.sequence, number)) }));
    else known.add(placeKey(place));
  }
  const extras: ExtraFile[] = [];
  const hollow: Place[] = [];
  const cannotGo: UndividedTrouble[] = [];
  for (const root of roots.values()) {
    const found = allBelow(mounts.resolve(root));
    hollow.push(...found.hollow.map((path) => below(root, path)));
    cannotGo.push(...found.cannotGo.map(({ path, why }) => ({ place: below(root, path), root, why })));
    for (const path of found.files) {
      const place = below(root, path);
      if (known.has(placeKey(place))) continue;
      try {
        extras.push({ place, identity: identifySync(mounts.resolve(place)) });
      } catch {
        // It went meanwhile, or leads out of the shelf.
      }
    }
  }
  return { extras, hollow, cannotGo };
}

interface Standing {
  readonly standing: readonly string[];
  readonly otherWriter: Place | null;
}

const NOTHING_STANDS: Standing = { standing: [], otherWriter: null };

/** Everything that stands in the project's own folder at a destination, folders too. */
function standingAt(
  destination: Place | null,
  settings: SortSettings,
  project: { readonly id: string; readonly name: string },
  { mounts, catalogue }: House,
): Standing {
  const own = rootFolder({ project }, settings);
  if (!destination || own === '' || mounts.rootOf(destination.shelfId) === null) return NOTHING_STANDS;
  const root = below(destination, own);
  let otherWriter: Place | null = null;
  const visit = (absolute: string, path: string): string[] =>
    readdirSync(absolute, { withFileTypes: true }).flatMap((entry) => {
      const inside = joinPath(path, entry.name);
      if (isOfAnother(entry.name, catalogue.id) && isFresh(join(absolute, entry.name))) otherWriter ??= { ...root, path };
      return entry.isDirectory() ? [inside, ...visit(join(absolute, entry.name), inside)] : [inside];
    });
  try {
    const standing = [root.path, ...visit(mounts.resolve(root), root.path)];
    return { standing, otherWriter };
  } catch (error) {
    if (['ENOENT', 'ENOTDIR'].includes((error as NodeJS.ErrnoException).code ?? '')) return NOTHING_STANDS;
    throw error;
  }
}

/** Half-made files grow: one that has rested for long was left by a crash. */
const FRESH_MS = 10 * 60_000;

function isFresh(path: string): boolean {
  const info = statSync(path, { throwIfNoEntry: false });
  return info !== undefined && Date.now() - info.mtimeMs < FRESH_MS;
}

/** What stands in the project's own folder: what is proven to be there, and what bears which name. */
function standingItems(settings: SortSettings, project: OfProject, catalogue: Catalogue): Pick<SortInput, 'copied' | 'named'> {
  const { destination, action } = settings;
  const own = rootFolder({ project }, settings);
  if (!destination || action !== 'copy' || own === '') return { copied: new Map(), named: new Map() };
  const items = catalogue.sort.itemsBelow(below(destination, own));
  return {
    copied: new Map(items.flatMap((item) => (proofKey(item) === '' ? [] : [[proofKey(item), item.place] as const]))),
    named: new Map(items.map((item) => [foldPath(item.place.path), item])),
  };
}
