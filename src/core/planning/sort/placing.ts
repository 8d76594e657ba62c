/** Where every unit goes, under which name: no two meet, what is in its place stays there. */
import { isWithin } from '../../naming/within';
import { trimEndOf } from '../../naming/trim-end';
import { type Cards } from '../../media/card';
import { comparePrints } from '../../media/fingerprint';
import { fileName, folderOf, joinPath, placeKey, samePlace, type Item, type Place, type SequenceFacts } from '../../media/item';
import { KIND_TRAITS } from '../../media/shelf-kind';
import { sequenceName } from '../../media/image-sequence';
import { foldPath } from '../../naming/fold-path';
import { safeName, whyRenamed } from '../../naming/name-level';
import { fittingName } from '../../naming/safe-name';
import type { SortSettings } from './settings';
import type { SortInput } from './sort-input';
import { renamedSequence, safeTail, wantedName, type WantedName } from './new-name';
import { TargetFolders, type Target } from './target-folder';
import { proofKey } from './proof-key';
import { secondPlace } from './second-copy';
import { factsOf, type Member, type Unit } from './units';

/** Why what an earlier sort copied is not copied again. */
export const COPIED_BEFORE = 'copied here before';

/** One file of a unit, or the frames of a sequence. */
export interface Placed {
  readonly member: Member;
  /** Path of the file below the shelf, or of the folder of the frames. */
  readonly from: string;
  readonly to: string;
  readonly sequence: SequenceFacts | null;
  /** A file that looks the same stands there under that name: it is compared, and left where it is equal. */
  readonly orEqual?: true;
}

export interface Placement {
  readonly unit: Unit;
  readonly target: Target;
  /** The folder it ends in: the target, or a numbered one in it. Below the destination shelf. */
  readonly folder: string;
  readonly files: readonly Placed[];
  /** Empty folders of a folder kept whole: where they are, and their paths then. */
  readonly folders?: readonly { readonly from: Place; readonly to: string }[];
  /** Why the name of its lead is another; none where it stays. */
  readonly renamed: readonly string[];
  /** Why it stays where it is; null where it goes. */
  readonly stays: string | null;
  /** The first file of equal content, which stands for it; see equalAsOne. */
  readonly equalTo: Item | null;
}

/** Names that are spoken for, as systems compare them that fold case. */
class Spoken {
  private readonly taken: Set<string>;
  private readonly numbers = new Map<string, number>();

  constructor(standing: Iterable<string>) {
    this.taken = new Set([...standing].map(foldPath));
  }

  has(path: string): boolean {
    return this.taken.has(foldPath(path));
  }

  add(path: string): void {
    this.taken.add(foldPath(path));
  }

  free(path: string): void {
    this.taken.delete(foldPath(path));
  }

  /** The number after the last one that was given for these names. */
  next(key: string): number {
    return (this.numbers.get(foldPath(key)) ?? 0) + 1;
  }

  gave(key: string, number: number): void {
    this.numbers.set(foldPath(key), number);
  }
}

export function placeUnits(units: readonly Unit[], input: SortInput, settings: SortSettings): Placement[] {
  const destination = settings.destination;
  const folders = new TargetFolders(input, settings);
  const placing = new Placing(input, settings, folders, destination);
  return placing.all(units);
}

interface Aim {
  readonly unit: Unit;
  readonly target: Target;
  readonly folder: string;
  readonly stays: string | null;
  readonly equalTo: Item | null;
}

class Placing {
  private readonly spoken: Spoken;
  /** Files that each folder holds, and the numbered folders in it. */
  private readonly fill = new Map<string, number>();
  /** Paths where what stands is compared with a file. */
  private readonly looked = new Set<string>();

  constructor(
    private readonly input: SortInput,
    private readonly settings: SortSettings,
    private readonly folders: TargetFolders,
    private readonly destination: Place | null,
  ) {
    this.spoken = new Spoken([...input.standing, ...input.standingSecond]);
  }

