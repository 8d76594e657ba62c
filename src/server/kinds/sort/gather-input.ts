/** What a sort is planned from: the stock, the project, and what stands on the disks where files go. */
import { readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { frameName, presentNumbers } from '../../../core/media/image-sequence';
import { below, folderOf, joinPath, placeKey, type Item, type Place } from '../../../core/media/item';
import type { ShelfSnapshot } from '../../../core/planning/plan/snapshot';
import type { ExtraFile, SortInput } from '../../../core/planning/sort/sort-input';
import type { SortScope, SortSettings } from '../../../core/planning/sort/settings';
import { proofKey } from '../../../core/planning/sort/proof-key';
import { rootFolder } from '../../../core/planning/sort/target-folder';
import { mayBeWhole, wholeAround, wholeFolders } from '../../../core/planning/sort/units';
import type { Catalogue } from '../../catalogue/catalogue';
import { localDay } from '../../local-day';
import { identifySync } from '../../stock/identify';
import { MARKER_NAME } from '../../stock/marker';
import type { Mounts } from '../../stock/mounts';
import { isOfAnother, PART_SUFFIX } from '../../runs/part-name';
import { PlanRequestError } from '../kind';
import { NO_WISH } from '../../../core/project/reading';
import { attachedIn, itemsRead, readingWish } from '../../projects/reading';
import { foldPath } from '../../../core/naming/fold-path';
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
  const { items, chosen } = itemsOf(project, settings, house);
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
    extras: extrasOf(items, settings.whole, mounts, isAttached),
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
    light: catalogue.sort.linkedAsLight(),
    ...standingItems(settings, project, catalogue),
    sealed: catalogue.sort.crates(),
    open: openFiles(
      items.map(({ place }) => place).filter(({ shelfId }) => isAttached.has(shelfId)),
      mounts,
    ),
    volumes: new Map(shelves.flatMap(({ id }) => volumeOf(mounts.rootOf(id)).map((device): [string, string] => [id, device]))),
    others: catalogue.sort.linkedByOthers(project.id),
  };
}

function volumeOf(root: string | null): string[] {
  try {
    return root === null ? [] : [String(statSync(root).dev)];
  } catch {
    return [];
  }
}

/** What is sorted, and what must stay with it. */
function itemsOf(project: OfProject, { scope, whole }: SortSettings, { catalogue, shelves }: House): Pick<SortInput, 'items' | 'chosen'> {
  if (scope.of === 'folder' && !shelves.some(({ id }) => id === scope.place.shelfId))
    throw new PlanRequestError('The shelf is not on the list any more.');
  const chosen = chosenItems(project, scope, shelves, catalogue);
  const found = new Map(chosen.map((item) => [item.id, item]));
  const add = (items: readonly Item[]) => items.forEach((item) => found.set(item.id, item));
  for (const folder of mayBeWhole(chosen, whole)) add(catalogue.sort.itemsBelow(folder));
  const folders = new Map(chosen.map(({ place }) => ({ ...place, path: folderOf(place.path) })).map((place) => [placeKey(place), place]));
  if (scope.of !== 'folder') add(catalogue.sort.papersIn([...folders.values()]));
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

/** Files in folders kept whole that the stock does not list: hidden ones go along. */
function extrasOf(items: readonly Item[], whole: readonly Place[], mounts: Mounts, isAttached: ReadonlySet<string>): ExtraFile[] {
  const folders = wholeFolders(items, whole);
  const roots = new Map<string, Place>();
  const known = new Set<string>();
  for (const { place, facts } of items) {
    const root = wholeAround(place, folders)?.place;
    if (!root || !isAttached.has(root.shelfId)) continue;
    roots.set(placeKey(root), root);
    const home = folderOf(place.path);
    if (facts.sequence)
      for (const number of presentNumbers(facts.sequence)) known.add(placeKey({ ...place, path: joinPath(home, frameName(facts.sequence, number)) }));
    else known.add(placeKey(place));
  }
  return [...roots.values()].flatMap((root) =>
    filesBelow(mounts.resolve(root)).flatMap((path): ExtraFile[] => {
      const place = below(root, path);
      if (known.has(placeKey(place))) return [];
      try {
        return [{ place, identity: identifySync(mounts.resolve(place)) }];
      } catch {
        // It went meanwhile, or leads out of the shelf.
        return [];
      }
    }),
  );
}

/** Plain files below a folder by their paths in it; what is the application's own is none. */
function filesBelow(top: string, path = ''): string[] {
  return readdirSync(join(top, path), { withFileTypes: true }).flatMap((entry) => {
    const own = joinPath(path, entry.name);
    if (entry.isDirectory()) return filesBelow(top, own);
    return entry.isFile() && entry.name !== MARKER_NAME && !entry.name.endsWith(PART_SUFFIX) ? [own] : [];
  });
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
