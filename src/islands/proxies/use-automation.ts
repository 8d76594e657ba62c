/** What begins by itself in a project: switched on and off here, with the settings that this stage has. */
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { api } from '../shared/api';
import { tellError } from '../shared/notices';
import { projectKey, useProject } from '../shared/questions';

/** While it is on it goes by what is chosen here, as it is changed. */
export function useAutomation(projectId: string, name: string, settings: object): [boolean, (isOn: boolean) => void] {
  const client = useQueryClient();
  const { data: project } = useProject(projectId);
  const known = project?.automations.find((one) => one.name === name);
  const [wished, wish] = useState<boolean | null>(null);
  const isOn = wished ?? known?.isOn ?? false;
  const put = (on: boolean) =>
    api
      .put(`projects/${projectId}/automations/${name}`, { isOn: on, settings })
      .then(() => client.invalidateQueries({ queryKey: projectKey(projectId) }), tellError)
      .finally(() => wish(null));
  const sent = useRef<string | null>(null);
  const now = JSON.stringify(settings);
  useEffect(() => {
    if (!known?.isOn || sent.current === now) return;
    const isFirst = sent.current === null && JSON.stringify(known.settings) === now;
    sent.current = now;
    if (!isFirst) void put(true);
  }, [known?.isOn, now]);
  return [
    isOn,
    (on) => {
      wish(on);
      sent.current = now;
      void put(on);
    },
  ];
}