  all(units: readonly Unit[]): Placement[] {
    const first = this.firstOfEqual(units);
    const aims = units.map((unit): Aim => {
      const target = this.folders.of(unit);
      const folder = joinPath(this.destination?.path ?? '', target.path);
      const stays = this.whyStays(unit);
      return { unit, target, folder, stays, equalTo: stays === null ? this.equalTo(unit, first) : null };
    });
    // What moves away leaves its name free, what stays keeps it.
    const going = aims.filter(({ stays, equalTo }) => stays === null && equalTo === null);
    for (const { unit } of going) for (const path of this.ownPaths(unit)) this.spoken.free(path);
    const placed = new Map<string, Placement>();
    // What the timelines use keeps its plain name, whoever else has it.
    const isUsed = ({ unit }: Aim) => unit.members.some(({ place }) => this.input.used.has(placeKey(place)));
    // Repeated until nothing changes: a unit that turns out to be in its place keeps its name, and others must avoid it.
    let rest: readonly Aim[] = going;
    for (let found = true; found;) {
      const left = rest.filter((aim) => {
        const there = this.inPlace(aim);
        if (there) placed.set(aim.unit.id, there);
        return !there;
      });
      found = left.length < rest.length;
      rest = left;
    }
    for (const aim of [...rest.filter(isUsed), ...rest.filter((own) => !isUsed(own))]) placed.set(aim.unit.id, this.place(aim));
    return aims.map(({ unit, target, folder, stays, equalTo }) => placed.get(unit.id) ?? { unit, target, folder, files: [], renamed: [], stays: stays ?? 'equal to another', equalTo }); // prettier-ignore
  }

  private isOnDestination(place: Place): boolean {
    return this.destination !== null && place.shelfId === this.destination.shelfId;
  }

  private ownPaths(unit: Unit): string[] {
    return unit.members.filter(({ place }) => this.isOnDestination(place)).flatMap((member) => framePaths(member));
  }

  private whyStays({ members, root, lead }: Unit): string | null {
    const shelf = this.input.shelves.find(({ id }) => id === lead.place.shelfId);
    if (!shelf?.attached) return `${shelf?.name ?? 'its shelf'} is not plugged in`;
    for (const { place, name } of this.input.sealed) {
      const inside = members.some((member) => member.place.shelfId === place.shelfId && isWithin(member.place.path, place.path));
      if (inside) return `part of the crate ${name}`;
    }
    if (this.settings.action === 'move' && !shelf.writable) return `${shelf.name} is read-only`;
    const { called, letsGo } = KIND_TRAITS[shelf.kind ?? 'working'];
    if (this.settings.action === 'move' && !letsGo) return `${shelf.name} is ${called}: copy in place of moving`;
    if (root && this.roots().some((own) => root.shelfId === own.shelfId && isWithin(own.path, root.path))) return 'the destination lies in it';
    if (this.input.copiesOnly.has(placeKey(lead.place))) return 'sorting moves sources and finished pictures only';
    if (this.isCopied(members)) return COPIED_BEFORE;
    const lost = members.find(({ item }) => item?.facts.sequence && !this.input.frames.get(item.id));
    return lost ? 'its frames are not known: look for changes on its shelf' : null;
  }

  /** The project's own folder, at each destination. */
  private roots(): Place[] {
    if (!this.destination) return [];
    const own = { shelfId: this.destination.shelfId, path: joinPath(this.destination.path, this.folders.root) };
    const second = secondPlace(own.path, this.settings);
    return second ? [own, second] : [own];
  }

  /** Whether all of it was proven to stand in the project's own folder already. */
  private isCopied(members: readonly Member[]): boolean {
    const [own] = this.roots();
    if (this.settings.action !== 'copy' || !own) return false;
    const items = members.flatMap(({ item }) => item ?? []);
    const isInside = ({ place }: Item) => place.shelfId === own.shelfId && isWithin(place.path, own.path);
    return items.length > 0 && items.every((item) => !isInside(item) && this.input.copied.has(proofKey(item)));
  }

  /** By content the unit that stands for all that are equal to it: one that is used, else the first. */
  private firstOfEqual(units: readonly Unit[]): Map<string, Item> {
    const first = new Map<string, Item>();
    const mayStand = units.filter((unit) => isAlone(unit) && proofKey(unit.lead) !== '' && this.whyStays(unit) === null);
    const isUsed = ({ lead }: Unit) => this.input.used.has(placeKey(lead.place));
    for (const { lead } of [...mayStand.filter(isUsed), ...mayStand]) if (!first.has(proofKey(lead))) first.set(proofKey(lead), lead);
    return first;
  }

  /** Another unit of the same content, where every byte was read and the user wants one for all. */
  private equalTo(unit: Unit, first: ReadonlyMap<string, Item>): Item | null {
    if (!this.settings.equalAsOne || !isAlone(unit)) return null;
    const known = first.get(proofKey(unit.lead));
    return known && known.id !== unit.lead.id ? known : null;
  }

