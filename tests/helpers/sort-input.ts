/** What a sort is planned from, made up. */
import { STANDARD_CARDS } from '../../src/core/media/card';
import { placeKey, type Item } from '../../src/core/media/item';
import type { SortInput } from '../../src/core/planning/sort/sort-input';
import { shelf } from './snapshots';

/** All items are chosen, and stand where they say; those on shelf A lie at the destination. */
export function sortInput(items: readonly Item[], own: Partial<SortInput> = {}): SortInput {
  return {
    project: { id: 'p', name: 'Test' },
    shelves: [shelf('A'), shelf('B')],
    items,
    chosen: new Set(items.map(({ id }) => id)),
    extras: [],
    hollow: [],
    cannotGo: [],
    papers: [],
    uses: new Map(),
    used: new Set(),
    takes: [],
    days: new Map(items.map(({ id }) => [id, '2026-03-14'])),
    frames: new Map(),
    standing: items.filter(({ place }) => place.shelfId === 'A' && place.path.startsWith('Test/')).map(({ place }) => place.path),
    standingSecond: [],
    copied: new Map(),
    named: new Map(),
    copiesOnly: new Set<string>(),
    otherWriter: null,
    cards: STANDARD_CARDS,
    onCard: new Set(),
    notHeld: new Map(),
    sealed: [],
    nested: [],
    open: new Map(),
    volumes: new Map([['A', '1'], ['B', '1']]), // prettier-ignore
    others: new Set(),
    ...own,
  };
}

/** The project's clips that link items, by placeKey. */
export function usesOf(...links: readonly { readonly item: Item; readonly clip: string; readonly bin?: string }[]): SortInput['uses'] {
  return new Map(links.map(({ item, clip, bin = '' }) => [placeKey(item.place), [{ clipId: clip, name: clip, bin, colour: '' }]]));
}
