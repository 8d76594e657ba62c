/** The choices of a sort, its scheme, and the plan that follows from them. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import dayjs from 'dayjs';
import { useMemo } from 'react';
import { sortForm, type SortSettings } from '../../core/planning/sort/settings';
import type { SortDetail } from '../../core/planning/sort/sort';
import type { Place } from '../../core/media/item';
import type { Scheme } from '../../core/scheme/scheme';
import type { SchemeView } from '../../server/api/views';
import { api } from '../shared/api';
import { askedOf } from '../shared/asked';
import { tellError } from '../shared/notices';
import { usePlan } from '../shared/use-plan';
import { useRemembered } from '../shared/use-remembered';

/** As kept: the scheme by its id, or as it is being changed. */
export interface SortChoices extends Omit<SortSettings, 'scheme' | 'date'> {
  readonly schemeId: string;
  readonly draft: Scheme | null;
  /** Folders that the overview tells of when something new lies in them. */
  readonly watched: readonly Place[];
}

const initial = (): SortChoices => ({
  scope: { of: 'project' },
  schemeId: 'own-documentary',
  draft: null,
  structure: 'scheme',
  destination: null,
  rootName: '{project}',
  action: 'move',
  names: { from: 'original', pattern: '{day}_{reel}_{original}', level: 'everywhere' },
  clashes: 'number',
  equalAsOne: true,
  perFolder: null,
  emptyFolders: true,
  second: null,
  makeClips: false,
  removeEmptied: true,
  whole: [],
  exceptions: [],
  watched: [],
});

export function useSchemes() {
  return useQuery({ queryKey: ['schemes'], queryFn: () => api.get<SchemeView[]>('schemes') });
}

export function useSort(projectId: string) {
  const client = useQueryClient();
  const [choices, change] = useRemembered<SortChoices>(projectId, 'sort', initial);
  const query = useSchemes();
  const schemes = query.data;
  const kept = schemes?.find(({ scheme }) => scheme.id === choices?.schemeId) ?? schemes?.[0] ?? null;
  const draft = choices?.draft && choices.draft.id === kept?.scheme.id ? choices.draft : null;
  const scheme = draft ?? kept?.scheme ?? null;
  const key = JSON.stringify([choices, scheme]);
  const settings = useMemo((): SortSettings | null => {
    if (!choices || !scheme || (choices.scope.of === 'folder' && choices.scope.place.shelfId === '')) return null;
    const { schemeId: _schemeId, draft: _draft, watched: _watched, ...own } = choices;
    return { ...own, scheme, date: dayjs().format('YYYY-MM-DD') };
  }, [key]);
  const state = usePlan<SortDetail>('sort', projectId, settings, sortForm);
  const attempt = async (work: () => Promise<SchemeView | undefined>): Promise<SchemeView | null> => {
    try {
      const made = await work();
      await client.invalidateQueries({ queryKey: ['schemes'] });
      return made ?? null;
    } catch (error) {
      tellError(error);
      return null;
    }
  };
  return {
    choices,
    change,
    asked: askedOf(query),
    schemes: schemes ?? [],
    scheme,
    /** Whether the scheme is the house's own, and whether it holds changes that are not saved. */
    isOwn: kept?.isOwn ?? false,
    isChanged: draft !== null,
    settings,
    state,
    edit: (next: Scheme) => change({ draft: next }),
    discard: () => change({ draft: null }),
    save: async () => {
      if (!draft) return;
      const { id, ...rest } = draft;
      if (await attempt(() => api.put<SchemeView>(`schemes/${id}`, rest))) change({ draft: null });
    },
    duplicate: async (): Promise<void> => {
      if (!scheme) return;
      const { id: _id, ...rest } = scheme;
      const made = await attempt(() => api.post<SchemeView>('schemes', { ...rest, name: `${scheme.name} of the house` }));
      if (made) change({ schemeId: made.scheme.id, draft: null });
    },
    bring: async (file: File): Promise<void> => {
      const made = await attempt(async () => api.post<SchemeView>('schemes/import', JSON.parse(await file.text()) as unknown));
      if (made) change({ schemeId: made.scheme.id, draft: null });
    },
    remove: async (): Promise<void> => {
      if (!kept) return;
      await attempt(() => api.remove<undefined>(`schemes/${kept.scheme.id}`));
      change({ schemeId: 'own-documentary', draft: null });
    },
  };
}

export type SortOf = ReturnType<typeof useSort>;
