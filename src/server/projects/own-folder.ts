/** The folder that a project's files are sorted into, as its last sort was set up. */
import { below, type Place } from '../../core/media/item';
import type { SortSettings } from '../../core/planning/sort/settings';
import { rootFolder } from '../../core/planning/sort/target-folder';
import { localDay } from '../../core/time/local-day';

export type KeptSort = Partial<Pick<SortSettings, 'destination' | 'rootName' | 'names'> & { readonly watched: readonly Place[] }>;

/** Null where none is chosen, or where it would be all of a shelf. */
export function ownFolder(
  project: { readonly id: string; readonly name: string },
  { destination, rootName = '{project}', names }: KeptSort,
): Place | null {
  if (!destination) return null;
  const level = names?.level ?? 'everywhere';
  const root = rootFolder({ project }, { rootName, names: { from: 'original', pattern: '', level }, date: localDay(new Date()) });
  return root === '' ? null : below(destination, root);
}
