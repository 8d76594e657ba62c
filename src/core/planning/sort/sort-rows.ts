/** What the screen lists of a sort: rows, folders with what lands in them, where it comes from. */
import { fileName, folderOf, type Place } from '../../media/item';
import { sequenceName } from '../../media/image-sequence';
import { fitsRule } from '../../scheme/rule';
import { allFolders, REST, type Scheme } from '../../scheme/scheme';
import type { SortInput } from './sort-input';
import type { Placement } from './placing';
import { factsOf, unitBytes, unitFiles } from './units';

export interface SortRow {
  readonly unitId: string;
  readonly kind: Placement['unit']['kind'];
  readonly itemId: string;
  readonly from: Place;
  /** File or folder name before and after; the same where it stays. */
  readonly oldName: string;
  readonly newName: string;
  /** Folder it ends in, below the destination. */
  readonly folder: string;
  readonly folderId: string;
  readonly why: string;
  readonly renamed: readonly string[];
  /** Why it stays where it is; null where it goes. */
  readonly stays: string | null;
  readonly isException: boolean;
  readonly files: number;
  readonly bytes: number;
  readonly clips: number;
  /** Who has it open; null: nobody that is known. */
  readonly openBy: string | null;
}

export interface FolderFigures {
  readonly id: string;
  readonly files: number;
  readonly bytes: number;
  /** Of these, already there. */
  readonly inPlace: number;
  readonly renamed: number;
}

/** A folder of the tree before or after, with what lies in it and below it. */
export interface TreeFolder {
  readonly path: string;
  readonly files: number;
  readonly bytes: number;
}

export interface FlowLink {
  /** "shelf id/first folder" and the id of the standard folder. */
  readonly source: string;
  readonly sourceName: string;
  readonly target: string;
  readonly files: number;
  readonly bytes: number;
}

export function rowOf(placement: Placement, input: SortInput): SortRow {
  const { unit, target, folder, files, renamed, stays, equalTo } = placement;
  const [first] = files;
  const lead = unit.root ?? unit.lead.place;
  const oldName = unit.root ? fileName(unit.root.path) : fileName(lead.path);
  const newName = !first ? oldName : unit.root ? wholeName(placement) : first.sequence ? sequenceName(first.sequence) : fileName(first.to);
  const open = unit.members.map(({ place }) => input.open.get(`${place.shelfId}\n${place.path}`)).find((by) => by !== undefined);
  return {
    unitId: unit.id,
    kind: unit.kind,
    itemId: unit.lead.id,
    from: lead,
    oldName,
    newName,
    // Frames lie in a folder of their own.
    folder: first?.sequence && !unit.root ? first.to : folder,
    folderId: target.folderId,
    why: target.why,
    renamed,
    stays: equalTo ? `equal to ${fileName(equalTo.place.path)}, which stands for it` : stays,
    isException: target.isException,
    files: unitFiles(unit, input.frames),
    bytes: unitBytes(unit),
    clips: new Set(unit.members.flatMap(({ place }) => (input.uses.get(`${place.shelfId}\n${place.path}`) ?? []).map(({ clipId }) => clipId))).size,
    openBy: open ?? null,
  };
}

/** Name of a folder kept whole, where it goes. */
function wholeName({ folder, files }: Placement): string {
  return files[0]!.to.slice(folder === '' ? 0 : folder.length + 1).split('/')[0]!;
}

