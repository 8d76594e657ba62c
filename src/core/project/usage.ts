/** Which frames of which clip a timeline reads. Everything that trims, copies or throws away stands on this. */
import Fraction from 'fraction.js';
import { ceilToRate, floorToRate, rangeToRate } from '../time/convert';
import { unite, type FrameRange, type RangeSet } from '../time/range';
import { sameRate, type Rate } from '../time/rate';
import { isNormal, sourceInterval, type Retime, type SourceInterval } from '../time/retime';
import type { MediaFacts } from '../media/item';
import type { Conform } from './clip';
import { ceilFrames, floorFrames, type Moment } from './moment';
import { activeReference, type ClipEvent, type NestedStack, type Timeline, type Track, type TrackItem } from './timeline';

export interface UsageOptions {
  /** Count events and tracks that are switched off. */
  readonly countDisabled: boolean;
  /** What stands on the timeline, for lists and comparisons: without what transitions show of it beside its cuts, and slow events by their record length alone. */
  readonly asPlaced?: boolean;
}

/** One reading of source frames by one event. */
export interface Use {
  readonly event: ClipEvent;
  readonly trackName: string;
  readonly trackKind: Track['kind'];
  /** Tells its track from others of the same name, nested ones too: the tracks around it, each with its number among those of its name. */
  readonly lane: string;
  /** Whether it is switched on, and all that is around it. */
  readonly enabled: boolean;
  /** Names of the nested timelines around the event, outermost first. */
  readonly nestedIn: readonly string[];
  /** Their retimings, but for normal speed. */
  readonly retimedIn: readonly Retime[];
  /** Position and length on the outermost timeline, frames at its rate. Below a retimed nesting that runs backwards or varies: its own. */
  readonly recordStart: number;
  readonly durationFrames: number;
  /** Whole source frames read, as the event counts them (media start included), at `rate`. Transitions are in it. */
  readonly source: FrameRange;
  readonly rate: Rate;
  /** `source` before rounding; null if it has whole frames. Pictures hold one frame from their last position on. */
  readonly exact: SourceInterval | null;
}

/** Where tracks stand on the outermost timeline. */
interface Around {
  readonly nestedIn: readonly string[];
  readonly retimedIn: readonly Retime[];
  readonly lane: string;
  readonly enabled: boolean;
  /** Record frame of a frame of theirs. */
  readonly toRecord: (frame: number) => number;
  /** Length on the outermost timeline where toRecord cannot tell it. */
  readonly durationFrames: number | null;
}

/** What itemRange must know of a use. */
export type UsePart = Pick<Use, 'source' | 'rate'> & Partial<Pick<Use, 'exact' | 'trackKind'>> & { readonly event?: Pick<ClipEvent, 'sourceIn'> };

const EVERYTHING: FrameRange = { start: -Number.MAX_SAFE_INTEGER, end: Number.MAX_SAFE_INTEGER };
const OUTERMOST: Around = { nestedIn: [], retimedIn: [], lane: '', enabled: true, toRecord: (frame) => frame, durationFrames: null };

/** Every use of every clip event of a timeline, nested timelines at any depth included. */
export function collectUses(timeline: Timeline, options: UsageOptions): Use[] {
  const uses: Use[] = [];
  forEachUse(timeline, options, (use) => uses.push(use));
  return uses;
}

