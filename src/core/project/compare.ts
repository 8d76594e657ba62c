/** Two versions of a timeline, event by event: what was added, removed, moved, trimmed, exchanged. */
import Fraction from 'fraction.js';
import type { FrameRange } from '../time/range';
import { sameRate } from '../time/rate';
import type { Speed } from '../time/retime';
import { ceilFrames, floorFrames, type Moment } from './moment';
import type { ClipEvent, Timeline, Track } from './timeline';
import { trimEndOf } from '../naming/trim-end';
import { collectUses, type Use } from './usage';

export type ChangeKind = 'added' | 'removed' | 'exchanged' | 'moved' | 'trimmed' | 'retimed' | 'switched' | 'pushed' | 'same';

/** An event with its place; positions count frames of its own timeline from its first. */
export interface PlacedEvent {
  readonly event: ClipEvent;
  readonly track: string;
  /** Tells its track from others of the same name, nested ones too. */
  readonly lane: string;
  readonly trackKind: Track['kind'];
  readonly start: number;
  readonly durationFrames: number;
  readonly nestedIn: readonly string[];
  /** Source frames shown, in the event's own units. */
  readonly source: FrameRange;
  /** The same counted from the first frame of the source, so that versions which count it otherwise can be compared. */
  readonly frames: FrameRange;
  /** Its speed and that of the timelines around it together; null where one of them varies. */
  readonly speed: Speed | null;
  /** What varies, as text that is the same for the same. */
  readonly varies: string;
  /** Whether it is switched on, and all that is around it. */
  readonly enabled: boolean;
}

export interface EventChange {
  readonly kind: ChangeKind;
  /** In the older version; null for what was added. */
  readonly before: PlacedEvent | null;
  /** In the newer version; null for what was removed. */
  readonly after: PlacedEvent | null;
  /** Frames by which the in and the out point changed: positive is later in the source. */
  readonly inShift: number;
  readonly outShift: number;
  /** Whether it was switched on or off beside what else changed. */
  readonly switched: 'on' | 'off' | null;
}

/**
 * Matches events of one source: first those with the same source range, then those whose ranges overlap, the most
 * overlapping first. Of the matched ones the longest run in the same order stays; an event out of it has `moved`, one
 * in it that only begins earlier or later is `pushed` by what changed before it. A trim counts before a move.
 * `keyOf` says which source an event shows; of different sources only what stands in the very place of another matches:
 * it was `exchanged`. `firstOf`: what an event counts the first frame of its source, in its own units.
 */
export function compareTimelines(
  before: Timeline,
  after: Timeline,
  keyOf: (version: 'before' | 'after', event: ClipEvent) => string,
  firstOf: (version: 'before' | 'after', event: ClipEvent) => number = () => 0,
): EventChange[] {
  const old = placedEvents(before, (event) => firstOf('before', event));
  const now = placedEvents(after, (event) => firstOf('after', event));
  const pairs = match(old, now, keyOf);
  const matchedNow = new Set(pairs.map(([, b]) => b));
  const matchedOld = new Set(pairs.map(([a]) => a));
  const inOrder = steady(pairs);
  const changes = pairs.map(([a, b]): EventChange => changeOf(a, b, inOrder.has(b)));
  // Other media where nothing else is another.
  const free = queues(now.filter((event) => !matchedNow.has(event)), cutOf); // prettier-ignore
  for (const event of old) {
    if (matchedOld.has(event)) continue;
    const instead = free.get(cutOf(event))?.next() ?? null;
    if (instead) matchedNow.add(instead);
    changes.push({ kind: instead ? 'exchanged' : 'removed', before: event, after: instead, ...UNCHANGED });
  }
  for (const event of now) if (!matchedNow.has(event)) changes.push({ kind: 'added', before: null, after: event, ...UNCHANGED });
  return changes.sort((a, b) => place(a) - place(b));
}

function place(change: EventChange): number {
  return (change.after ?? change.before)!.start;
}

