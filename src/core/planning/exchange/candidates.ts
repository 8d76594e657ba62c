/** Which items can stand for what an event reads: by reel and timecode, then by name. */
import { fileName, placeKey, type Item } from '../../media/item';
import { foldPath } from '../../naming/fold-path';
import { splitExtension } from '../../naming/safe-name';
import { trimEndOf } from '../../naming/trim-end';
import { endingsOf, stemsOf } from '../../rendition/name-rules';
import { subtract, totalFrames, type FrameRange } from '../../time/range';
import { rateLabel, sameRate } from '../../time/rate';
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

export interface Candidates {
  readonly byReel: ReadonlyMap<string, readonly Item[]>;
  readonly byStem: ReadonlyMap<string, readonly Item[]>;
}

export function candidatesOf(items: readonly Item[], endings: string): Candidates {
  const byReel = new Map<string, Item[]>();
  const byStem = new Map<string, Item[]>();
  const own = endingsOf(endings);
  for (const item of items) {
    if (item.facts.reel !== null) add(byReel, foldPath(item.facts.reel), item);
    for (const stem of stemsOf(nameOf(item), own)) add(byStem, stem, item);
  }
  return { byReel, byStem };
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
export class HeldAgainst {
  private readonly few: readonly Held[];
  /** Known by reel and timecode alone, which many may be, by where they begin. */
  private readonly many: readonly Held[];
  private readonly longest: number;

  constructor(all: readonly Held[]) {
    this.few = all.filter(({ by }) => by !== 'reel and timecode');
    this.many = all.filter(({ by }) => by === 'reel and timecode').sort((a, b) => a.offset - b.offset);
    this.longest = this.many.reduce((most, { item }) => Math.max(most, item.facts.durationFrames ?? 0), 0);
  }

  /** Those that may hold a frame of a range; what is known by its name always may. */
  reaching({ start, end }: FrameRange): Held[] {
    let low = 0;
    for (let high = this.many.length; low < high;) {
      const middle = (low + high) >> 1;
      if (this.many[middle]!.offset + this.longest > start) high = middle;
      else low = middle + 1;
    }
    const found = [...this.few];
    for (let at = low; at < this.many.length && this.many[at]!.offset < end; at++) if (spanOf(this.many[at]!).end > start) found.push(this.many[at]!);
    return found;
  }
}

/** `linked`: what stands beside the clip already. */
export function heldAgainst(source: ShotSource, clipName: string, from: Candidates, linked: readonly Item[], sound: boolean): HeldAgainst {
  const stems = new Set([source.item ? nameOf(source.item) : source.name, clipName].map((name) => foldPath(splitExtension(name)[0])));
  const named = new Set([...stems].flatMap((stem) => from.byStem.get(stem) ?? []));
  const reel = source.facts.reel === null ? [] : (from.byReel.get(foldPath(source.facts.reel)) ?? []);
  const own = source.link.place ? placeKey(source.link.place) : null;
  const print = source.item?.fingerprint ?? source.link.expected.fingerprint;
  const others = [...new Set([...linked, ...named, ...reel])].filter(
    ({ place, fingerprint, facts }) => placeKey(place) !== own && (fingerprint === null || fingerprint !== print) && carries(facts, sound, source),
  );
  return new HeldAgainst(others.flatMap((item) => held(item, source, linked.includes(item), named.has(item)) ?? []));
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
