import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { ColumnMap } from '../../core/interchange/clip-list/clip-list-types';
import type { Place } from '../../core/media/item';
import type { Rate } from '../../core/time/rate';
import { api } from '../shared/api';
import { plural } from '../shared/figures';
import { tell, tellError } from '../shared/notices';

/** A file that is meant: one of a shelf, or one sent up from this computer. */
export interface Source {
  readonly name: string;
  readonly place?: Place;
  readonly upload?: string;
}

export interface ReadAs {
  readonly columns?: ColumnMap;
  readonly rate?: Rate;
  /** False links nothing but by address. */
  readonly match?: boolean;
  readonly scope?: Place;
  readonly additions?: readonly string[];
}

export interface BringInActions {
  readonly busy: boolean;
  bring(source: Source, as: ReadAs): Promise<boolean>;
}

export function sourceBody(source: Source, as: ReadAs): object {
  return { name: source.name, ...(source.place ? { place: source.place } : { upload: source.upload }), ...as };
}

/** Brings a file in and says what came of it. Resolves to whether it worked. */
export function useBringIn(projectId: string, onDone: (timelineId: string) => void): BringInActions {
  const client = useQueryClient();
  const [busy, setBusy] = useState(false);
  return {
    busy,
    bring: async (source, as) => {
      setBusy(true);
      try {
        const done = await api.post(`projects/${projectId}/timelines`, sourceBody(source, as));
        await client.invalidateQueries();
        if (done.timelineIds[0]) onDone(done.timelineIds[0]);
        const known = done.findings.some((finding) => finding.code === 'already-here');
        const parts = [
          ...(done.timelineIds.length > 0 && !known ? [plural(done.events, 'event')] : []),
          plural(done.newClips, 'new clip'),
          ...(done.matchedClips > 0 ? [`${done.matchedClips} linked by name or timecode`] : []),
          ...(done.findings.length > 0 ? [`${plural(done.findings.length, 'finding')} to read`] : []),
        ];
        tell(known ? `${source.name} is here already` : `${source.name} is in`, `${parts.join(', ')}.`);
        return true;
      } catch (error) {
        tellError(error);
        return false;
      } finally {
        setBusy(false);
      }
    },
  };
}