/** Every event, those of nested timelines at the place where they show, as far as they show. */
export function placedEvents(timeline: Timeline, firstOf: (event: ClipEvent) => number = () => 0): PlacedEvent[] {
  return collectUses(timeline, { countDisabled: true, asPlaced: true }).map((use) => ({
    frames: countedFrom(firstOf(use.event), use.source),
    event: use.event,
    track: use.trackName,
    lane: use.lane,
    trackKind: use.trackKind,
    start: use.recordStart,
    durationFrames: use.durationFrames,
    nestedIn: use.nestedIn,
    source: use.source,
    speed: speedOf(use),
    varies: variesBy(use),
    enabled: use.enabled,
  }));
}

function countedFrom(first: number, { start, end }: FrameRange): FrameRange {
  return { start: start - first, end: end - first };
}

function speedOf({ event, retimedIn }: Use): Speed | null {
  if (event.map || event.retimeUnknown || retimedIn.some((around) => around.map)) return null;
  if (retimedIn.length === 0) return event.speed;
  const product = [event, ...retimedIn].reduce((all, { speed }) => all.mul(new Fraction(BigInt(speed.num), BigInt(speed.den))), new Fraction(1));
  return { num: Number(product.s * product.n), den: Number(product.d) };
}

function variesBy({ event, retimedIn }: Use): string {
  const maps = [event, ...retimedIn].filter((around) => around.map).map((around) => around.map);
  return maps.length === 0 ? '' : JSON.stringify(maps);
}

const UNCHANGED = { inShift: 0, outShift: 0, switched: null } as const;

const MOST_COMPARED = 1500;

type Pair = readonly [PlacedEvent, PlacedEvent];

function match(old: readonly PlacedEvent[], now: readonly PlacedEvent[], keyOf: (version: 'before' | 'after', event: ClipEvent) => string): Pair[] {
  const group = (events: readonly PlacedEvent[], version: 'before' | 'after') => {
    const groups = new Map<string, PlacedEvent[]>();
    for (const entry of events) {
      const key = `${entry.trackKind} ${keyOf(version, entry.event)}`;
      const list = groups.get(key);
      if (list) list.push(entry);
      else groups.set(key, [entry]);
    }
    return groups;
  };
  const pairs: Pair[] = [];
  const later = group(now, 'after');
  for (const [key, list] of group(old, 'before')) pairs.push(...matchGroup(list, later.get(key) ?? []));
  return pairs;
}

function matchGroup(old: readonly PlacedEvent[], now: readonly PlacedEvent[]): Pair[] {
  const pairs: Pair[] = [];
  let rest = [...old];
  const taken = new Set<PlacedEvent>();
  // Of events that show the same, first those that stand still, then those of one track in their order, then the others.
  for (const where of [placeOf, laneOf, () => '']) {
    const waiting = queues(
      now.filter((entry) => !taken.has(entry)),
      (entry) => `${shownBy(entry)} ${where(entry)}`,
    );
    rest = rest.filter((entry) => {
      const found = waiting.get(`${shownBy(entry)} ${where(entry)}`)?.next();
      if (!found) return true;
      taken.add(found);
      pairs.push([entry, found]);
      return false;
    });
  }
  const open = now.filter((entry) => !taken.has(entry));
  // A source that fills a timeline with thousands of changed pieces is matched as far as its first ones.
  const overlaps = rest
    .slice(0, MOST_COMPARED)
    .flatMap((a) => open.slice(0, MOST_COMPARED).map((b) => ({ a, b, frames: overlap(a, b) })))
    .filter(({ frames }) => frames > 0);
  overlaps.sort((x, y) => y.frames - x.frames || distance(x.a, x.b) - distance(y.a, y.b));
  const matched = new Set<PlacedEvent>();
  for (const { a, b } of overlaps) {
    if (matched.has(a) || matched.has(b)) continue;
    matched.add(a).add(b);
    pairs.push([a, b]);
  }
  return pairs;
}

function shownBy({ frames, speed }: PlacedEvent): string {
  return `${frames.start} ${frames.end} ${speed ? speed.num / speed.den : 'varies'}`;
}

function placeOf({ lane, start }: PlacedEvent): string {
  return `${start} ${lane}`;
}

function cutOf({ lane, start, durationFrames, trackKind }: PlacedEvent): string {
  return `${trackKind} ${start} ${durationFrames} ${lane}`;
}

function laneOf({ lane }: PlacedEvent): string {
  return lane;
}

