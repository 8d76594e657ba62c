/** What is safe of a project today: its best crate as it stands now, and on how many drives its files have verified copies. */
import { placeKey } from '../../core/media/item';
import { standingWords, type CrateState } from '../../core/planning/package/crate-standing';
import { lackWords } from '../../core/planning/crate/crate-words';
import { isInParts, sourceRendition } from '../../core/project/clip';
import type { CrateView } from './views/crate';
import type { CopiesView, ProjectView } from './views/project';
import type { Catalogue } from '../catalogue/catalogue';
import type { CrateRow } from '../catalogue/crates';
import type { LineLink } from '../catalogue/clip-lines';
import type { ProjectLines } from './project-lines';

/** Every crate of a project as it stands now, the newest first. */
export function crateViews(catalogue: Catalogue, projectId: string, house: Pick<ProjectLines, 'isAttached' | 'shelfName'>): CrateView[] {
  const stocktakes = new Map(catalogue.shelves.list().map(({ id, stocktakeAt }) => [id, stocktakeAt]));
  return catalogue.crates.ofProject(projectId).map((crate) => {
    const standing = catalogue.crates.standing(crate);
    const lacks = lackWords(crate.holds);
    return {
      ...crate,
      lacks,
      standing,
      trouble: standingWords(standing),
      isSafe: lacks === null && standing.state === 'whole',
      shelfName: house.shelfName(standing.place.shelfId),
      attached: house.isAttached(standing.place.shelfId),
      seenAt: stocktakes.get(standing.place.shelfId) ?? null,
    };
  });
}

const WORTH: Record<CrateState, number> = { whole: 4, unread: 3, changed: 2, gone: 0 };

/** The one that is worth most today; of equal ones the newest. What is plugged in goes before what is not. */
function bestCrate(crates: readonly CrateView[]): CrateView | null {
  const worth = ({ lacks, standing, attached }: CrateView) => (lacks === null ? 10 : 0) + 2 * WORTH[standing.state] + (attached ? 1 : 0);
  return crates.reduce<CrateView | null>((best, crate) => (best && worth(best) >= worth(crate) ? best : crate), null);
}

export function safetyOf(catalogue: Catalogue, projectId: string, lines: ProjectLines): Pick<ProjectView, 'lastCrate' | 'copies'> {
  const best = bestCrate(crateViews(catalogue, projectId, lines));
  const links = sourceFiles(lines);
  return { lastCrate: best && { ...best, sharesDrive: sharedDrive(best, links, lines) }, copies: copiesOf(links, lines) };
}

/** The files of the clips' sources, each content once; parts where there is no whole. */
function sourceFiles(lines: ProjectLines): LineLink[] {
  const files = new Map<string, LineLink>();
  for (const clip of lines.clips) {
    const whole = sourceRendition(clip)?.links ?? [];
    for (const link of isInParts(clip) ? clip.parts.flatMap(({ links }) => links) : whole)
      if (link.place) files.set(link.content ?? placeKey(link.place), link);
  }
  return [...files.values()];
}

/** Drives on which a file stands, every byte of it known. */
function drivesOf({ place, item, content, copies = [] }: LineLink, lines: ProjectLines): Set<string> {
  const drives = new Set(copies.map((copy) => lines.diskOf(copy.place.shelfId)));
  if (place && item && content !== null && item.content === content) drives.add(lines.diskOf(place.shelfId));
  return drives;
}

function copiesOf(links: readonly LineLink[], lines: ProjectLines): CopiesView {
  const counts = links.map((link) => drivesOf(link, lines).size);
  return {
    files: counts.length,
    twice: counts.filter((count) => count > 1).length,
    once: counts.filter((count) => count === 1).length,
    leastDrives: counts.length === 0 ? 0 : Math.min(...counts),
  };
}

/** Name of the shelf of a crate where every file of the project that is attached is read from the same drive: one loss takes both. */
function sharedDrive({ standing }: CrateRow & Pick<CrateView, 'standing'>, links: readonly LineLink[], lines: ProjectLines): string | null {
  const own = lines.diskOf(standing.place.shelfId);
  const isElsewhere = (link: LineLink) => {
    const drives = drivesOf(link, lines);
    if (link.place && link.item) drives.add(lines.diskOf(link.place.shelfId));
    return [...drives].some((drive) => drive !== own);
  };
  return links.length > 0 && !links.some(isElsewhere) ? lines.shelfName(standing.place.shelfId) : null;
}