  /** What lies in its folder under a name that fits stays there, numbers and all. */
  private inPlace({ unit, target, folder }: Aim): Placement | null {
    if (!unit.members.every(({ place }) => this.isOnDestination(place))) return null;
    if (isBareTree(unit, this.input.cards)) return null;
    const now = unit.root ? folderOf(unit.root.path) : homeOf(unit);
    const rolls = this.settings.perFolder !== null;
    const own = rolls ? (folderOf(now) === folder && /^\d{3,}$/.test(fileName(now)) ? now : null) : now === folder ? folder : null;
    if (own === null) return null;
    if (unit.root === null && !groupsOf(unit).every((group) => this.namesFit(unit, group, own))) return null;
    if (unit.root && safeName(fileName(unit.root.path), this.settings.names.level) !== fileName(unit.root.path)) return null;
    const count = (this.fill.get(own) ?? 0) + unit.members.length;
    if (rolls && count > this.settings.perFolder && this.fill.has(own)) return null;
    if (this.ownPaths(unit).some((path) => this.spoken.has(path))) return null;
    for (const path of this.ownPaths(unit)) this.spoken.add(path);
    if (unit.root) this.spoken.add(unit.root.path);
    this.fill.set(own, count);
    return { unit, target, folder: own, files: [], renamed: [], stays: 'in its place', equalTo: null };
  }

  /** Whether media with its sidecars bear the names they would get, or these set apart from others that have them. */
  private namesFit(unit: Unit, [master, ...papers]: readonly Member[], folder: string): boolean {
    const { item, place } = master!;
    const wanted = wantedName(unit, item!, this.input, this.settings);
    if (item!.facts.sequence)
      return this.numberFits([fileName(folderOf(place.path))], (number) => [this.homeAt(wanted, number)], wanted.isNumbered, folder);
    const names = this.namesAt(unit, master!, papers, wanted);
    const have = [place, ...papers.map((paper) => paper.place)].map(({ path }) => fileName(path));
    return this.numberFits(have, names, wanted.isNumbered, folder);
  }

  /** Whether the names are those of number one, or of another where those are taken. */
  private numberFits(have: readonly string[], names: (number: number) => readonly string[], isNumbered: boolean, folder: string): boolean {
    const isOf = (number: number) => names(number).every((name, index) => name === have[index]);
    if (isOf(1)) return true;
    const found = [...have[0]!.matchAll(/\d{1,9}/g)].map(([digits]) => Number(digits)).flatMap((number) => [number, number + 1]);
    if (![2, ...found].some((number) => number > 1 && isOf(number))) return false;
    return isNumbered || names(1).some((name) => this.spoken.has(joinPath(folder, name)));
  }

  private place(aim: Aim): Placement {
    const { unit, target } = aim;
    const folder = this.roomIn(aim.folder, unit.members.length);
    if (unit.root) return this.placeWhole(unit, unit.root, target, folder);
    const files: Placed[] = [];
    const renamed: string[] = [];
    for (const [master, ...papers] of groupsOf(unit)) {
      const wanted = wantedName(unit, master!.item!, this.input, this.settings);
      const own = master!.item!.facts.sequence
        ? this.placeSequence(master!, papers, folder, wanted)
        : this.placeNamed(unit, master!, papers, folder, wanted);
      files.push(...own);
      if (master === unit.members[0]) renamed.push(...this.whyNamed(master!, wanted, own[0]!));
    }
    return this.unlessInPlace({ unit, target, folder, files, renamed, stays: null, equalTo: null });
  }

  /** What would go where it is already is in its place. */
  private unlessInPlace(placement: Placement): Placement {
    const moves = placement.files.some(({ member, from, to, sequence }) => {
      const renames = sequence !== null && sequence.prefix !== member.item!.facts.sequence!.prefix;
      return from !== to || !this.isOnDestination(member.place) || renames;
    });
    return moves ? placement : { ...placement, files: [], folders: [], renamed: [], stays: 'in its place' };
  }

  /** Why the name of the lead is another than it was. */
  private whyNamed({ item, place }: Member, wanted: WantedName, { to, sequence }: Placed): string[] {
    const old = sequence ? item!.facts.sequence!.prefix : fileName(place.path);
    const now = sequence ? sequence.prefix : fileName(to);
    if (old === now) return [];
    const { from, level } = this.settings.names;
    const plain = sequence ? now : `${wanted.stem(1)}${safeTail(wanted.extension, level)}`;
    const apart = !wanted.isNumbered && now !== plain && !sequence ? ['another file has this name'] : [];
    const why = from === 'original' ? whyRenamed(old, plain) : from === 'clip' && this.input.uses.get(placeKey(place)) ? ['the name of its clip'] : from === 'pattern' ? ['the pattern'] : whyRenamed(old, plain); // prettier-ignore
    return [...why, ...apart];
  }

