import { useInfiniteQuery } from '@tanstack/react-query';
import type { ItemUsesView, PartUseView } from '../../server/projects/views/usage';
import { api } from '../shared/api';
import { askedOf, type QuestionState } from '../shared/asked';

const PAGE_USES = 100;

export interface ItemUses {
  readonly asked: QuestionState;
  readonly item: ItemUsesView | undefined;
  readonly uses: readonly PartUseView[];
  readonly total: number;
  /** Fetches the next of them; null when all have come. */
  readonly more: (() => void) | null;
}

/** Nobody is asked: there is nothing to wait for. */
const NOBODY: QuestionState = { isThere: true, error: null, again: () => undefined };

/** One item, and who uses it, a page at a time. `asked`: which timelines, bins and clips count; null asks for nothing. */
export function useItemUses(projectId: string, asked: object | null, key: string): ItemUses {
  const query = useInfiniteQuery({
    queryKey: ['usage', projectId, asked, key],
    queryFn: ({ pageParam }) => api.postTo<ItemUsesView>(`projects/${projectId}/usage`, { ...asked, key, limit: PAGE_USES, offset: pageParam }),
    initialPageParam: 0,
    getNextPageParam: (last, pages) => (pages.length * PAGE_USES < last.uses.total ? pages.length * PAGE_USES : undefined),
    enabled: asked !== null,
  });
  const { data, hasNextPage, fetchNextPage } = query;
  const [item] = data?.pages ?? [];
  return {
    asked: asked === null ? NOBODY : askedOf(query),
    item,
    uses: data?.pages.flatMap((page) => page.uses.rows) ?? [],
    total: item?.uses.total ?? 0,
    more: hasNextPage ? () => void fetchNextPage() : null,
  };
}
