/** What every format of an export is written with: names, what events read, references to files at their new addresses. */
import { type EdlSource } from '../../interchange/edl/edl-writer';
import { isObject, schemaName, type OtioObject } from '../../interchange/otio/otio-types';
import { ownMetadata, text } from '../../interchange/otio/otio-values';
import { readSourceWord, withSourceWord } from '../../interchange/otio/source-word';
import { movedRange } from '../package/counted-range';
import { externalReference, inPlaceOf, sequenceReference, timeRange } from '../../interchange/otio/otio-writer';
import { readAddress, relativeAddress } from '../../interchange/otio/target-url';
import { below, fileName, type Item, type Place } from '../../media/item';
import { NameRegister } from '../../naming/safe-name';
import { linksRead, type Clip, type MediaLink } from '../../project/clip';
import { sourceWordOf } from '../../project/source-word-of';
import type { SourceCount } from '../../project/source-count';
import { soundEvents, type ClipEvent } from '../../project/timeline';
import { isRateNumber, rateFromNumber, type Rate } from '../../time/rate';
import { listSource as sourceInList } from './list-source';
import type { Finding } from '../../words/finding';
import { type Step } from '../plan/step';
import type { Snapshot, TimelineSnapshot } from '../plan/snapshot';
import { numbering } from '../../interchange/otio/sequence-numbering';
import { stockOf } from '../plan/stock-view';
import { asRead } from '../taking/part-read';
import { forEachEventUse } from '../taking/used-media';

export interface ExportContext {
  /** Paths below the destination that exist. */
  readonly taken: readonly string[];
  /** `file:` address of the root of each attached shelf, for links that leave the destination's shelf. */
  readonly addresses: ReadonlyMap<string, string>;
}

/** A file (or bundle) that the export would make. */
export interface ExportRow {
  readonly timeline: string;
  readonly path: string;
  readonly bytes: number;
  readonly events: number;
  readonly mediaFiles: number;
}

export interface Made {
  readonly steps: readonly Step[];
  readonly rows: readonly ExportRow[];
  readonly findings: readonly Finding[];
}

/** How a timeline is written in a format. */
export interface ExportFormatEntry {
  readonly write: (out: Exporting, timeline: TimelineSnapshot) => Made;
}

export class Exporting {
  readonly names;
  readonly stock;
  readonly clips;
  private readonly sounds = new Map<TimelineSnapshot, ReadonlySet<number>>();
  /** By event index: clips read by a part. */
  private readonly parts = new Map<TimelineSnapshot, Map<number, Clip>>();

  constructor(
    readonly snapshot: Snapshot,
    readonly root: Place,
    private readonly context: ExportContext,
    readonly count: SourceCount | null,
    readonly flattensNested: boolean,
  ) {
    this.names = new NameRegister(context.taken);
    this.stock = stockOf(snapshot);
    this.clips = new Map(snapshot.clips.map((clip) => [clip.id, clip]));
  }

  write(path: string, content: string, reason: string): Step {
    return {
      action: 'write',
      phase: 0,
      from: null,
      to: below(this.root, path),
      expectedBytes: new TextEncoder().encode(content).length,
      bytesExact: true,
      reason,
      mustHold: null,
      content: { type: 'text', text: content },
    };
  }

  addressOf(place: Place): string {
    if (place.shelfId !== this.root.shelfId) {
      const shelf = this.context.addresses.get(place.shelfId);
      return `${shelf ?? `file:///${encodeURIComponent(this.stock.shelfName(place.shelfId))}`}/${relativeAddress(place.path.split('/'))}`;
    }
    const from = this.root.path === '' ? [] : this.root.path.split('/');
    const to = place.path.split('/');
    let same = 0;
    while (same < from.length && same < to.length - 1 && from[same] === to[same]) same++;
    return relativeAddress([...from.slice(same).map(() => '..'), ...to.slice(same)]);
  }

