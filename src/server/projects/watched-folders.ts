/** Folders in which the overview tells what is new. */
import type { Place } from '../../core/media/item';
import { watchedFoldersForm } from '../../core/forms/project-forms';
import type { Catalogue } from '../catalogue/catalogue';

/** As the automation is called in the catalogue and by the interface. */
export const WATCHED_FOLDERS = 'watched-folders';

export function watchedFolders(catalogue: Catalogue, projectId: string): readonly Place[] {
  const kept = catalogue.automations.ofProject(projectId).find(({ name, isOn }) => name === WATCHED_FOLDERS && isOn);
  const checked = watchedFoldersForm.validate(kept?.settings ?? { folders: [] }, { stripUnknown: true });
  return checked.error ? [] : checked.value.folders;
}