  /** A file with its sidecars: the name is free for all of them, or none gets it. */
  private placeNamed(unit: Unit, master: Member, papers: readonly Member[], folder: string, wanted: WantedName): Placed[] {
    const names = this.namesAt(unit, master, papers, wanted);
    const equal = papers.length === 0 ? this.looksThere(master, joinPath(folder, names(1)[0]!)) : null;
    if (equal !== null) return [{ member: master, from: master.place.path, to: equal, sequence: null, orEqual: true }];
    const paths = this.claim(folder, names);
    return [master, ...papers].map((member, index) => ({ member, from: member.place.path, to: paths[index]!, sequence: null }));
  }

  /** The path itself, where a file stands there that may be the same: of the same size, with the same samples. */
  private looksThere({ item, place }: Member, path: string): string | null {
    const standing = this.input.named.get(foldPath(path));
    if (!standing || standing.place.path !== path || !item || this.settings.action !== 'copy' || this.settings.second || this.looked.has(path))
      return null;
    if (standing.sizeBytes !== item.sizeBytes || comparePrints(standing.fingerprint, item.fingerprint) !== true) return null;
    if (standing.content !== undefined && item.content !== undefined && standing.content !== item.content) return null;
    if (samePlace(standing.place, place)) return null;
    this.looked.add(path);
    return path;
  }

  /** Names of a file and its sidecars, by the number that sets them apart. */
  private namesAt(unit: Unit, master: Member, papers: readonly Member[], wanted: WantedName): (number: number) => string[] {
    const { names, clashes } = this.settings;
    const tail = safeTail(wanted.extension, names.level);
    const apart = this.apart(unit, master, clashes);
    const old = fileName(master.place.path);
    const isNumbered = wanted.isNumbered && wanted.stem(1) !== wanted.stem(2);
    const nameOf = (number: number) => {
      if (isNumbered) return `${wanted.stem(number)}${tail}`;
      const stem = wanted.stem(1);
      if (number === 1) return `${stem}${tail}`;
      return safeName(fittingName(stem, `_${apart === null ? number : number === 2 ? apart : `${apart}_${number - 1}`}${tail}`), names.level);
    };
    return (number) => {
      const own = nameOf(number);
      return [own, ...papers.map(({ place }) => this.sidecarName(fileName(place.path), old, own))];
    };
  }

  /** Name of the folder of frames. */
  private homeAt(wanted: WantedName, number: number): string {
    return wanted.isNumbered && wanted.stem(1) !== wanted.stem(2) ? wanted.stem(number) : this.numbered(wanted.stem(1), number);
  }

  private numbered(name: string, number: number): string {
    return number === 1 ? name : safeName(fittingName(name, `_${number}`), this.settings.names.level);
  }

  /** What sets a file apart from others of its name, where the user does not want numbers. */
  private apart(unit: Unit, { item }: Member, clashes: SortSettings['clashes']): string | null {
    const facts = factsOf(unit, item!, this.input);
    return clashes === 'reel' ? facts.reel : clashes === 'day' ? facts.day : null;
  }

  /** Frames lie in a folder of their own: those of two sequences never meet. */
  private placeSequence(member: Member, papers: readonly Member[], folder: string, wanted: WantedName): Placed[] {
    const facts = member.item!.facts.sequence!;
    const [home] = this.claim(folder, (number) => [this.homeAt(wanted, number)]);
    const keeps = this.settings.names.from === 'original';
    const sequence = renamedSequence(facts, wanted.stem(1), keeps);
    const stems = [facts.prefix, sequence.prefix].map((prefix) => trimEndOf(prefix, /[._\- ]/));
    // They lie beside the frames.
    const beside = papers.map((paper): Placed => {
      const name = this.sidecarName(fileName(paper.place.path), `${stems[0]!}.x`, `${stems[1]!}.x`);
      const [to] = this.claim(home!, (number) => [number === 1 ? name : this.numbered(name, number)]);
      return { member: paper, from: paper.place.path, to: to!, sequence: null };
    });
    return [{ member, from: folderOf(member.place.path), to: home!, sequence }, ...beside];
  }