/** Like `collectUses`, one by one: a production of a million events need not lie in memory twice. */
export function forEachUse(timeline: Timeline, options: UsageOptions, tell: (use: Use) => void): void {
  const timelineRate = timeline.rate;
  const placed = options.asPlaced === true;
  visit(timeline.tracks, EVERYTHING, OUTERMOST);

  /** `window`: the part of these tracks that is shown, in frames of the timeline. */
  function visit(tracks: readonly Track[], window: FrameRange, around: Around): void {
    const numbers = new Map<string, number>();
    for (const track of tracks) {
      const number = (numbers.get(track.name) ?? 0) + 1;
      numbers.set(track.name, number);
      if (!track.enabled && !options.countDisabled) continue;
      const lane = `${around.lane}/${track.name} ${number}`;
      const on = around.enabled && track.enabled;
      const { items } = track;
      for (let index = 0; index < items.length; index++) {
        const item = items[index]!;
        if (item.type !== 'clip' && item.type !== 'nested') continue;
        if (!item.enabled && !options.countDisabled) continue;
        const early = placed ? 0 : earlyFrames(items[index - 1], timelineRate);
        const late = placed ? 0 : lateFrames(items[index + 1], timelineRate);
        const start = Math.max(item.start - early, window.start);
        const end = Math.min(item.start + item.durationFrames + (item.aligned ? 0 : 1) + late, window.end);
        if (start >= end) continue;
        const enabled = on && item.enabled;
        if (item.type === 'nested') {
          enter(item, { start, end }, { ...around, lane, enabled });
          continue;
        }
        const { source, exact } = readBy(
          item,
          start - item.start,
          end - item.start,
          early > 0,
          late > 0,
          timelineRate,
          track.kind === 'audio',
          placed,
        );
        const recordStart = Math.max(item.start, window.start);
        const recordEnd = Math.min(item.start + item.durationFrames, window.end);
        tell({
          event: item,
          trackName: track.name,
          trackKind: track.kind,
          lane,
          enabled,
          nestedIn: around.nestedIn,
          retimedIn: around.retimedIn,
          recordStart: around.toRecord(recordStart),
          durationFrames: around.durationFrames ?? around.toRecord(recordEnd) - around.toRecord(recordStart),
          source,
          rate: item.units,
          exact,
        });
      }
    }
  }

  function enter(item: NestedStack, shown: FrameRange, around: Around): void {
    const { toRecord } = around;
    const isRetimed = item.retimeUnknown || item.map !== null || !isNormal(item.speed);
    const name = item.name || 'Nested timeline';
    const inside: Around = {
      ...around,
      lane: `${around.lane}/${name}`,
      nestedIn: [...around.nestedIn, name],
      retimedIn: isRetimed ? [...around.retimedIn, { speed: item.speed, map: item.map }] : around.retimedIn,
    };
    // Where the inside has no position of its own.
    const allOfIt = { toRecord: () => toRecord(shown.start), durationFrames: around.durationFrames ?? toRecord(shown.end) - toRecord(shown.start) };
    // Between the frames of the timeline the inside is shifted by a part of one: wider by one on either side.
    const from = shown.start - item.start - (item.aligned ? 0 : 1);
    const to = shown.end - item.start + (item.aligned ? 0 : 1) + (item.windowAligned ? 0 : 1);
    // What the effect does is not told: all that is inside may be shown.
    if (item.retimeUnknown) return visit(item.tracks, EVERYTHING, { ...inside, ...allOfIt });
    if (!isRetimed) {
      const window = { start: item.windowStart + from, end: item.windowStart + to };
      return visit(item.tracks, window, { ...inside, toRecord: (frame) => toRecord(frame - item.windowStart + item.start) });
    }
    // What is inside may be picture or sound: the wider of both readings.
    const { start, end } = sourceInterval(item, item.durationFrames, from, to, false);
    const { speed, map } = item;
    const last = Math.max(whole(end.ceil()), placed ? 0 : secondEnd(item, item.durationFrames, from, to));
    const window = { start: item.windowStart + whole(start.floor()), end: item.windowStart + last };
    const forward = !map && speed.num > 0;
    const position = (frame: number) => toRecord(item.start + Math.floor(((frame - item.windowStart) * speed.den) / speed.num));
    visit(item.tracks, window, { ...inside, ...(forward ? { toRecord: position } : allOfIt) });
  }
}

/**
 * Formats and their readers differ on whether the range of a slow event is record or source length: both count. Where the
 * record part [from, to) of `lengthFrames` ends in the source if it is source length; 0 at other speeds.
 */
