/**
 * What a timeline reads of its clips, in columns: made once from its model, and then enough to find the frames that are
 * used without reading the timeline again. A million of them lie in 35 MB.
 */
import Fraction from 'fraction.js';
import type { Rate } from '../time/rate';
import { unstatedSpans, type CountedEvent, type CountedReference, type UnstatedSpan } from './counting';
import { activeReference, type Timeline } from './timeline';
import { forEachUse, type Use } from './usage';

/** A use as far as it must be known to find its frames, and who it is. */
export interface ReadUse extends Pick<Use, 'trackName' | 'trackKind' | 'nestedIn' | 'recordStart' | 'source' | 'rate' | 'exact'> {
  readonly event: CountedEvent & { readonly index: number; readonly name: string };
}

/** Tracks and the nested timelines around them. */
type Lane = Pick<Use, 'trackName' | 'trackKind' | 'nestedIn'>;

/** Plain values and typed arrays only, so that it can be kept anywhere. Rows are uses of clips, switched off ones too. */
export interface TimelineReads {
  /** Clips of all events, those too of which nothing is shown. */
  readonly clipIds: readonly string[];
  /** By clip; see counting.ts. */
  readonly spans: readonly (UnstatedSpan | null)[];
  readonly names: readonly string[];
  readonly rates: readonly Rate[];
  readonly lanes: readonly Lane[];
  readonly references: readonly (readonly CountedReference[])[];
  /** COLUMNS numbers a row. */
  readonly places: Int16Array | Int32Array;
  /** FRAMES numbers a row: first and after the last source frame, in point, position on the record. */
  readonly frames: Int32Array | Float64Array;
  /** Bounds that are no whole frames, as fractions, by row. */
  readonly exact: ReadonlyMap<number, readonly [start: string, end: string]>;
}

/** Numbers of a row in `places`: event, clip, name, lane, reference, rate of the source, rate of the in point, item the event names (or -1), whether it is on. */
export const COLUMNS = 9;
export const FRAMES = 4;

/** What `model` reads, given the clip of each event by its index, and the item of it that the event names. */
export function readsOf(model: Timeline, clipIds: readonly (string | null)[], positions: readonly (number | null)[] = []): TimelineReads {
  const spans = unstatedSpans(model, clipIds);
  const clips = new Table<string>((id) => id);
  const names = new Table<string>((name) => name);
  const rates = new Table<Rate>(({ num, den }) => `${num}/${den}`);
  const lanes = new Table<Lane>((lane) => JSON.stringify(lane));
  const references = new Table<readonly CountedReference[]>(referenceKey);
  const places: number[] = [];
  const frames: number[] = [];
  const exact = new Map<number, [string, string]>();
  let row = 0;
  // Uses of one track follow each other.
  let lane: Lane | null = null;
  let laneIndex = -1;
  forEachUse(model, { countDisabled: true }, (use) => {
    const { event, trackName, trackKind, nestedIn, source } = use;
    const clipId = clipIds[event.index] ?? null;
    if (clipId === null) return;
    if (lane?.trackName !== trackName || lane.trackKind !== trackKind || lane.nestedIn !== nestedIn) {
      lane = { trackName, trackKind, nestedIn };
      laneIndex = lanes.at(lane);
    }
    places.push(
      event.index,
      clips.at(clipId),
      names.at(event.name),
      laneIndex,
      references.at(countedBy(activeReference(event))),
      rates.at(use.rate),
      rates.at(event.sourceIn.rate),
      positions[event.index] ?? -1,
      use.enabled ? 1 : 0,
    );
    frames.push(source.start, source.end, event.sourceIn.value, use.recordStart);
    if (use.exact) exact.set(row, [use.exact.start.toFraction(), use.exact.end.toFraction()]);
    row++;
  });
  for (const id of clipIds) if (id !== null) clips.at(id);
  return {
    clipIds: clips.rows,
    spans: clips.rows.map((id) => spans.get(id) ?? null),
    names: names.rows,
    rates: rates.rows,
    lanes: lanes.rows,
    references: references.rows,
    places: fit(places, Int16Array) ?? Int32Array.from(places),
    frames: fit(frames, Int32Array) ?? Float64Array.from(frames),
    exact,
  };
}

/**
 * Every row that counts, in the order of the timeline, with the owner of its clip. `owners`: by clip; rows of a clip
 * that has none are left out. `named`: item of the clip that the event names; null where its track decides.
 */
