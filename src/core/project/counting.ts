/**
 * Where an event counts the first frame of the item it reads. Its own reference decides; where that states no start,
 * one rule holds for all such events of a clip in a timeline: the first start under which what they read lies within
 * the media, out of what other timelines stated for the clip, the file's own timecode, and 0; of a file without timecode
 * also the whole hour that lists often begin at.
 */
import type { MediaFacts } from '../media/item';
import { ceilToRate, floorToRate } from '../time/convert';
import type { PartWord } from '../interchange/otio/source-word';
import { commonRate, nominalFps, sameRate, type Rate } from '../time/rate';
import { framesPerDay, frameToTimecode, parseTimecode } from '../time/timecode';
import { soundStart, sourceRendition, type Clip, type MediaLink } from './clip';
import { floorFrames, hoursBefore, type Moment } from './moment';
import { activeReference, clipEvents, type ClipEvent, type MediaReference, type SequencePattern, type Timeline } from './timeline';

/** What must be known of an item. */
export type CountedFacts = Pick<MediaFacts, 'kind' | 'rate' | 'startFrame'> & Partial<Pick<MediaFacts, 'durationFrames' | 'dropFrame' | 'sequence'>>;

/** What must be known of a reference, and of an event. */
export interface CountedReference extends Pick<MediaReference, 'key' | 'availableStart'> {
  readonly sequence: Pick<SequencePattern, 'startNumber' | 'step'> | null;
  /** Of a part, where it begins in its source. */
  readonly source?: { readonly part: Pick<PartWord, 'range' | 'rate'> | null };
}

export interface CountedEvent extends Pick<ClipEvent, 'sourceIn' | 'activeKey'> {
  readonly references: readonly CountedReference[];
}

/** From the first in point to the last out point of events that do not state where they count from. */
export interface UnstatedSpan {
  readonly first: Moment;
  readonly last: Moment;
  /** The same of those in the second half of a day up to the last in the first half: what a file that runs over midnight holds. */
  readonly night: { readonly first: Moment; readonly last: Moment } | null;
}

/** The start an event counts from; null where nothing tells and the item has no rate of its own. */
export function countsFrom(event: CountedEvent | null, clip: Clip, facts: CountedFacts, span: UnstatedSpan | null): Moment | null {
  const start = startOfAll(event, clip, facts, span);
  return start && event ? onItsDay(start, event.sourceIn, facts) : start;
}

/** Whether labels begin anew within the file: the start that its events count from is not the same for all. */
export function runsOverMidnight(start: Moment, facts: CountedFacts): boolean {
  if (facts.rate === null || !facts.durationFrames) return false;
  const day = dayOf(start.rate, facts);
  return modulo(start.value, day) + ceilToRate(facts.durationFrames, facts.rate, start.rate) > day;
}

/** Of a file that runs over midnight: the start on the day of the event, whose label may be after it. */
function onItsDay(start: Moment, sourceIn: Moment, facts: CountedFacts): Moment {
  if (!runsOverMidnight(start, facts)) return start;
  const day = dayOf(start.rate, facts);
  const evening = { value: modulo(start.value, day), rate: start.rate };
  return compare(sourceIn, evening) >= 0 ? evening : { value: evening.value - day, rate: start.rate };
}

function modulo(value: number, by: number): number {
  return ((value % by) + by) % by;
}