  private placeWhole(unit: Unit, root: Place, target: Target, folder: string): Placement {
    const shelf = this.input.shelves.find(({ id }) => id === root.shelfId)?.name ?? 'card';
    // A tree that stood beside other media gets a folder of its own, by which it is known as a card again.
    const bare = isBareTree(unit, this.input.cards);
    const name = bare ? fileName(folderOf(root.path)) || shelf : fileName(root.path);
    const safe = safeName(name, this.settings.names.level);
    const to = this.claim(folder, (number) => [this.numbered(safe, number)])[0]!;
    const home = bare ? joinPath(to, fileName(root.path)) : to;
    const files = unit.members.map((member): Placed => {
      const { sequence } = member.item?.facts ?? { sequence: null };
      const from = sequence ? folderOf(member.place.path) : member.place.path;
      return { member, from, to: joinPath(home, from.slice(root.path.length + 1)), sequence };
    });
    const renamed = !bare && fileName(to) !== name ? whyRenamed(name, fileName(to)) : [];
    const hollow = this.input.hollow.filter((place) => place.shelfId === root.shelfId && isWithin(place.path, root.path));
    const folders = hollow.map((from) => ({ from, to: joinPath(home, from.path.slice(root.path.length + 1)) }));
    return this.unlessInPlace({ unit, target, folder, files, folders, renamed, stays: null, equalTo: null });
  }

  private sidecarName(name: string, oldMaster: string, newMaster: string): string {
    // Its own letters stay where its master's do.
    if (oldMaster === newMaster) return safeName(name, this.settings.names.level);
    const cut = (text: string) => text.slice(0, text.length - extensionLength(text));
    const [oldStem, newStem] = [cut(oldMaster), cut(newMaster)];
    const starts = (text: string) => name.normalize('NFC').toLowerCase().startsWith(text.normalize('NFC').toLowerCase());
    const rest = starts(`${oldMaster}.`) ? [oldMaster, newMaster] : [oldStem, newStem];
    if (!starts(rest[0]!)) return safeName(name, this.settings.names.level);
    return safeName(`${rest[1]!}${[...name.normalize('NFC')].slice([...rest[0]!.normalize('NFC')].length).join('')}`, this.settings.names.level);
  }

  /** Paths of names that nobody has, all of one number. */
  private claim(folder: string, names: (number: number) => readonly string[]): string[] {
    const key = `${folder}/${names(1)[0]!}`;
    for (let number = this.spoken.next(key); ; number++) {
      const paths = names(number).map((name) => joinPath(folder, name));
      if (new Set(paths.map(foldPath)).size < paths.length || paths.some((path) => this.spoken.has(path))) continue;
      paths.forEach((path) => this.spoken.add(path));
      this.spoken.gave(key, number);
      return paths;
    }
  }

  /** The folder, or the first numbered one in it that has room. */
  private roomIn(folder: string, files: number): string {
    const most = this.settings.perFolder;
    if (most === null) return folder;
    for (let number = this.spoken.next(`${folder}/ rolling`); ; number++) {
      const own = joinPath(folder, String(number).padStart(3, '0'));
      const held = this.fill.get(own) ?? 0;
      if (held > 0 && held + files > most) continue;
      this.fill.set(own, held + files);
      this.spoken.gave(`${folder}/ rolling`, number - 1);
      return own;
    }
  }
}

/** A file without sidecars or other parts. */
function isAlone({ kind, members }: Unit): boolean {
  return kind === 'file' && members.length === 1;
}

function extensionLength(name: string): number {
  const dot = name.lastIndexOf('.');
  return dot > 0 ? name.length - dot : 0;
}

/** A card that is its tree alone: the folder around it holds other media, or is the shelf. */
function isBareTree({ kind, root, lead }: Unit, cards: Cards): boolean {
  return kind === 'card' && root !== null && cards.around(lead.place.path)?.tree === root.path;
}

/** The folder a unit lies in; a sequence lies in one of its own there. */
function homeOf({ kind, lead }: Unit): string {
  const folder = folderOf(lead.place.path);
  return kind === 'sequence' ? folderOf(folder) : folder;
}

/** Media with their sidecars behind them. */
function groupsOf({ members }: Unit): Member[][] {
  const groups: Member[][] = [];
  for (const member of members) {
    if (member.isSidecar && groups.length > 0) groups.at(-1)!.push(member);
    else groups.push([member]);
  }
  return groups;
}

/** Paths that a member takes up; of frames the name the stock has for them. */
function framePaths({ item, place }: Member): string[] {
  if (!item?.facts.sequence) return [place.path];
  return [joinPath(folderOf(place.path), sequenceName(item.facts.sequence))];
}
