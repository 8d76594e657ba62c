/** Which items can stand for what an event reads: by reel and timecode, then by name. */
import { mediaName } from '../../media/media-name';
import { fileName, placeKey, type Item } from '../../media/item';
import { foldPath } from '../../naming/fold-path';
import { splitExtension } from '../../naming/safe-name';
import { endingsOf, stemsOf } from '../../rendition/name-rules';
import type { FrameRange } from '../../time/range';
import { expectedFrom } from '../../project/clip';
import { formatRate, type Rate } from '../../time/rate';
import { framesPerDay } from '../../time/timecode';
import { heldFor, spanOf, type Held } from '../taking/held';
import type { ShotSource } from '../taking/shot-source';

/** What has one reel and rate, by its start timecode: looked up by where a shot lies, not held against every source. */
interface Reel {
  readonly items: readonly Item[];
  readonly longest: number;
}

export interface Candidates {
  /** By reel and rate. */
  readonly byReel: ReadonlyMap<string, Reel>;
  readonly byStem: ReadonlyMap<string, readonly Item[]>;
}

export function candidatesOf(items: readonly Item[], endings: string): Candidates {
  const reels = new Map<string, Item[]>();
  const byStem = new Map<string, Item[]>();
  const own = endingsOf(endings);
  for (const item of items) {
    const { reel, rate, startFrame } = item.facts;
    if (reel !== null && rate !== null && startFrame !== null) add(reels, reelKey(reel, rate), item);
    for (const stem of stemsOf(nameOf(item), own)) add(byStem, stem, item);
  }
  const byReel = new Map([...reels].map(([key, list]): [string, Reel] => [key, { items: list.sort((a, b) => a.facts.startFrame! - b.facts.startFrame!), longest: longest(list) }])); // prettier-ignore
  return { byReel, byStem };
}

function longest(items: readonly Item[]): number {
  return items.reduce((most, { facts }) => Math.max(most, facts.durationFrames ?? 0), 0);
}

function reelKey(reel: string, rate: Rate): string {
  return `${foldPath(reel)} ${formatRate(rate)}`;
}

function add(map: Map<string, Item[]>, key: string, item: Item): void {
  const list = map.get(key);
  if (list) list.push(item);
  else map.set(key, [item]);
}

function nameOf({ place, facts }: Item): string {
  return mediaName(facts, fileName(place.path));
}

/** All that may be of one source. */
export interface HeldAgainst {
  /** Items that may hold a frame of the range; items known by their name alone are always among them. */
  readonly reaching: (range: FrameRange) => readonly Held[];
}

/** `linked`: what stands beside the clip already. */
export function heldAgainst(source: ShotSource, clipName: string, from: Candidates, linked: readonly Item[], sound: boolean): HeldAgainst {
  const stems = new Set([source.item ? nameOf(source.item) : source.name, clipName].map((name) => foldPath(splitExtension(name)[0])));
  const named = new Set([...stems].flatMap((stem) => from.byStem.get(stem) ?? []));
  const own = source.link.place ? placeKey(source.link.place) : null;
  const print = source.item?.fingerprint ?? source.link.expected.fingerprint;
  const isOther = ({ place, fingerprint, facts }: Item) => placeKey(place) !== own && (fingerprint === null || fingerprint !== print) && carries(facts, sound, source); // prettier-ignore
  const few = [...new Set([...linked, ...named])].filter(isOther).flatMap((item) => heldFor(item, source, linked.includes(item), named.has(item)));
  const known = new Set(few.map(({ item }) => item));
  const { reel, startFrame } = source.facts;
  const list = reel !== null && source.rate !== null && startFrame !== null ? from.byReel.get(reelKey(reel, source.rate)) : undefined;
  if (!list || startFrame === null) return { reaching: () => few };
  // Timecode begins anew at midnight.
  const day = source.facts.kind === 'audio' ? 0 : framesPerDay(source.rate!, source.facts.dropFrame);
  return {
    reaching: ({ start, end }) => {
      const found = [...few];
      for (const shift of day === 0 ? [0] : [0, -day, day])
        for (const item of standingIn(list, startFrame + start + shift, startFrame + end + shift))
          if (!known.has(item) && isOther(item)) found.push(...heldFor(item, source, false, false));
      return found;
    },
  };
}

/** Items that hold a frame from `start` up to `end`, as timecode counts them. */
function* standingIn({ items, longest: most }: Reel, start: number, end: number): Generator<Item> {
  let low = 0;
  for (let high = items.length; low < high;) {
    const middle = (low + high) >> 1;
    if (items[middle]!.facts.startFrame! + most > start) high = middle;
    else low = middle + 1;
  }
  for (let at = low; at < items.length && items[at]!.facts.startFrame! < end; at++) {
    const { startFrame, durationFrames } = items[at]!.facts;
    if (startFrame! + (durationFrames ?? 0) > start) yield items[at]!;
  }
}

function carries({ kind, audio }: Item['facts'], sound: boolean, { facts }: ShotSource): boolean {
  if (facts.kind === 'still') return kind === 'still';
  if (!sound) return kind === 'video' || kind === 'sequence';
  return facts.kind === 'audio' ? kind === 'audio' : kind === 'video' && audio.length > 0;
}

/** Whether an item could stand for another source: it agrees in all that is known, and holds a frame of it. */
export function mayBeOf(item: Item, twin: Item, endings: string): boolean {
  const link = { place: twin.place, url: '', expected: expectedFrom(twin, fileName(twin.place.path)) };
  const source: ShotSource = { link, item: twin, facts: twin.facts, rate: twin.facts.rate, isCounted: false, name: fileName(twin.place.path) };
  const isNamed = stemsOf(nameOf(item), endingsOf(endings)).includes(foldPath(splitExtension(nameOf(twin))[0]));
  return heldFor(item, source, false, isNamed).some((one) => {
    const span = spanOf(one);
    return one.misfits.length === 0 && span.start < (twin.facts.durationFrames ?? Infinity) && span.end > 0;
  });
}