function secondEnd({ speed, map }: Retime, lengthFrames: number, from: number, to: number): number {
  const isSlow = !map && speed.num !== 0 && Math.abs(speed.num) < speed.den;
  if (!isSlow) return 0;
  return speed.num > 0 ? Math.min(to, lengthFrames) : lengthFrames - Math.max(from, 0);
}

/** A transition shows the incoming clip `inOffset` before the cut and the outgoing one `outOffset` after it. */
function earlyFrames(before: TrackItem | undefined, timelineRate: Rate): number {
  return before?.type === 'transition' ? ceilFrames(before.inOffset, timelineRate) : 0;
}

function lateFrames(after: TrackItem | undefined, timelineRate: Rate): number {
  return after?.type === 'transition' ? ceilFrames(after.outOffset, timelineRate) : 0;
}

function whole(value: Fraction): number {
  return Number(value.s * value.n);
}

/** Value of a moment in frames at `r`, exactly. */
function fractionAt(m: Moment, r: Rate): Fraction {
  return new Fraction(BigInt(m.value) * BigInt(m.rate.den) * BigInt(r.num), BigInt(m.rate.num) * BigInt(r.den));
}

/**
 * Source frames read by the record part [from, to) of an event, timeline frames from its begin: negative or beyond
 * its end where a transition shows more.
 */
function readBy(
  event: ClipEvent,
  from: number,
  to: number,
  shownBefore: boolean,
  shownAfter: boolean,
  timelineRate: Rate,
  sound: boolean,
  placed: boolean,
): { source: FrameRange; exact: SourceInterval | null } {
  const { units, sourceIn } = event;
  const sameUnits = units.num === timelineRate.num && units.den === timelineRate.den;
  const wholeIn = sourceIn.rate === units || sameRate(sourceIn.rate, units);
  const lengthFrames = ceilFrames(event.sourceDuration, units);
  // The event may begin inside a timeline frame: what is cut off at its head is a frame less.
  const head = !event.aligned && (from > 0 || shownBefore) ? from - 1 : from;
  const beyond = to - event.durationFrames;
  const first = sameUnits ? head : floorToRate(head, timelineRate, units);
  const after = shownAfter && beyond > 0 ? (sameUnits ? beyond : ceilToRate(beyond, timelineRate, units)) : 0;
  const last = beyond >= 0 ? lengthFrames + after : Math.min(lengthFrames, sameUnits ? to : ceilToRate(to, timelineRate, units));
  if (isNormal(event.speed) && !event.map && wholeIn && !event.retimeUnknown)
    return { source: { start: sourceIn.value + first, end: sourceIn.value + last }, exact: null };
  return readRetimed(event, lengthFrames, first, last, sound, placed);
}

function readRetimed(event: ClipEvent, lengthFrames: number, first: number, last: number, sound: boolean, placed: boolean) {
  const { units } = event;
  const inPoint = fractionAt(event.sourceIn, units);
  const interval = sourceInterval(event, lengthFrames, first, last, sound);
  let start = inPoint.add(interval.start);
  let end = inPoint.add(interval.end);
  const second = placed ? 0 : secondEnd(event, lengthFrames, first, last);
  if (second > 0) end = later(end, inPoint.add(second));
  const available = event.retimeUnknown ? activeReference(event) : null;
  if (available?.availableStart && available.availableDuration) {
    const mediaStart = fractionAt(available.availableStart, units);
    const mediaEnd = mediaStart.add(fractionAt(available.availableDuration, units));
    if (mediaStart.compare(start) < 0) start = mediaStart;
    end = later(end, mediaEnd);
  }
  return { source: { start: whole(start.floor()), end: whole(end.ceil()) }, exact: { start, end } };
}

function later(a: Fraction, b: Fraction): Fraction {
  return a.compare(b) < 0 ? b : a;
}

/**
 * Item frames (from 0 at the file's first frame) that a use reads. The event counts from `mediaStart` where the
 * timeline states it; otherwise from the file's own timecode if the use lies at or above it, else from 0.
 * Rounded outwards at the item's rate, sound on the sample; not clamped to the file. Pictures of an item at another
 * rate take the frames on both sides of a position between two of them.
 */
