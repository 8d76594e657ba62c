/** An item held against the source that an event reads: which frames of it it has, and by what that is known. */
import type { Item } from '../../media/item';
import { foldPath } from '../../naming/fold-path';
import { subtract, totalFrames, type FrameRange } from '../../time/range';
import { nominalFps, rateLabel, sameRate, type Rate } from '../../time/rate';
import { framesPerDay } from '../../time/timecode';
import type { ShotSource } from './shot-source';

/** From what says most to what says least. */
export const HELD_BY = ['linked', 'reel, timecode and name', 'reel and timecode', 'name and timecode', 'name and frame numbers', 'name and length'] as const; // prettier-ignore
export type HeldBy = (typeof HELD_BY)[number];

/** An item held against a source, for all events that read it. */
export interface Held {
  readonly item: Item;
  readonly by: HeldBy;
  /** Frames of the source before its first one. */
  readonly offset: number;
  /** What does not agree, in words, whatever frames are read. */
  readonly misfits: readonly string[];
  /** Its numbers may be read in two ways, of which this is one: nothing tells which is meant. */
  readonly isOneOfTwo?: true;
}

/** What a choice calls it: of one file that may be read in two ways the other reading has a name of its own. */
export function heldKey({ item, by, offset, isOneOfTwo }: Held): string {
  return isOneOfTwo && by === 'name and frame numbers' ? `${item.id} from ${offset}` : item.id;
}

/** No result if only the reel fits and it is the reel of a whole day; two if its numbers can be read in two ways. */
export function heldFor(item: Item, source: ShotSource, isLinked: boolean, isNamed: boolean): Held[] {
  const { facts } = item;
  const own = source.facts;
  if (own.kind === 'still') return [{ item, by: isLinked ? 'linked' : 'name and length', offset: 0, misfits: [] }];
  const misfits: string[] = [];
  const rate = facts.rate ?? (facts.kind === 'sequence' ? source.rate : null);
  if (!source.rate || !rate || !sameRate(source.rate, rate)) {
    if (!isNamed && !isLinked) return [];
    misfits.push(`${rate ? rateLabel(rate) : 'no rate'} instead of ${source.rate ? rateLabel(source.rate) : 'a rate that is not known'}`);
    return [{ item, by: isLinked ? 'linked' : 'name and length', offset: 0, misfits }];
  }
  const sameReel = own.reel !== null && facts.reel !== null && foldPath(own.reel) === foldPath(facts.reel);
  if (own.reel !== null && facts.reel !== null && !sameReel) misfits.push('another reel');
  if (own.startFrame !== null && facts.startFrame !== null) {
    const by = isLinked ? 'linked' : sameReel ? (isNamed ? 'reel, timecode and name' : 'reel and timecode') : 'name and timecode';
    return [{ item, by, offset: later(facts.startFrame, own.startFrame, source), misfits }];
  }
  const { offsets, isPlainCount } = numbersOf(item, source);
  const [offset] = offsets;
  const isWhole = own.durationFrames !== null && facts.durationFrames === own.durationFrames;
  const numbered = offsets.map((at): Held => ({ item, by: 'name and frame numbers', offset: at, misfits }));
  const byLength: Held = { item, by: isLinked ? 'linked' : 'name and length', offset: 0, misfits };
  const oneOfTwo = (held: Held): Held => ({ ...held, isOneOfTwo: true });
  if (offset !== undefined && offsets.length === 1 && (offset === 0 || (!isWhole && !isPlainCount)))
    return isLinked ? [{ ...numbered[0]!, by: 'linked' }] : numbered;
  if (!isNamed && !isLinked) return numbered.map(oneOfTwo);
  // Numbers within the timecode of the source, which may as well be counted as numbered frames usually are.
  if (offset !== undefined) return [...(isWhole || offsets.length === 1 ? [{ ...byLength, by: 'name and length' as const }] : []), ...numbered].map(oneOfTwo); // prettier-ignore
  if (isWhole) return [byLength];
  return [{ ...byLength, misfits: [...misfits, `no timecode, and ${facts.durationFrames ?? 'no'} frames instead of ${own.durationFrames ?? 'a length that is not known'}`] }]; // prettier-ignore
}

/** Where rendered frames usually begin, whatever they are of (common practice): at 0, 1 or 1001, or at a whole hour of timecode. */
function isUsualStart(first: number, r: Rate): boolean {
  return [0, 1, 1001].includes(first) || first % (3600 * nominalFps(r)) === 0;
}

/**
 * Numbers of frames without timecode. `offsets`: frames of the source before the first one, where all numbers lie among those of
 * the source, which rendered frames usually keep, or in its timecode. `isPlainCount`: they begin where any rendered frames would.
 */
function numbersOf(
  { facts: { startFrame, sequence } }: Item,
  source: ShotSource,
): { readonly offsets: readonly number[]; readonly isPlainCount: boolean } {
  const { facts: own, rate } = source;
  if (startFrame !== null || !sequence || own.durationFrames === null) return { offsets: [], isPlainCount: false };
  const apart = [
    ...(own.sequence ? [sequence.firstNumber - own.sequence.firstNumber] : []),
    ...(own.startFrame === null ? [] : [later(sequence.firstNumber, own.startFrame, source)]),
  ];
  const length = sequence.lastNumber - sequence.firstNumber + 1;
  const offsets = [...new Set(apart)].filter((at) => at >= 0 && at + length <= own.durationFrames!);
  return { offsets, isPlainCount: offsets[0] !== 0 && rate !== null && isUsualStart(sequence.firstNumber, rate) };
}

/** Timecode begins anew at midnight: what is nearer the other way round is of the other day. */
function later(frame: number, than: number, { rate, facts: { dropFrame, kind } }: ShotSource): number {
  const apart = frame - than;
  if (kind === 'audio' || !rate) return apart;
  const day = framesPerDay(rate, dropFrame);
  return apart > day / 2 ? apart - day : apart < -day / 2 ? apart + day : apart;
}

/** Frames of the source that an item has, half-open. */
export function spanOf({ item, offset }: Pick<Held, 'item' | 'offset'>): FrameRange {
  return { start: offset, end: offset + (item.facts.durationFrames ?? 0) };
}

/** Frames that are read and that it lacks, holes of a sequence included. A still has them all. */
export function lackingFrames(held: Pick<Held, 'item' | 'offset'>, read: FrameRange): number {
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