export function forEachRead<Owner>(
  reads: TimelineReads,
  owners: readonly (Owner | null)[],
  countDisabled: boolean,
  tell: (owner: Owner, use: ReadUse, named: number | null, span: UnstatedSpan | null) => void,
): void {
  const { spans, places } = reads;
  for (let row = 0, at = 0; at < places.length; row++, at += COLUMNS) {
    if (!countDisabled && places[at + 8] === 0) continue;
    const clip = places[at + 1]!;
    const owner = owners[clip]!;
    const named = places[at + 7]!;
    if (owner !== null) tell(owner, new RowUse(reads, row), named < 0 ? null : named, spans[clip]!);
  }
}

type ReadEvent = ReadUse['event'];

/** One row, told as a use and as its event: a million of them are gone through faster than made into objects. */
export class RowUse implements ReadUse, ReadEvent {
  readonly activeKey = '';
  private readonly at: number;

  constructor(
    private readonly reads: TimelineReads,
    private readonly row: number,
  ) {
    this.at = row * COLUMNS;
  }

  get event(): ReadEvent {
    return this;
  }

  get index(): number {
    return this.reads.places[this.at]!;
  }

  get name(): string {
    return this.reads.names[this.reads.places[this.at + 2]!] ?? '';
  }

  get references(): ReadEvent['references'] {
    return this.reads.references[this.reads.places[this.at + 4]!]!;
  }

  get sourceIn(): ReadEvent['sourceIn'] {
    return { value: this.reads.frames[this.row * FRAMES + 2]!, rate: this.reads.rates[this.reads.places[this.at + 6]!]! };
  }

  private get lane(): Lane {
    return this.reads.lanes[this.reads.places[this.at + 3]!]!;
  }

  get trackName(): string {
    return this.lane.trackName;
  }

  get trackKind(): Lane['trackKind'] {
    return this.lane.trackKind;
  }

  get nestedIn(): readonly string[] {
    return this.lane.nestedIn;
  }

  get recordStart(): number {
    return this.reads.frames[this.row * FRAMES + 3]!;
  }

  get source(): ReadUse['source'] {
    const { frames } = this.reads;
    return { start: frames[this.row * FRAMES]!, end: frames[this.row * FRAMES + 1]! };
  }

  get rate(): Rate {
    return this.reads.rates[this.reads.places[this.at + 5]!]!;
  }

  get exact(): ReadUse['exact'] {
    const bounds = this.reads.exact.get(this.row);
    return bounds ? { start: new Fraction(bounds[0]), end: new Fraction(bounds[1]) } : null;
  }
}

/** The same for other clips: `clips` is told the id of each and says whose place it takes. */
export function withClips(reads: TimelineReads, clips: (id: string) => string): TimelineReads {
  return { ...reads, clipIds: reads.clipIds.map(clips) };
}

/** How many rows there are. */
export function rowsIn({ places }: TimelineReads): number {
  return places.length / COLUMNS;
}

/** How often each clip is read, whether events count or not. */
export function readCounts({ clipIds, places }: TimelineReads): Map<string, number> {
  const counts = new Uint32Array(clipIds.length);
  for (let at = 1; at < places.length; at += COLUMNS) counts[places[at]!]!++;
  return new Map(clipIds.map((id, index) => [id, counts[index]!]));
}

function countedBy(reference: CountedReference | null): readonly CountedReference[] {
  if (!reference) return [];
  const { availableStart, sequence, source } = reference;
  const counted = { key: '', availableStart, sequence: sequence && { startNumber: sequence.startNumber, step: sequence.step } };
  return [source && availableStart ? { ...counted, source: { part: source.part && { range: source.part.range, rate: source.part.rate } }} : counted]; // prettier-ignore
}

/** In the narrower form where that holds every one of them: half the room, half the reading. */
function fit<Narrow extends Int16Array | Int32Array>(values: readonly number[], narrow: { from(values: readonly number[]): Narrow }): Narrow | null {
  const fitted = narrow.from(values);
  return values.every((value, index) => Object.is(fitted[index], value)) ? fitted : null;
}

/** Of numbers alone: no two lists that differ have the same. */
export function referenceKey([reference]: readonly CountedReference[]): string {
  if (!reference) return '';
  const { availableStart: start, sequence, source } = reference;
  const part = source?.part;
  const of = source ? ` ${part ? `${part.range.start} ${part.rate.num} ${part.rate.den}` : 'whole'}` : '';
  return `${start ? `${start.value} ${start.rate.num} ${start.rate.den}` : '-'} ${sequence ? `${sequence.startNumber} ${sequence.step}` : '-'}${of}`;
}

/** Values each kept once. */
class Table<T> {
  readonly rows: T[] = [];
  private readonly known = new Map<string, number>();

  constructor(private readonly keyOf: (value: T) => string) {}

  at(value: T): number {
    const key = this.keyOf(value);
    const index = this.known.get(key) ?? this.rows.length;
    if (index === this.rows.length) {
      this.rows.push(value);
      this.known.set(key, index);
    }
    return index;
  }
}
