/** What a kept list says of items and clips beside its columns: where they lie, how large they are, which frames are used. */
import type { ClipView } from '../../server/projects/views/clip';
import type { ItemUsageView } from '../../server/projects/views/usage';
import type { Window } from '../../core/lists/list-window';
import { api } from '../shared/api';
import type { AlsoKept } from '../shared/table/keep-list';

const USED_TITLE = 'Used frames (from 0, first–last)';
const MOST_ROWS = 1_000;

type ShelfName = (id: string) => string;

/** Ranges hold their first frame and not their end; people are told the last. */
function usedWords({ used }: ItemUsageView): string {
  return used.map(({ start, end }) => `${start}–${end - 1}`).join(', ');
}

export function alsoOfItems(shelfName: ShelfName): Promise<readonly AlsoKept<ItemUsageView>[]> {
  return Promise.resolve([
    { title: 'Shelf', text: ({ place }) => (place ? shelfName(place.shelfId) : '') },
    { title: 'Path', text: ({ place }) => place?.path ?? '' },
    { title: 'Reel', text: ({ reel }) => reel ?? '' },
    { title: USED_TITLE, text: usedWords },
  ]);
}

/** Every item of the project, by the clips that read it. */
async function itemsByClip(projectId: string): Promise<Map<string, ItemUsageView[]>> {
  const byClip = new Map<string, ItemUsageView[]>();
  for (const list of ['used', 'never'] as const)
    for (let offset = 0; ; offset += MOST_ROWS) {
      const asked = { timelineIds: 'all', countDisabled: true, list, filter: '', sort: 'name', down: false, limit: MOST_ROWS, offset };
      const { rows, total } = await api.postTo<Window<ItemUsageView>>(`projects/${projectId}/usage`, asked);
      for (const item of rows) for (const { id } of item.clips) byClip.set(id, [...(byClip.get(id) ?? []), item]);
      if (rows.length === 0 || offset + rows.length >= total) break;
    }
  return byClip;
}

export async function alsoOfClips(projectId: string, shelfName: ShelfName): Promise<readonly AlsoKept<ClipView>[]> {
  const byClip = await itemsByClip(projectId);
  const each = (title: string, text: (item: ItemUsageView) => string): AlsoKept<ClipView> => ({
    title,
    text: ({ id }) => [...new Set((byClip.get(id) ?? []).map(text))].filter((part) => part !== '').join('; '),
  });
  return [
    { title: 'Place', text: ({ place, url }) => (place ? `${shelfName(place.shelfId)} / ${place.path}` : url) },
    each('Size (bytes)', ({ sizeBytes }) => (sizeBytes === null ? '' : String(sizeBytes))),
    each(USED_TITLE, usedWords),
  ];
}