  /** A reference to the item at its new address. A sequence keeps the numbers it had, as far as there are such frames. */
  reference(item: Item, old: OtioObject | null, address: string, units: Rate): OtioObject {
    const metadata = old && isObject(old.metadata) ? old.metadata : {};
    const name = old && typeof old.name === 'string' && old.name !== '' ? old.name : fileName(item.place.path);
    const available = old && isObject(old.available_range) ? old.available_range : null;
    const { sequence, durationFrames } = item.facts;
    if (!sequence) return inPlaceOf(old, externalReference(address, name, available, metadata));
    const { prefix, suffix, padding, firstNumber, lastNumber } = sequence;
    const { startNumber, step } = numbering(sequence, old, null);
    const folderUrl = address.slice(0, address.lastIndexOf('/') + 1);
    const rate = isRateNumber(old?.rate) ? rateFromNumber(old.rate) : (item.facts.rate ?? units);
    const range = available ?? timeRange(0, durationFrames ?? lastNumber - firstNumber + 1, units);
    return inPlaceOf(old, sequenceReference({ folderUrl, prefix, suffix, padding, startNumber, step, rate }, name, range, metadata));
  }

  /** The same of a source: what is said of it goes along, and its range is that of the file it leads to. */
  sourceReference(clip: Clip, item: Item, old: OtioObject | null, address: string, units: Rate): OtioObject {
    const named = old ? (schemaName(old) === 'ImageSequenceReference' ? text(old.name_prefix) : (readAddress(text(old.target_url))?.segments.at(-1) ?? '')) : ''; // prettier-ignore
    const said = old ? readSourceWord(ownMetadata(old), named) : null;
    const file = item.facts.sequence ? item.facts.sequence.prefix : (readAddress(address)?.segments.at(-1) ?? '');
    const word = sourceWordOf(clip, item, null, file, null);
    const kept = old && isObject(old.metadata) ? old.metadata : {};
    const available = old && isObject(old.available_range) ? old.available_range : null;
    const range = item.facts.sequence ? available : movedRange(available, said?.part ?? null, word.part, item.facts);
    return this.reference(
      item,
      { ...(old ?? {}), metadata: withSourceWord(kept, word), ...(range ? { available_range: range } : {}) },
      address,
      units,
    );
  }

  soundsOf(timeline: TimelineSnapshot): ReturnType<typeof soundEvents> {
    const sounds = this.sounds.get(timeline) ?? soundEvents(timeline.model.tracks);
    this.sounds.set(timeline, sounds);
    return sounds;
  }

  /** What an event reads, by one rule in every format: on a sound track the sound. */
  linkOf(timeline: TimelineSnapshot, index: number): MediaLink | null {
    const clip = this.clipOf(timeline, index);
    if (!clip) return null;
    return linksRead(clip, this.soundsOf(timeline).has(index), timeline.positions?.[index] ?? null, this.stock)[0] ?? null;
  }

  /** Clip of an event: where it reads a part of its source, the clip as that part alone. */
  clipOf(timeline: TimelineSnapshot, index: number): Clip | null {
    const clip = this.clips.get(timeline.clipIds[index] ?? '') ?? null;
    return clip?.parts ? (this.partsOf(timeline).get(index) ?? clip) : clip;
  }

  private partsOf(timeline: TimelineSnapshot): ReadonlyMap<number, Clip> {
    const known = this.parts.get(timeline) ?? new Map<number, Clip>();
    if (this.parts.has(timeline)) return known;
    this.parts.set(timeline, known);
    forEachEventUse(this.snapshot, [timeline.id], true, (use) => {
      const read = asRead(use, this.stock);
      if (read !== use) known.set(use.use.event.index, read.clip);
    });
    return known;
  }

  row(timeline: TimelineSnapshot, path: string, bytes: number, mediaFiles = 0, events = timeline.model.eventCount): ExportRow {
    return { timeline: timeline.model.name, path, bytes, events, mediaFiles };
  }

  listSource(timeline: TimelineSnapshot, event: ClipEvent): EdlSource {
    const clip = this.clipOf(timeline, event.index);
    const link = this.linkOf(timeline, event.index);
    const facts = (link?.place ? this.stock.itemAt(link.place) : null)?.facts ?? null;
    return sourceInList(timeline, event, { clip, link, facts, isSound: this.soundsOf(timeline).has(event.index) }, this.count);
  }
}
