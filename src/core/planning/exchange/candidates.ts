/** Which items can stand for what an event reads: by reel and timecode, then by name. */
import { fileName, placeKey, type Item } from '../../media/item';
import { foldPath } from '../../naming/fold-path';
import { splitExtension } from '../../naming/safe-name';
import { trimEndOf } from '../../naming/trim-end';
import { endingsOf, stemsOf } from '../../rendition/name-rules';
import { subtract, totalFrames, type FrameRange } from '../../time/range';
import { formatRate, rateLabel, sameRate, type Rate } from '../../time/rate';
import { framesPerDay } from '../../time/timecode';
import type { ShotSource } from '../taking/shot-source';

/** From what says most to what says least. */
export const EVIDENCE = ['linked', 'reel, timecode and name', 'reel and timecode', 'name and timecode', 'name and frame numbers', 'name and length'] as const; // prettier-ignore
export type Evidence = (typeof EVIDENCE)[number];

/** An item held against a source, for all events that read it. */
export interface Held {
  readonly item: Item;
  readonly by: Evidence;
  /** Frames of the source before its first one. */
  readonly offset: number;
  /** What does not agree, in words, whatever frames are read. */
  readonly misfits: readonly string[];
}

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

/** Numbered frames go by what stands before the number. */
function nameOf({ place, facts: { sequence } }: Item): string {
  return sequence ? trimEndOf(sequence.prefix, /[._\- ]/) : fileName(place.path);
}

/** All that may be of one source. */
export interface HeldAgainst {
  /** Those that may hold a frame of a range of it; what is known by its name always may. */
  readonly reaching: (range: FrameRange) => readonly Held[];
}

/** `linked`: what stands beside the clip already. */
export function heldAgainst(source: ShotSource, clipName: string, from: Candidates, linked: readonly Item[], sound: boolean): HeldAgainst {
  const stems = new Set([source.item ? nameOf(source.item) : source.name, clipName].map((name) => foldPath(splitExtension(name)[0])));
  const named = new Set([...stems].flatMap((stem) => from.byStem.get(stem) ?? []));
  const own = source.link.place ? placeKey(source.link.place) : null;
  const print = source.item?.fingerprint ?? source.link.expected.fingerprint;
  const isOther = ({ place, fingerprint, facts }: Item) => placeKey(place) !== own && (fingerprint === null || fingerprint !== print) && carries(facts, sound, source); // prettier-ignore
  const few = [...new Set([...linked, ...named])].filter(isOther).flatMap((item) => held(item, source, linked.includes(item), named.has(item)) ?? []);
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
          if (!known.has(item) && isOther(item)) found.push(held(item, source, false, false)!); // prettier-ignore
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

/** Null: nothing but the reel tells of it, and that is the reel of a whole day. */
function held(item: Item, source: ShotSource, isLinked: boolean, isNamed: boolean): Held | null {
  const { facts } = item;
  const own = source.facts;
  if (own.kind === 'still') return { item, by: isLinked ? 'linked' : 'name and length', offset: 0, misfits: [] };
  const misfits: string[] = [];
  const rate = facts.rate ?? (facts.kind === 'sequence' ? source.rate : null);
  if (!source.rate || !rate || !sameRate(source.rate, rate)) {
    if (!isNamed && !isLinked) return null;
    misfits.push(`${rate ? rateLabel(rate) : 'no rate'} instead of ${source.rate ? rateLabel(source.rate) : 'a rate that is not known'}`);
    return { item, by: isLinked ? 'linked' : 'name and length', offset: 0, misfits };
  }
  const sameReel = own.reel !== null && facts.reel !== null && foldPath(own.reel) === foldPath(facts.reel);
  if (own.reel !== null && facts.reel !== null && !sameReel) misfits.push('another reel');
  const begins = startOf(item, source);
  if (own.startFrame !== null && begins !== null) {
    const by = isLinked ? 'linked' : begins.isNumber ? 'name and frame numbers' : sameReel ? (isNamed ? 'reel, timecode and name' : 'reel and timecode') : 'name and timecode'; // prettier-ignore
    return { item, by, offset: later(begins.frame, own.startFrame, source), misfits };
  }
  if (!isNamed && !isLinked) return null;
  if (own.durationFrames === null || facts.durationFrames !== own.durationFrames)
    misfits.push(`no timecode, and ${facts.durationFrames ?? 'no'} frames instead of ${own.durationFrames ?? 'a length that is not known'}`);
  return { item, by: isLinked ? 'linked' : 'name and length', offset: 0, misfits };
}

/** Start timecode; of frames without one their first number, where that lies in the timecode of the source. */
function startOf(
  { facts: { startFrame, sequence } }: Item,
  { facts: own }: ShotSource,
): { readonly frame: number; readonly isNumber: boolean } | null {
  if (startFrame !== null) return { frame: startFrame, isNumber: false };
  if (!sequence || own.startFrame === null || own.durationFrames === null) return null;
  const apart = sequence.firstNumber - own.startFrame;
  const isNumber = apart >= 0 && apart < own.durationFrames;
  return isNumber ? { frame: sequence.firstNumber, isNumber } : null;
}

/** Timecode begins anew at midnight: what is nearer the other way round is of the other day. */
function later(frame: number, than: number, { rate, facts: { dropFrame, kind } }: ShotSource): number {
  const apart = frame - than;
  if (kind === 'audio' || !rate) return apart;
  const day = framesPerDay(rate, dropFrame);
  return apart > day / 2 ? apart - day : apart < -day / 2 ? apart + day : apart;
}

/** Frames of the source that an item has, half-open. */
export function spanOf({ item, offset }: Held): FrameRange {
  return { start: offset, end: offset + (item.facts.durationFrames ?? 0) };
}

/** Frames that are read and that it lacks, holes of a sequence included. A still has them all. */
export function lackingFrames(held: Held, read: FrameRange): number {
  const { facts } = held.item;
  if (facts.kind === 'still') return 0;
  const beyond = totalFrames(subtract([read], [spanOf(held)]));
  const { sequence } = facts;
  if (!sequence) return beyond;
  const holes = sequence.missingRuns.reduce((sum, [first, last]) => {
    const start = Math.max(read.start, first - sequence.firstNumber + held.offset);
    const end = Math.min(read.end, last + 1 - sequence.firstNumber + held.offset);
    return sum + Math.max(0, end - start);
  }, 0);
  return beyond + holes;
}
