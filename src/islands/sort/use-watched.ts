/** Folders in which the overview tells what is new. */
import { useQueryClient } from '@tanstack/react-query';
import { watchedFoldersForm } from '../../core/forms/project-forms';
import type { Place } from '../../core/media/item';
import { api } from '../shared/api';
import { tellError } from '../shared/notices';
import { projectKey, useProject } from '../shared/questions';

const NAME = 'watched-folders';

export function useWatched(projectId: string): [readonly Place[], (folders: readonly Place[]) => void] {
  const client = useQueryClient();
  const { data: project } = useProject(projectId);
  const kept = project?.automations.find(({ name, isOn }) => name === NAME && isOn);
  const checked = watchedFoldersForm.validate(kept?.settings ?? { folders: [] });
  const put = (folders: readonly Place[]) =>
    void api
      .put(`projects/${projectId}/automations/${NAME}`, { isOn: folders.length > 0, settings: { folders } })
      .then(() => client.invalidateQueries({ queryKey: projectKey(projectId) }), tellError);
  return [checked.error ? [] : checked.value.folders, put];
}
