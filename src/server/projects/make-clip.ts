/** Clips of items: from the stock, or from what a timeline or list tells of its media. */
import { fileName, type Item, type Place } from '../../core/media/item';
import { splitExtension } from '../../core/naming/safe-name';
import { expectedFrom, type Clip, type MediaLink } from '../../core/project/clip';

/** The same file is the same clip, whatever timeline names it. */
export function placeMediaKey(place: Place): string {
  return `place ${place.shelfId} ${place.path}`;
}

export function linkTo(item: Item, url: string): MediaLink {
  return { place: item.place, url, expected: expectedFrom(item, fileName(item.place.path)) };
}

export type ClipSeed = Pick<Clip, 'name' | 'binPath' | 'mediaKey' | 'madeBy'> & Partial<Clip> & { readonly links: readonly MediaLink[] };

export function newClip({ links, ...seed }: ClipSeed, newId: () => string): Clip {
  return {
    id: newId(),
    mediaStart: null,
    setAside: false,
    note: '',
    colour: '',
    marks: null,
    conform: 'by-time',
    renditions: [{ id: newId(), kind: 'source', links }],
    ...seed,
  };
}

/** A clip made by hand of the items of one recording, picture first. */
export function clipOfItems(items: readonly Item[], binPath: string, newId: () => string): Clip {
  const first = items[0]!;
  return newClip(
    {
      name: splitExtension(fileName(first.place.path))[0],
      binPath,
      mediaKey: placeMediaKey(first.place),
      madeBy: 'hand',
      links: items.map((item) => linkTo(item, '')),
    },
    newId,
  );
}
