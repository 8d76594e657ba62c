/** The sources that events of a timeline name, with all that is told of each: one for all events that name it alike. */
import { readAddress } from '../interchange/otio/target-url';
import { clipObjects, toldByMetadata } from '../interchange/otio/told-metadata';
import type { OtioObject } from '../interchange/otio/otio-types';
import { sequenceName } from '../media/image-sequence';
import type { Moment } from '../project/moment';
import { activeReference, clipEvents, soundEvents, type ClipEvent, type MediaReference, type Timeline } from '../project/timeline';
import { forEachUse } from '../project/usage';
import { rateAsNumber } from '../time/rate';
import { sourceReference } from '../rendition/reference-keys';
import { lastName } from './plain-name';
import { tellingNames, widened, type ReadSpan, type Told } from './told';

export interface Source {
  readonly key: string;
  readonly told: Told;
  /** An event that names it, and its reference. */
  readonly event: ClipEvent;
  readonly reference: MediaReference;
  /** Told by a reel and its timecode alone, or by that alone. */
  readonly isNameless: boolean;
}

export interface Sources {
  readonly all: readonly Source[];
  /** By index of the event; null for one without media of its own. */
  readonly ofEvent: readonly (Source | null)[];
}

export function hasMedia({ kind }: MediaReference): boolean {
  return kind !== 'generator' && kind !== 'unknown';
}

/** The reference of the source; where that says nothing at all, the active one. Null for what has no media of its own. */
export function mediaOf(event: ClipEvent): MediaReference | null {
  const source = sourceReference(event.references, event.activeKey);
  const active = activeReference(event);
  const reference = source && (source === active || (hasMedia(source) && (source.url || source.reel))) ? source : active;
  return reference && hasMedia(reference) ? reference : null;
}

/** Events that are told by nothing but their timecode, or that and a reel, read one source while they lie so near each other. */
const NEAR_SECONDS = 2;

interface Gathered {
  readonly event: ClipEvent;
  readonly reference: MediaReference;
  readonly names: string[];
  readonly reels: string[];
  readonly isNameless: boolean;
  /** By whether they state where they count from, and where. */
  readonly reads: Map<string, ReadSpan>;
  readonly kinds: Set<string>;
}

/** `document`: the timeline's own JSON, for what its metadata says. `loose`: a clip on no track, of picture or sound. */
export function sourcesOf(model: Timeline, document: OtioObject, loose = false): Sources {
  const told = [...clipObjects(document)].map(toldByMetadata);
  const events = readEvents(model);
  const named = [...events].flatMap(([index, { event, span, kind }]): Named[] => {
    const reference = mediaOf(event);
    if (!reference) return [];
    const words = told[index] ?? { names: [], reels: [] };
    const names = namesOf(event, reference, words.names, words.isUnnamed === true);
    const reels = [...new Set([reference.reel ?? '', ...words.reels])].filter((reel) => reel !== '');
    const isNameless = !reference.url && names.length === 0;
    return [
      {
        index,
        event,
        span,
        kind: loose ? 'any' : kind,
        reference,
        names,
        reels,
        isNameless,
        base: JSON.stringify([reference.url, names, reels, reference.sequence]),
      },
    ];
  });
  // Of one reel, or of none, there may be many files: what lies apart is another source until a file tells.
  const nameless = new Map<string, Named[]>();
  for (const own of named.filter(({ isNameless }) => isNameless)) {
    const list = nameless.get(own.base);
    if (list) list.push(own);
    else nameless.set(own.base, [own]);
  }
  const numbers = new Map([...nameless.values()].flatMap((own) => [...apart(own)]));
  const gathered = new Map<string, Gathered>();
  const keys: (string | undefined)[] = [];
  for (const { index, base, span, kind, ...own } of named) {
    const number = numbers.get(index);
    const key = number === undefined ? base : `${base} ${number}`;
    keys[index] = key;
    const entry = gathered.get(key) ?? { ...own, reads: new Map<string, ReadSpan>(), kinds: new Set<string>() };
    gathered.set(key, entry);
    entry.kinds.add(kind);
    if (!span) continue;
    const start = span.start === null ? '' : JSON.stringify(span.start);
    const known = entry.reads.get(start);
    entry.reads.set(start, known ? widened(known, span) : span);
  }
  const sources = new Map(
    [...gathered].map(([key, own]): [string, Source] => [
      key,
      { key, told: toldOf(own), event: own.event, reference: own.reference, isNameless: own.isNameless },
    ]),
  );
  return { all: [...sources.values()], ofEvent: Array.from({ length: model.eventCount }, (_, index) => sources.get(keys[index] ?? '') ?? null) };
}

