/** Clips of items: from the stock, or from what a timeline or list tells of its media. */
import { recordingOf } from '../../core/media/companions';
import { fileName, type Item } from '../../core/media/item';
import { splitExtension } from '../../core/naming/safe-name';
import { expectedFrom, type Clip, type MediaLink } from '../../core/project/clip';
import { placeMediaKey } from '../../core/project/media-key';
import type { Catalogue } from '../catalogue/catalogue';

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

/** Clips for items that are none yet, each in its bin; the files of one recording become one clip. */
export function clipsOfItems(
  projectId: string,
  wanted: readonly { readonly item: Item; readonly bin: string; readonly name?: string }[],
  catalogue: Catalogue,
  newId: () => string,
): Clip[] {
  const done = new Set<string>();
  const names = new Map(wanted.flatMap(({ item, name }) => (name === undefined ? [] : [[item.id, name] as const])));
  return wanted.flatMap(({ item, bin }): Clip[] => {
    if (done.has(item.id) || catalogue.sources.idByPlace(projectId, item.place)) return [];
    const recording = recordingOf(item, catalogue.items.tiedTo(item));
    const free = recording.every((other) => catalogue.sources.idByPlace(projectId, other.place) === null);
    const items = free ? recording : [item];
    for (const other of items) done.add(other.id);
    const key = placeMediaKey(items[0]!.place);
    // A clip that was relinked keeps the key of the file it was first linked to.
    const isFree = catalogue.clips.idByMediaKey(projectId, key) === null;
    const clip = clipOfItems(items, bin, newId, isFree ? key : `${key} ${newId()}`);
    return [{ ...clip, name: names.get(items[0]!.id) ?? clip.name }];
  });
}

/** A clip made by hand of the items of one recording, picture first. */
export function clipOfItems(items: readonly Item[], binPath: string, newId: () => string, mediaKey = placeMediaKey(items[0]!.place)): Clip {
  const first = items[0]!;
  return newClip(
    {
      name: splitExtension(fileName(first.place.path))[0],
      binPath,
      mediaKey,
      madeBy: 'hand',
      links: items.map((item) => linkTo(item, '')),
    },
    newId,
  );
}
