/** The choices of a sort, its scheme, and the plan that follows from them. */
import { useQuery } from '@tanstack/react-query';
import dayjs from 'dayjs';
import { useMemo } from 'react';
import { sortForm, type SortSettings } from '../../core/planning/sort/settings';
import type { Scheme } from '../../core/scheme/scheme';
import type { SchemeView } from '../../server/usecases/schemes';
import { api } from '../shared/api';
import { askedOf } from '../shared/asked';
import { usePlan } from '../shared/use-plan';
import { useRemembered } from '../shared/use-remembered';
import { useScheme, type SchemeChoices } from './use-scheme';

/** As kept: the scheme by its id, with what is being changed of it and of others. */
export interface SortChoices extends Omit<SortSettings, 'scheme' | 'date'>, SchemeChoices {
  /** As it was kept before there could be changes of several. */
  readonly draft?: Scheme | null;
}

const initial = (): SortChoices => ({
  scope: { of: 'project' },
  schemeId: 'own-documentary',
  drafts: {},
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
});

export function useSchemes() {
  return useQuery({ queryKey: ['schemes'], queryFn: () => api.get('schemes') });
}

function schemeChoices({ schemeId, drafts, draft }: SortChoices): SchemeChoices {
  return { schemeId, drafts: draft ? { [draft.id]: { scheme: draft, base: 0 }, ...drafts } : drafts };
}

const NONE: readonly SchemeView[] = [];

export function useSort(projectId: string) {
  const [choices, change] = useRemembered<SortChoices>(projectId, 'sort', initial);
  const query = useSchemes();
  const schemes = query.data ?? NONE;
  const own = useScheme(schemes, choices && schemeChoices(choices), (part) => change({ ...part, draft: null }));
  const { scheme } = own;
  const key = JSON.stringify([choices, scheme]);
  const settings = useMemo((): SortSettings | null => {
    if (!choices || !scheme || (choices.scope.of === 'folder' && choices.scope.place.shelfId === '')) return null;
    const { schemeId: _schemeId, drafts: _drafts, draft: _draft, ...rest } = choices;
    return { ...rest, scheme, date: dayjs().format('YYYY-MM-DD') };
  }, [key]);
  const state = usePlan('sort', projectId, settings, sortForm);
  return { ...own, choices, change, asked: askedOf(query), schemes, settings, state };
}

export type SortOf = ReturnType<typeof useSort>;