interface ReadEvent {
  readonly event: ClipEvent;
  readonly span: ReadSpan | null;
  readonly kind: string;
}

interface Named extends ReadEvent {
  readonly index: number;
  readonly reference: MediaReference;
  readonly names: string[];
  readonly reels: string[];
  readonly isNameless: boolean;
  readonly base: string;
}

/** What each event reads, by its index; those of which nothing is shown too. */
function readEvents(model: Timeline): Map<number, ReadEvent> {
  const sounds = soundEvents(model.tracks);
  const events = new Map<number, ReadEvent>();
  for (const event of clipEvents(model.tracks)) events.set(event.index, { event, span: null, kind: sounds.has(event.index) ? 'audio' : 'video' });
  forEachUse(model, { countDisabled: true }, ({ event, source, rate }) => {
    const known = events.get(event.index);
    // What is marked by no points reads nothing.
    if (!known || source.start >= source.end) return;
    const span = { first: { value: source.start, rate }, last: { value: source.end, rate }, start: mediaOf(event)?.availableStart ?? null };
    events.set(event.index, { ...known, span: known.span ? widened(known.span, span) : span });
  });
  return events;
}

function namesOf(event: ClipEvent, reference: MediaReference, more: readonly string[], isUnnamed: boolean): string[] {
  const address = reference.url ? (readAddress(reference.url)?.segments.at(-1) ?? lastName(reference.url)) : '';
  const own = isUnnamed ? [] : [event.name, lastName(event.name), reference.name];
  return tellingNames([reference.sequence ? sequenceLabel(reference) : lastName(address), ...more.map(lastName), ...own]);
}

/** A sequence as its item is named. */
export function sequenceLabel(reference: MediaReference): string {
  const { prefix, suffix, padding, startNumber } = reference.sequence!;
  const count = reference.availableDuration?.value ?? 1;
  return sequenceName({ prefix, suffix, padding, firstNumber: startNumber, lastNumber: startNumber + count - 1 });
}

function toldOf({ names, reels, reads, kinds, reference }: Gathered): Told {
  const { availableStart, availableDuration } = reference;
  return {
    names,
    reels,
    reads: [...reads.values()],
    wants: kinds.has('video') ? 'picture' : kinds.has('audio') ? 'sound' : 'any',
    length: availableDuration,
    // Timelines that count from 0 say nothing of the file's own timecode.
    start: availableStart && availableStart.value !== 0 ? availableStart : null,
  };
}

/** Numbers what lies apart, by index of the event: a stretch, and all that begins before `NEAR_SECONDS` after its end. */
function apart(events: readonly Named[]): ReadonlyMap<number, number> {
  const numbers = new Map<number, number>();
  let number = -1;
  let end = -Infinity;
  const read = events.flatMap(({ index, span }) => (span ? [{ index, first: secondsOf(span.first), last: secondsOf(span.last) }] : []));
  for (const { index, first, last } of read.sort((a, b) => a.first - b.first)) {
    if (first > end + NEAR_SECONDS) number++;
    end = Math.max(end, last);
    numbers.set(index, number);
  }
  return numbers;
}

/** To tell near from far alone. */
function secondsOf({ value, rate }: Moment): number {
  return value / rateAsNumber(rate);
}
