/** Where a part of an item lies in the count of an event that reads it. */
import { isObject, type OtioObject } from '../../interchange/otio/otio-types';
import type { PartWord } from '../../interchange/otio/source-word';
import { rationalTime, timeRange } from '../../interchange/otio/otio-writer';
import type { MediaFacts } from '../../media/item';
import { countsFrom } from '../../project/counting';
import { ceilFrames, floorFrames, moment, type Moment } from '../../project/moment';
import { totalFrames, type FrameRange } from '../../time/range';
import { commonRate, isRateNumber, rateFromNumber, type Rate } from '../../time/rate';
import type { EventUse } from '../taking/event-use';

/** Whether an event finds the frames of an item by their number. */
export function countsByFrame(facts: Pick<MediaFacts, 'kind'>, counted: EventUse | null): boolean {
  return counted?.clip.conform === 'by-frame' && facts.kind !== 'audio' && counted.use.trackKind !== 'audio';
}

export type CountedItem = Pick<MediaFacts, 'kind' | 'rate' | 'startFrame' | 'durationFrames' | 'dropFrame' | 'sequence'>;

/**
 * The available range of a part: at the event's rate where that is exact, else at the item's, else at one that both
 * divide, so that a start between two frames of the item is no frame off. `range` counts frames of the item from 0,
 * half-open. Null where the item has no length.
 */
export function countedRange(facts: CountedItem, range: FrameRange, counted: EventUse | null, units: Rate): OtioObject | null {
  if (facts.durationFrames === null) return null;
  // Found by their number, frames are counted at the rate of the events, frame for frame.
  const byFrame = countsByFrame(facts, counted);
  const rate = byFrame ? units : (facts.rate ?? units);
  // A part that is read for the whole is counted as the whole is.
  const whole = counted?.within;
  const of = whole?.use ?? counted;
  const start = of ? countsFrom(of.use.event, of.clip, whole?.facts ?? facts, of.span) : null;
  const begin = start ?? { value: byFrame ? 0 : ((whole?.facts ?? facts).startFrame ?? 0), rate };
  const fine = commonRate(begin.rate, rate) ?? rate;
  const first = { value: floorFrames(begin, fine) + floorFrames({ value: range.start + (whole?.start ?? 0), rate }, fine), rate: fine };
  const length = { value: totalFrames([range]), rate };
  const isWhole = (value: Moment, at: Rate) => floorFrames(value, at) === ceilFrames(value, at);
  const at = [units, rate].find((one) => isWhole(first, one) && isWhole(length, one));
  if (at) return timeRange(floorFrames(first, at), floorFrames(length, at), at);
  return { ...timeRange(first.value, length.value, fine), duration: rationalTime(length.value, rate) };
}

/**
 * The available range of a reference to one file of a source, as that of another: `from` and `to` say which frames of the
 * source each holds, null for all. Null where it stated none.
 */
export function movedRange(
  available: OtioObject | null,
  from: PartWord | null,
  to: PartWord | null,
  facts: Pick<MediaFacts, 'durationFrames' | 'rate'>,
): OtioObject | null {
  const start = available && isObject(available.start_time) ? available.start_time : null;
  const shift = (to?.range.start ?? 0) - (from?.range.start ?? 0);
  const at = (from ?? to)?.rate ?? facts.rate;
  const isSame = shift === 0 && (from?.range.end ?? -1) === (to?.range.end ?? -1);
  if (isSame || !at || facts.durationFrames === null || !start || typeof start.value !== 'number' || !isRateNumber(start.rate)) return available;
  const counted = rateFromNumber(start.rate);
  const fine = commonRate(counted, at) ?? counted;
  const moved = floorFrames(moment(start.value, counted), fine) + Math.sign(shift) * floorFrames({ value: Math.abs(shift), rate: at }, fine);
  const begin = { value: moved, rate: fine };
  const length = { value: facts.durationFrames, rate: at };
  const isWhole = (value: Moment, one: Rate) => floorFrames(value, one) === ceilFrames(value, one);
  const both = [counted, at].find((one) => isWhole(begin, one) && isWhole(length, one));
  if (both) return timeRange(floorFrames(begin, both), floorFrames(length, both), both);
  return { ...timeRange(begin.value, length.value, fine), duration: rationalTime(length.value, at) };
}
