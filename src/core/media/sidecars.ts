/** Files that belong to media beside them by their name: papers, looks, lists of checksums, thumbnails, light movies of the camera. */
import { trimEndOf } from '../naming/trim-end';
import { masterStems, stemOf } from './card';
import { fileName, folderOf, placeKey, type Item, type Place } from './item';

/** Seconds that a light movie may be longer or shorter than what it is of. */
const LENGTH_SLACK_SECONDS = 1;

/**
 * By id of a file the id of the media beside it that it belongs to: of the same stem in the same folder, whatever its ending and
 * whether it can be read or not. A small picture or light movie beside its master is one too, unless it `isLinked` itself.
 */
export function sidecarsAmong(items: readonly Item[], isLinked: (place: Place) => boolean): Map<string, string> {
  const { masters, lesser } = mastersAmong(items, isLinked);
  const out = new Map<string, string>();
  for (const [item, master] of lesser) out.set(item.id, master.id);
  for (const item of items) {
    if (item.facts.kind !== 'other') continue;
    const fitting = masterStems(fileName(item.place.path)).flatMap((stem) => masters.get(keyOf(item.place, stem)) ?? []);
    // The longest name is the nearest; pictures before sound.
    const [master] = fitting.sort(
      (a, b) => stemOf(b.place.path).length - stemOf(a.place.path).length || Number(a.facts.kind === 'audio') - Number(b.facts.kind === 'audio'),
    );
    if (master) out.set(item.id, master.id);
  }
  return out;
}

/** Media by its whole name and by its stem, frames by what stands before the number; `lesser`: what is the sidecar of other media. */
function mastersAmong(items: readonly Item[], isLinked: (place: Place) => boolean) {
  const masters = new Map<string, Item[]>();
  const enter = (key: string, item: Item) => {
    const own = masters.get(key);
    if (own) own.push(item);
    else masters.set(key, [item]);
  };
  const lesser = new Map<Item, Item>();
  for (const [key, group] of byStem(items)) {
    const [first] = group.length === 1 ? group : [...group].sort((a, b) => rank(b) - rank(a));
    for (const item of group) {
      if (item !== first && isLesser(item, first!) && !isLinked(item.place)) lesser.set(item, first!);
      else enter(key, item);
    }
  }
  for (const item of items)
    if (item.facts.kind !== 'other' && !item.facts.sequence && !lesser.has(item)) enter(keyOf(item.place, fileName(item.place.path)), item);
  return { masters, lesser };
}

function byStem(items: readonly Item[]): Map<string, Item[]> {
  const groups = new Map<string, Item[]>();
  for (const item of items) {
    if (item.facts.kind === 'other') continue;
    const key = keyOf(item.place, stemWhole(item));
    const own = groups.get(key);
    if (own) own.push(item);
    else groups.set(key, [item]);
  }
  return groups;
}

function stemWhole({ place, facts: { sequence } }: Item): string {
  return sequence ? trimEndOf(sequence.prefix, /[._\- ]/) : stemOf(place.path);
}

/** Moving pictures before stills before sound, larger before smaller. */
function rank({ facts: { kind, video }, sizeBytes }: Item): number {
  const moves = kind === 'video' || kind === 'sequence';
  const pixels = (video?.width ?? 0) * (video?.height ?? 0);
  return (moves ? 2e9 : kind === 'still' ? 1e9 : 0) + pixels + Math.min(0.9, sizeBytes / 1e15);
}

/** A still beside what moves, or a movie of fewer pixels that is as long. */
function isLesser({ facts }: Item, master: Item): boolean {
  if (master.facts.kind !== 'video' && master.facts.kind !== 'sequence') return false;
  if (facts.kind === 'still') return true;
  if (facts.kind !== 'video' || master.facts.kind !== 'video' || !facts.video || !master.facts.video) return false;
  const [own, of] = [secondsOf(facts), secondsOf(master.facts)];
  const isSmaller = facts.video.width * facts.video.height < master.facts.video.width * master.facts.video.height;
  return isSmaller && own !== null && of !== null && Math.abs(own - of) <= LENGTH_SLACK_SECONDS;
}

function secondsOf({ durationFrames, rate }: Item['facts']): number | null {
  return durationFrames === null || rate === null ? null : (durationFrames * rate.den) / rate.num;
}

function keyOf(place: Place, name: string): string {
  return placeKey({ ...place, path: `${folderOf(place.path)}/${name.normalize('NFC').toLowerCase()}` });
}