/** The events of each key, handed out in the order of their places. */
function queues(events: readonly PlacedEvent[], keyOf: (entry: PlacedEvent) => string): Map<string, { next(): PlacedEvent | undefined }> {
  const lists = new Map<string, PlacedEvent[]>();
  for (const entry of [...events].sort((a, b) => a.start - b.start)) {
    const list = lists.get(keyOf(entry));
    if (list) list.push(entry);
    else lists.set(keyOf(entry), [entry]);
  }
  return new Map(
    [...lists].map(([key, list]) => {
      let at = 0;
      return [key, { next: () => list[at++] }];
    }),
  );
}

function distance(a: PlacedEvent, b: PlacedEvent): number {
  return Math.abs(a.start - b.start) + (a.lane === b.lane ? 0 : 1e9);
}

function overlap(a: PlacedEvent, b: PlacedEvent): number {
  return Math.min(a.frames.end, b.frames.end) - Math.max(a.frames.start, b.frames.start);
}

/** The newer events of the longest run of pairs that stand in the same order on the same track in both versions. */
function steady(pairs: readonly Pair[]): Set<PlacedEvent> {
  const keep = new Set<PlacedEvent>();
  const byTrack = new Map<string, Pair[]>();
  for (const pair of pairs) {
    if (pair[0].lane !== pair[1].lane) continue;
    const list = byTrack.get(pair[0].lane);
    if (list) list.push(pair);
    else byTrack.set(pair[0].lane, [pair]);
  }
  for (const list of byTrack.values()) {
    const sorted = [...list].sort((x, y) => x[0].start - y[0].start);
    for (const index of longestIncreasing(sorted.map((pair) => pair[1].start))) keep.add(sorted[index]![1]);
  }
  return keep;
}

/** Indices of a longest strictly increasing run (patience sorting). */
function longestIncreasing(values: readonly number[]): number[] {
  const tails: number[] = [];
  const before: number[] = [];
  values.forEach((value, index) => {
    let low = 0;
    let high = tails.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (values[tails[middle]!]! < value) low = middle + 1;
      else high = middle;
    }
    before[index] = low > 0 ? tails[low - 1]! : -1;
    tails[low] = index;
  });
  const out: number[] = [];
  for (let at = tails.at(-1) ?? -1; at >= 0; at = before[at]!) out.push(at);
  return out.reverse();
}

function changeOf(a: PlacedEvent, b: PlacedEvent, isSteady: boolean): EventChange {
  const inShift = b.frames.start - a.frames.start;
  const outShift = b.frames.end - a.frames.end;
  const retimed = !sameSpeed(a.speed, b.speed) || a.varies !== b.varies;
  // A frame less of a slow event may be the same source frames; where windows cut, what they show counts.
  const shown =
    a.nestedIn.length + b.nestedIn.length > 0 ? a.durationFrames !== b.durationFrames : !sameMoment(a.event.sourceDuration, b.event.sourceDuration);
  const switched = a.enabled === b.enabled ? null : b.enabled ? 'on' : 'off';
  const kind: ChangeKind = retimed
    ? 'retimed'
    : inShift !== 0 || outShift !== 0 || shown
      ? 'trimmed'
      : switched
        ? 'switched'
        : !isSteady
          ? 'moved'
          : a.start !== b.start
            ? 'pushed'
            : 'same';
  return { kind, before: a, after: b, inShift, outShift, switched };
}

function sameMoment(a: Moment, b: Moment): boolean {
  return sameRate(a.rate, b.rate) ? a.value === b.value : floorFrames(a, b.rate) === b.value && ceilFrames(a, b.rate) === b.value;
}

function sameSpeed(a: Speed | null, b: Speed | null): boolean {
  return a === null || b === null ? a === b : a.num * b.den === b.num * a.den;
}

/** What timelines of one cut have in common: the name without its version, date or counting. */
export function timelineFamily(name: string): string {
  let plain = name.toLowerCase().normalize('NFC');
  for (let before = ''; before !== plain;) {
    before = plain;
    const own = plain.replace(/(?:\(\d+\)|v(?:er(?:sion)?)?[\s_.-]*\d+|\d{4}-\d\d-\d\d|\d{6,8}|copy|pulled|exchanged|before the exchange)$/u, '');
    if (own !== plain) plain = trimEndOf(own, /[\s_.·-]/).trim();
  }
  return plain || name.toLowerCase();
}
