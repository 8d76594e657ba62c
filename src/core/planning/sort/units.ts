/** What moves together: a file with its sidecars, the parts of a take, a sequence, a camera card, a folder kept whole. */
import { isWithin } from '../../naming/within';
import { cameraOf } from '../../project/clip-names';
import { type Cards } from '../../media/card';
import type { FileIdentity } from '../../media/identity';
import { fileName, folderOf, placeKey, type Item, type Place } from '../../media/item';
import { sidecarsAmong } from '../../media/sidecars';
import { byName } from '../../naming/by-name';
import type { SortFacts } from '../../scheme/rule';
import type { SortInput } from './sort-input';

export interface Member {
  /** Null for a file the stock does not list. */
  readonly item: Item | null;
  readonly place: Place;
  readonly sizeBytes: number;
  readonly identity: FileIdentity | null;
  /** A sidecar of the media before it: it moves along and gets the same name. */
  readonly isSidecar?: true;
}

export interface Unit {
  /** Id of its item or folder: equal at every plan. */
  readonly id: string;
  readonly kind: 'file' | 'take' | 'sequence' | 'card' | 'folder';
  readonly lead: Item;
  /** The lead first; sidecars behind their master. */
  readonly members: readonly Member[];
  /** The folder that stays whole; null for other units. */
  readonly root: Place | null;
}

export function unitBytes(unit: Unit): number {
  return unit.members.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0);
}

/** Frames count as files. */
export function unitFiles(unit: Unit, frames: SortInput['frames']): number {
  return unit.members.reduce((sum, { item }) => sum + (item?.facts.sequence ? (frames.get(item.id)?.length ?? 1) : 1), 0);
}

/**
 * Units in the order of their paths; those that hold nothing of what was chosen are left out. `marked`: folders that the
 * user wants to stay whole.
 */
export function unitsOf(input: Pick<SortInput, 'items' | 'chosen' | 'extras' | 'takes' | 'uses' | 'cards'>, marked: readonly Place[]): Unit[] {
  const whole = undividedFolders(input.items, marked, input.cards);
  const units: Unit[] = [];
  const loose: Item[] = [];
  const byRoot = new Map<UndividedFolder, Member[]>();
  const enter = (member: Member): boolean => {
    const folder = undividedAround(member.place, whole);
    if (!folder) return false;
    const own = byRoot.get(folder);
    if (own) own.push(member);
    else byRoot.set(folder, [member]);
    return true;
  };
  for (const item of input.items) if (!enter(memberOf(item))) loose.push(item);
  for (const { place, identity } of input.extras) enter({ item: null, place, sizeBytes: identity.sizeBytes, identity });
  for (const [{ place: root, kind }, members] of byRoot) {
    const lead = leadOf(members.flatMap(({ item }) => (item ? [item] : [])));
    if (lead) units.push({ id: `whole ${root.shelfId} ${root.path}`, kind, lead, members, root });
  }
  return [...units, ...looseUnits(loose, input)]
    .filter(({ members }) => members.some(({ item }) => item !== null && input.chosen.has(item.id)))
    .sort((a, b) => byShelfAndPath(a.lead.place, b.lead.place));
}

function byShelfAndPath(a: Place, b: Place): number {
  return a.shelfId === b.shelfId ? byName(a.path, b.path) || (a.path < b.path ? -1 : 1) : a.shelfId < b.shelfId ? -1 : 1;
}

function memberOf(item: Item): Member {
  return { item, place: item.place, sizeBytes: item.sizeBytes, identity: item.identity };
}

export interface UndividedFolder {
  readonly place: Place;
  readonly kind: 'card' | 'folder';
}

/** Folders that may have to stay whole around these items: what lies in them must be known to tell. */
export function mayBeUndivided(items: readonly Item[], marked: readonly Place[], cards: Cards): Place[] {
  const out = new Map<string, Place>();
  for (const { place } of items) {
    const card = cards.around(place.path);
    const around = card
      ? { shelfId: place.shelfId, path: card.root === '' ? card.tree : card.root }
      : (marked.find((folder) => isIn(place, folder)) ?? null);
    if (around) out.set(placeKey(around), around);
  }
  return [...out.values()];
}

/**
 * Folders that stay whole, none in another. A card is the folder its tree stands in with all that lies beside the tree,
 * unless media lies beside it: then the tree alone is the card.
 */
