/** An event of a list as it stands in a document: its source timecode counted in the list's frames, or in those of its source. */
import { SOURCE_COUNTS, type EventCount, type SourceCount } from '../../project/source-count';
import type { Rate } from '../../time/rate';
import { floorToRate } from '../../time/convert';
import type { Speed } from '../../time/retime';
import { isRateNumber, rateFromNumber } from '../../time/rate';
import { isObject, type Json, type OtioObject } from './otio-types';
import { rationalTime, timeWarp } from './otio-writer';
import { ownMetadata } from './otio-values';

const IN_LIST = 'list_count';
const CHOSEN = 'source_count';
export const LABELS = 'source_labels';

/** Null for most: an event whose count nobody spoke of. */
export function eventCount(clip: OtioObject): EventCount | null {
  const own = ownMetadata(clip);
  if (own[LABELS] === undefined && own[IN_LIST] === undefined && own[CHOSEN] === undefined) return null;
  const [first, last] = Array.isArray(own[LABELS]) ? own[LABELS] : [];
  const labels = typeof first === 'string' ? ([first, typeof last === 'string' ? last : null] as const) : null;
  const isSource = keptOf(clip) !== null;
  const chosen = chosenCount(own);
  return labels || isSource || chosen ? { labels, isSource, chosen } : null;
}

/** What the user wants of an event, or of the whole list. */
export function chosenCount(own: OtioObject): SourceCount | null {
  return SOURCE_COUNTS.find((count) => count === own[CHOSEN]) ?? null;
}

export function withChosenCount<Node extends OtioObject>(node: Node, chosen: SourceCount | null): Node {
  const { [CHOSEN]: _old, ...own } = ownMetadata(node);
  return withOwn(node, chosen === null ? own : { ...own, [CHOSEN]: chosen });
}

/** First source frame at the source's own rate, and the speed that follows; `undefined` leaves the effects as they are. */
export interface CountedIn {
  readonly start: number;
  readonly rate: Rate;
  readonly speed: Speed | null | undefined;
}

/** The record length stays as it is. What stood there before is kept, so that it can be gone back to. */
export function countedBySource(clip: OtioObject, { start, rate, speed }: CountedIn): OtioObject {
  const range = clip.source_range;
  if (!isObject(range) || !isObject(range.start_time)) return clip;
  const first = rationalTime(start, rate);
  const kept: OtioObject = { counted: first, source_range: range };
  const next: OtioObject = { ...clip, source_range: { ...range, start_time: first } };
  if (speed !== undefined) {
    kept.effects = clip.effects ?? [];
    next.effects = speed === null ? [] : [timeWarp(speed.num / speed.den)];
  }
  if (Array.isArray(clip.markers) && clip.markers.length > 0) {
    kept.markers = clip.markers;
    next.markers = clip.markers.map((marker) => movedMarker(marker, range.start_time as OtioObject, start, rate));
  }
  return withOwn(next, { ...ownMetadata(clip), [IN_LIST]: kept });
}

/** As the list had it; the same where it is counted so, and where its points were set by somebody else since. */
export function countedByList(clip: OtioObject): OtioObject {
  const kept = keptOf(clip);
  if (!kept) return clip;
  const { [IN_LIST]: _kept, ...own } = ownMetadata(clip);
  const next: OtioObject = { ...clip, source_range: kept.source_range! };
  if (kept.effects !== undefined) next.effects = kept.effects;
  if (kept.markers !== undefined) next.markers = kept.markers;
  return withOwn(next, own);
}

/** What is kept of the list's own count, while the points are still those that were made of it. */
function keptOf(clip: OtioObject): OtioObject | null {
  const kept = ownMetadata(clip)[IN_LIST];
  if (!isObject(kept) || !isObject(kept.source_range) || !isObject(kept.counted) || !isObject(clip.source_range)) return null;
  const { start_time: now, duration } = clip.source_range;
  const isSame = (a: Json | undefined, b: Json | undefined) => isObject(a) && isObject(b) && a.value === b.value && a.rate === b.rate;
  return isSame(now, kept.counted) && isSame(duration, kept.source_range.duration) ? kept : null;
}

/** A mark is counted as its event: as far behind the in point as it was. */
function movedMarker(marker: Json, listIn: OtioObject, start: number, rate: Rate): Json {
  if (!isObject(marker) || !isObject(marker.marked_range)) return marker;
  const at = marker.marked_range.start_time;
  if (!isObject(at) || typeof at.value !== 'number' || typeof listIn.value !== 'number' || at.rate !== listIn.rate || !isRateNumber(at.rate)) return marker; // prettier-ignore
  const passed = floorToRate(Math.floor(at.value - listIn.value), rateFromNumber(at.rate), rate);
  return { ...marker, marked_range: { ...marker.marked_range, start_time: rationalTime(start + passed, rate) } };
}

function withOwn<Node extends OtioObject>(node: Node, own: OtioObject): Node {
  const metadata = isObject(node.metadata) ? node.metadata : {};
  const { mill_shelf: _own, ...rest } = metadata;
  return { ...node, metadata: Object.keys(own).length === 0 ? rest : { ...rest, mill_shelf: own } };
}