function startOfAll(event: CountedEvent | null, clip: Clip, facts: CountedFacts, span: UnstatedSpan | null): Moment | null {
  const stated = event ? statedStart(event, clip, facts) : null;
  if (stated) return soundStart(clip, stated, facts);
  const known = clip.mediaStart ? soundStart(clip, clip.mediaStart, facts) : null;
  if (!span || facts.rate === null) return known;
  const own = ownStart(clip, facts, span.first.rate);
  const zero = { value: 0, rate: facts.rate };
  // A file that runs over midnight: labels after it are of the next day.
  // What other timelines said at another rate may be a label: an event that counts in the file's own frames goes by its timecode.
  const isOwnCount = own !== null && known !== null && sameRate(span.first.rate, facts.rate) && !sameRate(known.rate, facts.rate) && facts.kind !== 'audio'; // prettier-ignore
  const starts = [
    ...(isOwnCount && own ? [own] : []),
    ...(known ? [known] : []),
    ...(own ? [own, { value: own.value - dayOf(own.rate, facts), rate: own.rate }] : []),
    zero,
  ];
  const length = facts.durationFrames ?? null;
  // A frame of another rate is rounded down: it may begin before the file does, by less than itself.
  const slack = sameRate(span.first.rate, facts.rate) ? 0 : 1;
  const first = { value: span.first.value + slack, rate: span.first.rate };
  const begins = (start: Moment) => (slack === 0 ? compare(first, start) >= 0 : compare(first, start) > 0);
  const ends = (start: Moment) => length === null || compareSum(span.last, start, { value: length, rate: lengthRate(clip, facts, start) }) <= 0;
  const within = (start: Moment) => begins(start) && ends(start);
  const hours =
    facts.startFrame === null && length !== null ? hoursBefore(span.first, facts.rate).map((value) => ({ value, rate: facts.rate! })) : [];
  const { night } = span;
  const overMidnight = (start: Moment): boolean => {
    if (!night || !runsOverMidnight(start, facts)) return false;
    const day = dayOf(start.rate, facts);
    const next = { value: modulo(start.value, day) - day, rate: start.rate };
    return compare(night.first, { value: next.value + day, rate: start.rate }) >= 0 && compareSum(night.last, next, { value: length!, rate: lengthRate(clip, facts, start) }) <= 0; // prettier-ignore
  };
  return starts.find(within) ?? hours.find(within) ?? starts.find(overMidnight) ?? starts.find(begins) ?? starts[0]!;
}

/**
 * The start that the event's reference states, of the file that is read: that may be the whole of which the reference names a
 * part, or another part. A sequence's first frame may be another than that of the item.
 */
function statedStart(event: CountedEvent, clip: Clip, facts: CountedFacts): Moment | null {
  const reference = activeReference(event);
  const start = reference?.availableStart ?? null;
  if (!start || !reference) return start;
  if (!reference.sequence || !facts.sequence) return beginsWith(start, reference, partRead(clip, facts));
  return { value: start.value - (reference.sequence.startNumber - facts.sequence.firstNumber), rate: start.rate };
}

/** Which frames of its source the file that is read holds, where it is a part. */
function partRead(clip: Clip, facts: CountedFacts): MediaLink | null {
  const links = sourceRendition(clip)?.links ?? [];
  const isSound = facts.kind === 'audio';
  const link = links.length > 1 ? links.find(({ expected }) => (expected.kind === 'audio') === isSound) : links[0];
  return link?.expected.partOf ? link : null;
}

/** `start` of the file that a reference names, as the start of another file of the same source. */
function beginsWith(start: Moment, { source }: CountedReference, link: MediaLink | null): Moment {
  const named = source?.part ?? null;
  const read = link?.expected.partOf ?? null;
  // Who says nothing of the source speaks of the file that is read.
  if (!named && !(read && (source || link?.standsForWhole))) return start;
  const at = (named ?? read)!.rate;
  const shift = (read?.range.start ?? 0) - (named?.range.start ?? 0);
  if (shift === 0) return start;
  const fine = commonRate(start.rate, at) ?? start.rate;
  const moved = floorFrames(start, fine) + Math.sign(shift) * floorFrames({ value: Math.abs(shift), rate: at }, fine);
  const whole = { value: moved, rate: fine };
  const same = { value: floorFrames(whole, start.rate), rate: start.rate };
  return compare(same, whole) === 0 ? same : whole;
}

