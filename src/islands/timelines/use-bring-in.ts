import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Finding } from '../../core/planning/finding';
import type { Place } from '../../core/media/item';
import { api } from '../shared/api';
import { plural } from '../shared/figures';
import { tell, tellError } from '../shared/notices';

interface BroughtIn {
  readonly timelineIds: string[];
  readonly newClips: number;
  readonly events: number;
  readonly findings: Finding[];
}

export interface BringInActions {
  readonly busy: boolean;
  fromFile(file: File): Promise<boolean>;
  fromPlace(place: Place): Promise<boolean>;
}

/** Brings a timeline in and says what came of it. Resolves to whether it worked. */
export function useBringIn(projectId: string, onDone: (timelineId: string) => void): BringInActions {
  const client = useQueryClient();
  const [busy, setBusy] = useState(false);
  const send = async (body: unknown, name: string): Promise<boolean> => {
    setBusy(true);
    try {
      const done = await api.post<BroughtIn>(`projects/${projectId}/timelines`, body);
      await client.invalidateQueries();
      if (done.timelineIds[0]) onDone(done.timelineIds[0]);
      tell(
        `${name} is in`,
        `${plural(done.events, 'event')}, ${plural(done.newClips, 'new clip')}${done.findings.length > 0 ? `, ${plural(done.findings.length, 'finding')} to read` : ''}.`,
      );
      return true;
    } catch (error) {
      tellError(error);
      return false;
    } finally {
      setBusy(false);
    }
  };
  return {
    busy,
    fromFile: async (file) => send({ name: file.name, text: await file.text() }, file.name),
    fromPlace: (place) => send({ place }, place.path.split('/').at(-1)!),
  };
}
