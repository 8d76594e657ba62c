/** Clips as they are read now: where a copy is attached, it stands for the file that is linked. */
import { placeKey, samePlace, type Item, type Place } from '../../core/media/item';
import type { Snapshot } from '../../core/planning/plan/snapshot';
import { isExpected, isInParts, type Clip, type MediaLink } from '../../core/project/clip';
import { copyRead, type ReadingWish } from '../../core/project/reading';
import type { Catalogue } from '../catalogue/catalogue';
import type { ClipLine, LineLink } from '../catalogue/clip-lines';
import type { LinkCopy } from '../catalogue/sources';
import type { ProjectRow } from '../catalogue/projects';

const kept = new WeakMap<Catalogue, Map<string, { made: string; wish: ReadingWish }>>();

/** What a project reads first. */
export function readingWish(catalogue: Catalogue, project: Pick<ProjectRow, 'id' | 'homes' | 'drives' | 'ownFolder'>): ReadingWish {
  const crates = catalogue.sort.crates().map(({ place }) => place);
  const made = `${catalogue.stamp(project.id)} ${catalogue.stamp(`words ${project.id}`)} ${JSON.stringify(crates)}`;
  const wishes = kept.get(catalogue) ?? new Map<string, { made: string; wish: ReadingWish }>();
  kept.set(catalogue, wishes);
  const known = wishes.get(project.id);
  if (known?.made === made) return known.wish;
  const folder = project.ownFolder;
  const [most] = catalogue.sources.linksByShelf(project.id);
  const wish = {
    drives: project.drives,
    own: [...(folder ? [folder] : []), ...Object.values(project.homes)],
    most: most?.shelfId ?? null,
    crates,
  };
  wishes.set(project.id, { made, wish });
  return wish;
}

type Attached = (shelfId: string) => boolean;

export function attachedIn(shelves: Snapshot['shelves']): Attached {
  const attached = new Set(shelves.filter((shelf) => shelf.attached).map(({ id }) => id));
  return (id) => attached.has(id);
}

/** Clips of a project and what stands where they read. `only`: these; null for all. */
export function readClips(
  catalogue: Catalogue,
  projectId: string,
  wish: ReadingWish,
  isAttached: Attached,
  only: readonly string[] | null = null,
): { clips: readonly Clip[]; items: readonly Item[] } {
  const clips = catalogue.clips.ofProject(projectId, only);
  const items = catalogue.items.linkedBy(projectId, only);
  const copies = byLink(catalogue.sources.copies(projectId, only));
  if (copies.size === 0) return { clips, items };
  const standing = new Map(items.map((item) => [placeKey(item.place), item]));
  const elsewhere = new Map<string, Place>();
  const read = (link: MediaLink, renditionId: string, position: number): MediaLink => {
    const own = copies.get(`${renditionId} ${position}`);
    if (!own || !link.place) return link;
    const item = standing.get(placeKey(link.place));
    // What is damaged is as good as gone where a copy is whole.
    const is = !item || item.damage !== undefined ? 'gone' : isExpected(item, link) ? 'standing' : 'other';
    const copy = copyRead({ place: link.place, is, isChosen: own[0]!.chosen === 1 }, own, wish, isAttached);
    if (!copy) return link;
    elsewhere.set(placeKey(copy.place), copy.place);
    return { ...link, place: copy.place, linkedAt: link.place };
  };
  const readNow = clips.map((clip): Clip => {
    const renditions = clip.renditions.map((rendition) => ({ ...rendition, links: sameOr(rendition.links, (link, position) => read(link, rendition.id, position)) })); // prettier-ignore
    const parts = clip.parts?.map((part) => ({ ...part, links: [read(part.links[0], part.id, 0)] as const }));
    const partCopies = clip.partCopies?.map((own) => ({ ...own, links: sameOr(own.links, (link, position) => read(link, own.id, position)) }));
    return { ...clip, renditions, ...(parts ? { parts } : {}), ...(partCopies ? { partCopies } : {}) };
  });
  const more = catalogue.items.atPlaces([...elsewhere.values()].filter((place) => !standing.has(placeKey(place))));
  return { clips: readNow, items: more.length === 0 ? items : [...items, ...more] };
}

/** Files that clips of a project read now, each once; parts where the whole was never here. `only`: these clips; null for all. */
export function itemsRead(catalogue: Catalogue, projectId: string, wish: ReadingWish, isAttached: Attached, only: readonly string[] | null): Item[] {
  const { clips, items } = readClips(catalogue, projectId, wish, isAttached, only);
  const links = clips.flatMap((clip) => [...clip.renditions, ...(isInParts(clip) ? clip.parts : [])].flatMap((own) => own.links));
  const read = new Set(links.flatMap(({ place }) => (place ? [placeKey(place)] : [])));
  return items.filter(({ place }) => read.has(placeKey(place)));
}

interface CopyAt {
  readonly place: Place;
  readonly chosen: number;
}

function byLink(copies: readonly LinkCopy[]): Map<string, CopyAt[]> {
  const out = new Map<string, CopyAt[]>();
  for (const { renditionId, position, shelfId, path, chosen } of copies) {
    const key = `${renditionId} ${position}`;
    const own = out.get(key);
    if (own) own.push({ place: { shelfId, path }, chosen });
    else out.set(key, [{ place: { shelfId, path }, chosen }]);
  }
  return out;
}

/** The list itself where no entry changes. */
function sameOr<T>(list: readonly T[], change: (entry: T, index: number) => T): readonly T[] {
  const changed = list.map(change);
  return changed.every((entry, index) => entry === list[index]) ? list : changed;
}

/** Like `readClips`, of what lists tell. Lines of which nothing is read elsewhere stay the same objects. */
export function readLines(lines: readonly ClipLine[], wish: ReadingWish, isAttached: Attached): readonly ClipLine[] {
  const read = (link: LineLink): LineLink => {
    if (!link.copies || !link.place) return link;
    const is = !link.item || link.item.damage !== undefined ? 'gone' : isExpected(link.item, link) ? 'standing' : 'other';
    const copy = copyRead({ place: link.place, is, isChosen: link.isChosen }, link.copies, wish, isAttached);
    return copy && !samePlace(copy.place, link.place)
      ? { ...link, place: copy.place, item: copy.item, linkedAt: link.place, isHomeStanding: is === 'standing', isHomeGone: link.item === null }
      : link;
  };
  return sameOr(lines, (line) => {
    const renditions = sameOr(line.renditions, (rendition) => {
      const links = sameOr(rendition.links, read);
      return links === rendition.links ? rendition : { ...rendition, links };
    });
    const parts = sameOr(line.parts, (part) => {
      const links = sameOr(part.links, read);
      return links === part.links ? part : { links };
    });
    const partCopies = sameOr(line.partCopies, (own) => {
      const links = sameOr(own.links, read);
      return links === own.links ? own : { ...own, links };
    });
    return renditions === line.renditions && parts === line.parts && partCopies === line.partCopies
      ? line
      : { ...line, renditions, parts, partCopies };
  });
}