/** Figures of each standard folder, REST among them, in the order of the tree; folders count what lies in those within them. */
export function folderFigures(scheme: Scheme, rows: readonly SortRow[], structure: 'scheme' | 'bins' | 'as-it-was'): FolderFigures[] {
  const own = new Map<string, { files: number; bytes: number; inPlace: number; renamed: number }>();
  for (const row of rows) {
    if (row.stays !== null && row.stays !== 'in its place') continue;
    const sum = own.get(row.folderId) ?? { files: 0, bytes: 0, inPlace: 0, renamed: 0 };
    sum.files += row.files;
    sum.bytes += row.bytes;
    if (row.stays !== null) sum.inPlace += row.files;
    if (row.oldName !== row.newName) sum.renamed++;
    own.set(row.folderId, sum);
  }
  const none = { files: 0, bytes: 0, inPlace: 0, renamed: 0 };
  if (structure !== 'scheme') return [...own].map(([id, sum]) => ({ id, ...sum }));
  const ways = allFolders(scheme.folders);
  const sums = new Map([...ways.map(({ id }) => id), REST].map((id) => [id, { ...none }]));
  const isOf = new Map(ways.map(({ id, way }) => [id, way.map((folder) => folder.id)]));
  for (const [id, sum] of own)
    for (const outer of isOf.get(id) ?? [id]) {
      const whole = sums.get(outer);
      if (!whole) continue;
      whole.files += sum.files;
      whole.bytes += sum.bytes;
      whole.inPlace += sum.inPlace;
      whole.renamed += sum.renamed;
    }
  return [...sums].map(([id, sum]) => ({ id, ...sum }));
}

/** Folders by their paths with all that lies below them, the root first. `most`: so many at most, the shallowest. */
export function treeOf(files: readonly { readonly path: string; readonly files: number; readonly bytes: number }[], most: number): TreeFolder[] {
  const sums = new Map<string, { files: number; bytes: number }>();
  for (const file of files) {
    for (let folder = folderOf(file.path); ; folder = folderOf(folder)) {
      const sum = sums.get(folder) ?? { files: 0, bytes: 0 };
      sum.files += file.files;
      sum.bytes += file.bytes;
      sums.set(folder, sum);
      if (folder === '') break;
    }
  }
  const depth = (path: string) => (path === '' ? 0 : path.split('/').length);
  const all = [...sums].map(([path, sum]) => ({ path, ...sum }));
  const shown = all.length <= most ? all : [...all].sort((a, b) => depth(a.path) - depth(b.path) || b.bytes - a.bytes).slice(0, most);
  return shown.sort((a, b) => (a.path < b.path ? -1 : 1));
}

/** From each shelf's first folders to the standard folders. */
export function flowOf(rows: readonly SortRow[], input: SortInput): FlowLink[] {
  const links = new Map<string, { source: string; sourceName: string; target: string; files: number; bytes: number }>();
  for (const row of rows) {
    if (row.stays !== null && row.stays !== 'in its place') continue;
    const top = row.from.path.includes('/') ? row.from.path.split('/')[0]! : '';
    const source = `${row.from.shelfId}/${top}`;
    const shelf = input.shelves.find(({ id }) => id === row.from.shelfId)?.name ?? '';
    const key = `${source}\n${row.folderId}`;
    const link = links.get(key) ?? { source, sourceName: top === '' ? shelf : `${shelf} / ${top}`, target: row.folderId, files: 0, bytes: 0 };
    link.files += row.files;
    link.bytes += row.bytes;
    links.set(key, link);
  }
  return [...links.values()].sort((a, b) => b.bytes - a.bytes);
}

/** Rules that take nothing at all of what is sorted, though their folder stands before none that takes it. */
export function deadRules(scheme: Scheme, placements: readonly Placement[], input: SortInput): { id: string; name: string; takenBefore: number }[] {
  const taken = new Set(placements.map(({ target }) => target.folderId));
  const facts = placements.map(({ unit }) => factsOf(unit, unit.lead, input));
  return allFolders(scheme.folders).flatMap(({ id, way }) => {
    const folder = way.at(-1)!;
    if (folder.rule === null || taken.has(id) || folder.folders.some((inner) => taken.has(inner.id))) return [];
    const would = facts.filter((entry) => way.every(({ rule }) => rule === null || fitsRule(rule, entry))).length;
    return would > 0 ? [{ id, name: folder.name, takenBefore: would }] : [];
  });
}