/** The file's start timecode; where frames are found by their number, its label at the rate of the events. */
function ownStart(clip: Clip, facts: CountedFacts, units: Rate): Moment | null {
  if (facts.startFrame === null || facts.rate === null) return null;
  const own = { value: facts.startFrame, rate: facts.rate };
  if (clip.conform !== 'by-frame' || facts.kind === 'audio' || sameRate(units, facts.rate) || nominalFps(units) > 1000) return own;
  const label = parseTimecode(frameToTimecode(facts.startFrame, facts.rate, facts.dropFrame ?? false), units);
  return label.ok ? { value: label.frame, rate: units } : own;
}

function dayOf(r: Rate, facts: CountedFacts): number {
  return nominalFps(r) > 1000 ? Math.round((86_400 * r.num) / r.den) : framesPerDay(r, facts.dropFrame ?? false);
}

/** Frames found by their number last as long as the events count them. */
function lengthRate(clip: Clip, facts: CountedFacts, start: Moment): Rate {
  return clip.conform === 'by-frame' && facts.kind !== 'audio' ? start.rate : facts.rate!;
}

function compare(a: Moment, b: Moment): number {
  if (sameRate(a.rate, b.rate)) return a.value - b.value;
  return Number(BigInt(a.value) * BigInt(a.rate.den) * BigInt(b.rate.num) - BigInt(b.value) * BigInt(b.rate.den) * BigInt(a.rate.num));
}

/** `a` against `b` and a length; rounded against fitting where the rates are not multiples. */
function compareSum(a: Moment, b: Moment, length: Moment): number {
  if (sameRate(b.rate, length.rate)) return compare(a, { value: b.value + length.value, rate: b.rate });
  return ceilToRate(a.value, a.rate, length.rate) - (floorToRate(b.value, b.rate, length.rate) + length.value);
}

/** Spans of a timeline's events that state no start, by the clip each uses. Documents never change: kept with the model. */
const kept = new WeakMap<Timeline, { clipIds: readonly (string | null)[]; spans: Map<string, UnstatedSpan> }>();

export function unstatedSpans(model: Timeline, clipIds: readonly (string | null)[]): ReadonlyMap<string, UnstatedSpan> {
  const known = kept.get(model);
  if (known?.clipIds === clipIds) return known.spans;
  const all = new Map<string, Ends>();
  const halves = { morning: new Map<string, Ends>(), evening: new Map<string, Ends>() };
  for (const event of clipEvents(model.tracks)) {
    const clipId = clipIds[event.index];
    if (!clipId || activeReference(event)?.availableStart) continue;
    const { sourceIn: first, sourceDuration } = event;
    const last = sameRate(first.rate, sourceDuration.rate)
      ? { value: first.value + sourceDuration.value, rate: first.rate }
      : { value: first.value + ceilToRate(sourceDuration.value, sourceDuration.rate, first.rate), rate: first.rate };
    widen(all, clipId, first, last);
    widen(isMorning(first) ? halves.morning : halves.evening, clipId, first, last);
  }
  const spans = new Map<string, UnstatedSpan>();
  for (const [clipId, ends] of all) {
    const [first, last] = [halves.evening.get(clipId)?.first, halves.morning.get(clipId)?.last];
    spans.set(clipId, { ...ends, night: first && last ? { first, last } : null });
  }
  kept.set(model, { clipIds, spans });
  return spans;
}

interface Ends {
  readonly first: Moment;
  readonly last: Moment;
}

function widen(spans: Map<string, Ends>, clipId: string, first: Moment, last: Moment): void {
  const span = spans.get(clipId);
  if (!span) spans.set(clipId, { first, last });
  else if (compare(first, span.first) < 0 || compare(last, span.last) > 0)
    spans.set(clipId, {
      first: compare(first, span.first) < 0 ? first : span.first,
      last: compare(last, span.last) > 0 ? last : span.last,
    });
}

function isMorning({ value, rate: r }: Moment): boolean {
  return value * r.den < 43_200 * r.num;
}