export function undividedFolders(items: readonly Item[], marked: readonly Place[], cards: Cards): Map<string, UndividedFolder> {
  const trees = new Map<string, { root: Place; tree: Place }>();
  for (const { place } of items) {
    const card = cards.around(place.path);
    if (card) trees.set(placeKey({ ...place, path: card.tree }), { root: { ...place, path: card.root }, tree: { ...place, path: card.tree } });
  }
  const rootsWithTrees = new Map<string, string[]>();
  for (const { root, tree } of trees.values()) {
    const key = placeKey(root);
    rootsWithTrees.set(key, [...(rootsWithTrees.get(key) ?? []), tree.path]);
  }
  const mixed = new Set<string>();
  for (const { place, facts } of items) {
    if (facts.kind === 'other') continue;
    for (let path = folderOf(place.path); ; path = folderOf(path)) {
      const own = rootsWithTrees.get(placeKey({ ...place, path }));
      if (own && !own.some((tree) => isWithin(place.path, tree))) mixed.add(placeKey({ ...place, path }));
      if (path === '') break;
    }
  }
  const found: UndividedFolder[] = [...trees.values()].map(({ root, tree }) => ({
    kind: 'card',
    place: root.path === '' || mixed.has(placeKey(root)) ? tree : root,
  }));
  for (const place of marked) if (place.path !== '') found.push({ kind: 'folder', place });
  const out = new Map<string, UndividedFolder>();
  const sorted = found.sort((a, b) => a.place.path.length - b.place.path.length);
  for (const folder of sorted)
    if (!undividedAround({ ...folder.place, path: `${folder.place.path}/x` }, out)) out.set(placeKey(folder.place), folder);
  return out;
}

function isIn(place: Place, folder: Place): boolean {
  return place.shelfId === folder.shelfId && folder.path !== '' && isWithin(place.path, folder.path);
}

/** The folder kept whole that a file lies in. */
export function undividedAround(place: Place, whole: ReadonlyMap<string, UndividedFolder>): UndividedFolder | null {
  for (let path = folderOf(place.path); path !== ''; path = folderOf(path)) {
    const found = whole.get(placeKey({ ...place, path }));
    if (found) return found;
  }
  return null;
}

/** What a folder kept whole is judged by: its largest picture, else its largest file. */
function leadOf(items: readonly Item[]): Item | null {
  const rank = (item: Item) => (item.facts.kind === 'video' || item.facts.kind === 'sequence' ? 2 : item.facts.kind === 'other' ? 0 : 1);
  return items.reduce<Item | null>(
    (best, item) => (!best || rank(item) > rank(best) || (rank(item) === rank(best) && item.sizeBytes > best.sizeBytes) ? item : best),
    null,
  );
}

function looseUnits(items: readonly Item[], { takes, uses }: Pick<SortInput, 'takes' | 'uses'>): Unit[] {
  const byId = new Map(items.map((item) => [item.id, item]));
  const masterOf = sidecarsAmong(items, (place) => uses.has(placeKey(place)));
  const ofMaster = new Map<string, Item[]>();
  for (const [id, master] of masterOf) {
    const own = ofMaster.get(master);
    if (own) own.push(byId.get(id)!);
    else ofMaster.set(master, [byId.get(id)!]);
  }
  const withSidecars = (item: Item): Member[] => [
    memberOf(item),
    ...(ofMaster.get(item.id) ?? []).map((own): Member => ({ ...memberOf(own), isSidecar: true })),
  ];
  const taken = new Set<string>(masterOf.keys());
  const units: Unit[] = [];
  for (const take of takes) {
    const parts = take.flatMap((id) => (byId.has(id) && !taken.has(id) ? [byId.get(id)!] : []));
    if (parts.length < 2) continue;
    parts.forEach(({ id }) => taken.add(id));
    units.push({ id: parts[0]!.id, kind: 'take', lead: parts[0]!, members: parts.flatMap(withSidecars), root: null });
  }
  for (const item of items) {
    if (taken.has(item.id)) continue;
    units.push({ id: item.id, kind: item.facts.sequence ? 'sequence' : 'file', lead: item, members: withSidecars(item), root: null });
  }
  return units;
}

/** Asked for again and again of the same file; a unit is of one input only. */
const known = new WeakMap<Unit, Map<string, SortFacts>>();

/** What rules and names go by. */
export function factsOf(unit: Unit, item: Item, input: Pick<SortInput, 'uses' | 'used' | 'days'>): SortFacts {
  const own = known.get(unit) ?? new Map<string, SortFacts>();
  if (own.size === 0) known.set(unit, own);
  const facts = own.get(item.id) ?? gatherFacts(unit, item, input);
  own.set(item.id, facts);
  return facts;
}

function gatherFacts(unit: Unit, item: Item, input: Pick<SortInput, 'uses' | 'used' | 'days'>): SortFacts {
  const { facts } = item;
  const reel = facts.reel ?? unit.lead.facts.reel ?? null;
  const places = unit.members.flatMap((member) => (member.item ? [placeKey(member.place)] : []));
  const clips = places.flatMap((key) => input.uses.get(key) ?? []);
  return {
    kind: facts.kind,
    codec: facts.video?.codec ?? facts.audio[0]?.codec ?? null,
    camera: cameraOf(facts.camera, reel),
    reel,
    scene: facts.scene ?? null,
    take: facts.take ?? null,
    day: input.days.get(item.id) ?? input.days.get(unit.lead.id) ?? null,
    clips: clips.map(({ name, bin, colour }) => ({ name, bin, colour })),
    used: places.some((key) => input.used.has(key)),
    name: fileName(item.place.path),
    original: item.originalName ?? fileName(item.place.path),
    shelfId: item.place.shelfId,
  };
}