export function itemRange(
  use: UsePart,
  mediaStart: Moment | null,
  facts: Pick<MediaFacts, 'rate' | 'startFrame'> & Partial<Pick<MediaFacts, 'kind'>>,
  conform: Conform = 'by-time',
): FrameRange {
  const rate = facts.rate ?? use.rate;
  // Sound is found by its time, always: its samples have no picture numbers.
  const byFrame = conform === 'by-frame' && use.trackKind !== 'audio' && facts.kind !== 'audio';
  // Frame for frame: the item is counted as if it had the rate of the event.
  const counts = byFrame ? use.rate : rate;
  const picture = use.trackKind !== 'audio';
  if (!use.exact && (!mediaStart || sameRate(mediaStart.rate, use.rate))) {
    const offset = mediaStart?.value ?? 0;
    const from = { start: use.source.start - offset, end: use.source.end - offset };
    const lastShown = picture ? ceilToRate(from.end - 1, use.rate, counts) : null;
    const range = sameRate(use.rate, counts) ? from : bothSides(rangeToRate(from, use.rate, counts), lastShown);
    return mediaStart ? range : fromOwnTimecode(range, use, rate, facts);
  }
  const exact = use.exact ?? { start: new Fraction(use.source.start), end: new Fraction(use.source.end) };
  const offset = mediaStart ? fractionAt(mediaStart, use.rate) : new Fraction(0);
  const inItem = (position: Fraction) =>
    position.sub(offset).mul(new Fraction(BigInt(counts.num) * BigInt(use.rate.den), BigInt(counts.den) * BigInt(use.rate.num)));
  const range = { start: whole(inItem(exact.start).floor()), end: whole(inItem(exact.end).ceil()) };
  const sides = bothSides(range, picture && !sameRate(use.rate, counts) ? whole(inItem(exact.end.sub(1)).ceil()) : null);
  return mediaStart ? sides : fromOwnTimecode(sides, use, rate, facts);
}

/**
 * By how many frames everything that is read like this use is moved to be item frames: the same as itemRange for each,
 * where both count at one rate. Null where every use must be reckoned for itself.
 */
export function itemShift(
  { rate, trackKind }: Pick<Use, 'rate' | 'trackKind'>,
  mediaStart: Moment | null,
  facts: Pick<MediaFacts, 'rate' | 'startFrame' | 'kind'>,
  conform: Conform,
): number | null {
  const byFrame = conform === 'by-frame' && trackKind !== 'audio' && facts.kind !== 'audio';
  if (facts.rate !== null && !byFrame && !sameRate(facts.rate, rate)) return null;
  // Without a start the in point of each tells whether the file's own timecode is counted from.
  if (!mediaStart) return facts.startFrame ? null : 0;
  return sameRate(mediaStart.rate, rate) ? -mediaStart.value : null;
}

/** `lastFrame`: the item frame at or after the last position shown. */
function bothSides(range: FrameRange, lastFrame: number | null): FrameRange {
  return lastFrame === null || lastFrame < range.end ? range : { start: range.start, end: lastFrame + 1 };
}

/** The in point decides, not the range: a transition may begin before the media does. */
function fromOwnTimecode(range: FrameRange, use: UsePart, rate: Rate, facts: Pick<MediaFacts, 'startFrame'>): FrameRange {
  const own = facts.startFrame ?? 0;
  const base = (use.event ? floorFrames(use.event.sourceIn, rate) : range.start) >= own ? own : 0;
  return { start: range.start - base, end: range.end - base };
}

/** Union of all uses, in item frames. */
export function usedRanges(
  uses: readonly UsePart[],
  mediaStart: Moment | null,
  facts: Pick<MediaFacts, 'rate' | 'startFrame'>,
  conform: Conform = 'by-time',
): RangeSet {
  return unite(uses.map((use) => itemRange(use, mediaStart, facts, conform)));
}
