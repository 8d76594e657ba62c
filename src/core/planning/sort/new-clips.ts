/** Media that no clip reads becomes clips, in bins named as the folders it goes to. */
import { sequenceName } from '../../media/image-sequence';
import { below, fileName, joinPath, placeKey, type Item, type Place } from '../../media/item';
import type { SortSettings } from './settings';
import type { ClipInBin, NewClip } from './sort-changes';
import type { SortInput } from './sort-input';
import { COPIED_BEFORE, type Placement } from './placing';
import { clipNameOf } from './clip-name';
import { proofKey } from './proof-key';

/** Where each lies when the sort is done. */
export function newClips(placements: readonly Placement[], input: SortInput, { makeClips, destination }: SortSettings): NewClip[] {
  if (!makeClips || !destination) return [];
  const { shelfId } = destination;
  const isRead = (place: Place) => input.uses.has(placeKey(place));
  return placements.flatMap((placement): NewClip[] => {
    const bin = binOf(placement);
    const clipOf = (item: Item | null, place: Place | undefined): NewClip[] =>
      item && item.facts.kind !== 'other' && item.problem === null && place && !isRead(item.place) && !isRead(place)
        ? [{ place, bin, name: clipNameOf(item.originalName ?? fileName(item.place.path), item.facts.sequence !== null) }]
        : [];
    if (placement.files.length > 0)
      return placement.files.flatMap(({ member, to, sequence }) =>
        clipOf(member.item, sequence ? below({ shelfId, path: to }, sequenceName(sequence)) : { shelfId, path: to }),
      );
    const { members } = placement.unit;
    if (placement.stays === 'in its place') return members.flatMap(({ item, place }) => clipOf(item, place));
    if (placement.stays === COPIED_BEFORE) return members.flatMap(({ item }) => clipOf(item, item ? input.copied.get(proofKey(item)) : undefined));
    return [];
  });
}

/** Clips that read what is sorted and lie in no bin, with the bin of its folder; those that have one keep it. */
export function clipsWithoutBin(placements: readonly Placement[], input: SortInput, { makeClips, destination }: SortSettings): ClipInBin[] {
  if (!makeClips || !destination) return [];
  const bins = new Map<string, string>();
  for (const placement of placements) {
    const bin = binOf(placement);
    const isThere = placement.files.length > 0 || placement.stays === 'in its place' || placement.stays === COPIED_BEFORE;
    if (bin === '' || !isThere) continue;
    for (const { item } of placement.unit.members)
      for (const use of item ? (input.uses.get(placeKey(item.place)) ?? []) : [])
        if (use.bin === '' && !bins.has(use.clipId)) bins.set(use.clipId, bin);
  }
  return [...bins].map(([clipId, bin]) => ({ clipId, bin }));
}

/** The folder without the project's own, which is no bin; a card is a bin of its own. */
function binOf({ unit, target, files, folder }: Placement): string {
  const inside = target.path.split('/').slice(1).join('/');
  if (unit.kind !== 'card' || !unit.root) return inside;
  return joinPath(inside, files[0] ? files[0].to.slice(folder === '' ? 0 : folder.length + 1).split('/')[0]! : fileName(unit.root.path));
}
