/** Two versions of a timeline, event by event: what was added, removed, moved, trimmed. */
import { floorFrames, ceilFrames } from './moment';
import type { ClipEvent, Timeline, Track } from './timeline';

export type ChangeKind = 'added' | 'removed' | 'moved' | 'trimmed' | 'retimed' | 'pushed' | 'same';

/** An event with its place; positions count frames of its own timeline from its first. */
export interface PlacedEvent {
  readonly event: ClipEvent;
  readonly track: string;
  /** Tells its track from others of the same name, nested ones too: the tracks around it, each with its number among those of its name. */
  readonly lane: string;
  readonly trackKind: Track['kind'];
  readonly start: number;
  readonly durationFrames: number;
  readonly nestedIn: readonly string[];
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
}

/**
 * Matches events of one source: first those with the same source range, then those whose ranges overlap, the most
 * overlapping first. Of the matched ones the longest run in the same order stays; an event out of it has `moved`, one
 * in it that only begins earlier or later is `pushed` by what changed before it. A trim counts before a move.
 * `keyOf` says which source an event shows; events of different sources never match.
 */
export function compareTimelines(before: Timeline, after: Timeline, keyOf: (version: 'before' | 'after', event: ClipEvent) => string): EventChange[] {
  const old = placedEvents(before);
  const now = placedEvents(after);
  const pairs = match(old, now, keyOf);
  const matchedNow = new Set(pairs.map(([, b]) => b));
  const matchedOld = new Set(pairs.map(([a]) => a));
  const inOrder = steady(pairs);
  const changes = pairs.map(([a, b]): EventChange => changeOf(a, b, inOrder.has(b)));
  for (const event of old) if (!matchedOld.has(event)) changes.push({ kind: 'removed', before: event, after: null, inShift: 0, outShift: 0 });
  for (const event of now) if (!matchedNow.has(event)) changes.push({ kind: 'added', before: null, after: event, inShift: 0, outShift: 0 });
  return changes.sort((a, b) => place(a) - place(b));
}

function place(change: EventChange): number {
  return (change.after ?? change.before)!.start;
}

/** Every event, those of nested timelines at the place where they show, as far as they show. */
export function placedEvents(timeline: Timeline): PlacedEvent[] {
  const out: PlacedEvent[] = [];
  const visit = (tracks: readonly Track[], offset: number, from: number, to: number, nestedIn: readonly string[], around: string): void => {
    const numbers = new Map<string, number>();
    for (const track of tracks) {
      const number = (numbers.get(track.name) ?? 0) + 1;
      numbers.set(track.name, number);
      const lane = `${around}/${track.name} ${number}`;
      for (const item of track.items) {
        if (item.type !== 'clip' && item.type !== 'nested') continue;
        const start = Math.max(item.start, from);
        const end = Math.min(item.start + item.durationFrames, to);
        if (end <= start) continue;
        if (item.type === 'nested') {
          const inside = item.windowStart + start - item.start;
          const name = item.name || 'Nested timeline';
          visit(item.tracks, offset + start - inside, inside, inside + end - start, [...nestedIn, name], `${lane}/${name}`);
        } else {
          out.push({ event: item, track: track.name, lane, trackKind: track.kind, start: start + offset, durationFrames: end - start, nestedIn });
        }
      }
    }
  };
  visit(timeline.tracks, 0, -Infinity, Infinity, [], '');
  return out;
}

/** Source range of an event in its own frames, half-open. */
function sourceOf({ event }: PlacedEvent): { start: number; end: number } {
  const start = floorFrames(event.sourceIn, event.units);
  return { start, end: start + ceilFrames(event.sourceDuration, event.units) };
}

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

function shownBy(entry: PlacedEvent): string {
  const { start, end } = sourceOf(entry);
  return `${start} ${end} ${entry.event.speed.num}/${entry.event.speed.den}`;
}

function placeOf({ lane, start }: PlacedEvent): string {
  return `${start} ${lane}`;
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
  const [x, y] = [sourceOf(a), sourceOf(b)];
  return Math.min(x.end, y.end) - Math.max(x.start, y.start);
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
  const [x, y] = [sourceOf(a), sourceOf(b)];
  const inShift = y.start - x.start;
  const outShift = y.end - x.end;
  const retimed =
    a.event.speed.num * b.event.speed.den !== b.event.speed.num * a.event.speed.den || JSON.stringify(a.event.map) !== JSON.stringify(b.event.map);
  const shown = a.durationFrames !== b.durationFrames && a.nestedIn.length + b.nestedIn.length > 0;
  const kind: ChangeKind = retimed
    ? 'retimed'
    : inShift !== 0 || outShift !== 0 || shown
      ? 'trimmed'
      : !isSteady
        ? 'moved'
        : a.start !== b.start
          ? 'pushed'
          : 'same';
  return { kind, before: a, after: b, inShift, outShift };
}

/** What timelines of one cut have in common: the name without its version, date or counting. */
export function timelineFamily(name: string): string {
  let plain = name.toLowerCase().normalize('NFC');
  for (let before = ''; before !== plain;) {
    before = plain;
    plain = plain.replace(/[\s_.·-]*(?:\(\d+\)|v(?:er(?:sion)?)?[\s_.-]*\d+|\d{4}-\d\d-\d\d|\d{6,8}|copy|pulled)$/u, '').trim();
  }
  return plain || name.toLowerCase();
}
