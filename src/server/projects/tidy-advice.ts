/** Staying tidy: what a project uses from outside its own folder, and what is new where it watches. */
import { isWithin } from '../../core/naming/within';
import type { Place } from '../../core/media/item';
import { formatBytes, plural } from '../../core/words/figures';
import type { Advice } from './views/project';
import type { Catalogue } from '../catalogue/catalogue';
import type { ProjectRow } from '../catalogue/projects';
import { watchedFolders } from './watched-folders';

/** Of a file that the project links and that stands there. */
interface Standing {
  readonly place: Place;
  readonly bytes: number;
}

/** What to sort next, if anything. Only a project that has files in a folder of its own has some outside of it. */
export function tidyAdvice(catalogue: Catalogue, project: ProjectRow, standing: readonly Standing[]): Advice[] {
  const own = project.ownFolder;
  const isInside = ({ shelfId, path }: Place) => own !== null && shelfId === own.shelfId && isWithin(path, own.path);
  const outside = standing.filter(({ place }) => !isInside(place));
  const advice: Advice[] = [];
  if (own && outside.length > 0 && outside.length < standing.length)
    advice.push({
      stage: 'sort',
      title: `Gather ${plural(outside.length, 'file')} into ${own.path.split('/').at(-1)!}`,
      why: `${formatBytes(outside.reduce((sum, { bytes }) => sum + bytes, 0))} that the project uses lie outside its own folder.`,
      query: 'of=project',
    });
  for (const place of watchedFolders(catalogue, project.id)) {
    const fresh = catalogue.sort.notLinkedBelow(project.id, place, own);
    if (fresh.files === 0) continue;
    const shelf = catalogue.shelves.get(place.shelfId)?.name ?? 'a shelf';
    advice.push({
      stage: 'sort',
      title: `Sort ${plural(fresh.files, 'new file')} in ${place.path.split('/').at(-1) || shelf}`,
      why: `${formatBytes(fresh.bytes)} in a folder that is watched, on ${shelf}.`,
      query: new URLSearchParams({ of: `${place.shelfId}/${place.path}` }).toString(),
    });
  }
  return advice;
}
