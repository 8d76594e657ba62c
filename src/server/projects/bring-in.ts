/** Bringing timelines into a project: every media reference becomes a clip; the same source is one clip. */
import { isObject, type OtioObject } from '../../core/interchange/otio/otio-types';
import { ownMetadata, text } from '../../core/interchange/otio/otio-values';
import { readAddress } from '../../core/interchange/otio/target-url';
import { readOtioDocument } from '../../core/interchange/otio/otio-reader';
import type { TimelineFile } from '../../core/interchange/read-timeline-file';
import { recordingOf } from '../../core/media/companions';
import { fileName, samePlace, type Place } from '../../core/media/item';
import { sequenceName } from '../../core/media/image-sequence';
import { notes, type Finding } from '../../core/words/finding';
import type { TimelineSnapshot } from '../../core/planning/plan/snapshot';
import { binName } from '../../core/project/bins';
import type { Clip, ClipMarks, Expected, MediaLink } from '../../core/project/clip';
import { ceilFrames, floorFrames, type Moment } from '../../core/project/moment';
import { formerMediaKey, placeMediaKey } from '../../core/project/media-key';
import { activeReference, clipEvents, type ClipEvent, type MediaReference, type Timeline } from '../../core/project/timeline';
import { renditionOfKey, sourceReference } from '../../core/rendition/reference-keys';
import { parseRate, type Rate } from '../../core/time/rate';
import type { Catalogue } from '../catalogue/catalogue';
import type { Places } from '../stock/mounts';
import { AddressBook } from './address-book';
import { enterTimeline, keepFigures } from './enter-timeline';
import { linkTo, newClip } from './make-clip';

export interface BroughtIn {
  readonly timelineIds: string[];
  /** Of these, the ones that were not there before. */
  readonly madeIds: string[];
  readonly newClips: number;
  readonly events: number;
  readonly findings: readonly Finding[];
}

/** Clip of an event, and which of its items the event names where it has several. */
interface EventClip {
  readonly id: string;
  readonly position: number | null;
}

/** Writes the timelines and their clips into the catalogue, all or nothing. `folder`: where the document stands. */
export function bringIn(
  catalogue: Catalogue,
  mounts: Pick<Places, 'rootOf'>,
  projectId: string,
  file: TimelineFile,
  sourceName: string,
  folder: Place | null,
  newId: () => string,
): BroughtIn {
  const clips = new ClipFinder(catalogue, new AddressBook(catalogue, mounts, folder), projectId, newId);
  const timelineIds: string[] = [];
  const madeIds: string[] = [];
  const findings: Finding[] = [...file.findings];
  const made: TimelineSnapshot[] = [];
  let events = 0;
  catalogue.transaction(() => {
    for (const { timeline, document, bins } of file.timelines) {
      const text = JSON.stringify(document);
      // The same text in another folder may link other files: it is the same only where each event finds the same clip.
      const known = catalogue.timelines
        .withDocument(projectId, text)
        .find((row) => clips.findsAgain(timeline.tracks, catalogue.timelines.eventClips(row.id).clipIds));
      if (known) {
        findings.push(notes('already-here', `"${known.name}" is here already, event for event; it was not brought in again.`));
        timelineIds.push(known.id);
        continue;
      }
      const id = newId();
      const clipIds: (string | null)[] = [];
      const positions: (number | null)[] = [];
      for (const event of clipEvents(timeline.tracks)) {
        const clip = clips.of(event, binPath(bins), 'timeline');
        clipIds[event.index] = clip?.id ?? null;
        positions[event.index] = clip?.position ?? null;
      }
      events += timeline.eventCount;
      const row = {
        id,
        name: timeline.name,
        format: file.format ?? 'otio',
        sourceName,
        broughtInAt: new Date().toISOString(),
        findings: file.findings,
      };
      made.push(enterTimeline(catalogue, projectId, row, { model: timeline, document, text }, { clipIds, positions }));
      timelineIds.push(id);
      madeIds.push(id);
    }
    keepFigures(catalogue, projectId, made);
    for (const { document, bins } of file.clips) {
      const event = looseClip(document);
      if (event) clips.of(event, binPath(bins), 'list', { note: text(ownMetadata(document).note), marks: marksOf(document, event) });
    }
  });
  return { timelineIds, madeIds, newClips: clips.made, events, findings };
}

function binPath(bins: readonly string[]): string {
  return bins
    .filter((name) => name.trim() !== '')
    .map(binName)
    .join('/');
}

/** The event model of a clip that stands in a bin on no timeline. */
function looseClip(document: OtioObject): ClipEvent | null {
  const wrapped: OtioObject = { OTIO_SCHEMA: 'Stack.1', name: '', children: [document] };
  const timeline = readOtioDocument(wrapped, { num: 25, den: 1 }).timelines[0]?.timeline;
  return timeline ? ([...clipEvents(timeline.tracks)][0] ?? null) : null;
}

function marksOf(document: OtioObject, event: ClipEvent): ClipMarks | null {
  if (!isObject(document.source_range)) return loneMark(ownMetadata(document));
  const inFrame = floorFrames(event.sourceIn, event.units);
  return { inFrame, outFrame: inFrame + ceilFrames(event.sourceDuration, event.units), rate: event.units };
}

/** A list may set one mark alone: no range can say that. */
function loneMark(own: OtioObject): ClipMarks | null {
  const rate = typeof own.mark_rate === 'string' ? parseRate(own.mark_rate) : null;
  const frame = (value: unknown) => (typeof value === 'number' && Number.isSafeInteger(value) ? value : null);
  const [inFrame, outFrame] = [frame(own.mark_in), frame(own.mark_out)];
  return rate && (inFrame !== null || outFrame !== null) ? { inFrame, outFrame, rate } : null;
}

class ClipFinder {
  made = 0;
  private readonly found = new Map<string, EventClip | null>();
  private readonly others = new Set<string>();
  private lastRun: number | null = null;

  constructor(
    private readonly catalogue: Catalogue,
    private readonly book: AddressBook,
    private readonly projectId: string,
    private readonly newId: () => string,
  ) {}

  /** The clip an event uses, made if it is new; null for what has no media of its own. */
  of(event: ClipEvent, binPath: string, madeBy: Clip['madeBy'], words: Partial<Pick<Clip, 'note' | 'marks'>> = {}): EventClip | null {
    const reference = mediaOf(event);
    if (!reference) return null;
    // Events of one source repeat the same address: looked up once.
    const asked = JSON.stringify([reference.url, reference.url ? '' : [reference.reel, event.name], reference.sequence]);
    const known = this.found.get(asked);
    const clip = known !== undefined ? known : (this.find(reference, event) ?? this.make(reference, event, binPath, madeBy, words));
    this.found.set(asked, clip);
    if (clip) this.addOthers(clip.id, reference, event);
    return clip;
  }

  /** After what was made or linked by runs so far: the next generation. */
  private cameAfter(): { cameBy?: number } {
    this.lastRun ??= this.catalogue.runs.window(null, { filter: '', limit: 1, offset: 0 }).rows[0]?.id ?? 0;
    return this.lastRun === 0 ? {} : { cameBy: this.lastRun };
  }

  /** What the event names beside the source by its key, as further renditions of the clip. */
  private addOthers(clipId: string, source: MediaReference, event: ClipEvent): void {
    if (event.references.length < 2) return;
    for (const reference of event.references) {
      const kind = renditionOfKey(reference.key);
      if (reference === source || kind === null || !hasMedia(reference) || reference.url === null) continue;
      const asked = `${clipId} ${kind} ${reference.url}`;
      if (this.others.has(asked)) continue;
      this.others.add(asked);
      const link = linkOf(reference, event, this.book);
      if (!this.catalogue.clips.hasRendition(clipId, kind, link))
        this.catalogue.clips.addRendition(clipId, { id: this.newId(), kind, links: [link], ...this.cameAfter() });
    }
  }

  /** Whether every event would use the clip it has in `clipIds`. */
  findsAgain(tracks: Timeline['tracks'], clipIds: readonly (string | null)[]): boolean {
    for (const event of clipEvents(tracks)) {
      const reference = mediaOf(event);
      const found = reference ? this.find(reference, event) : null;
      if ((found?.id ?? null) !== (clipIds[event.index] ?? null)) return false;
    }
    return true;
  }

  private find(reference: MediaReference, event: ClipEvent): EventClip | null {
    const link = linkOf(reference, event, this.book);
    const standing = link.place ? this.catalogue.clips.idByPlace(this.projectId, link.place) : null;
    if (standing) return standing;
    const key = mediaKey(reference, event, link);
    const id = key === null ? null : (this.catalogue.clips.idByMediaKey(this.projectId, key) ?? this.formerlyAt(link));
    return id === null ? null : { id, position: null };
  }

  /** The clip whose file a run took from there, unless another file stands there now. */
  private formerlyAt({ place, expected }: MediaLink): string | null {
    const id = place ? this.catalogue.clips.idByMediaKey(this.projectId, formerMediaKey(place)) : null;
    if (id === null || !place) return null;
    const standing = this.book.itemAt(place);
    return !standing || this.catalogue.clips.fingerprintOf(id) === expected.fingerprint ? id : null;
  }

  private make(
    reference: MediaReference,
    event: ClipEvent,
    binPath: string,
    madeBy: Clip['madeBy'],
    words: Partial<Pick<Clip, 'note' | 'marks'>>,
  ): EventClip | null {
    const link = linkOf(reference, event, this.book);
    const key = mediaKey(reference, event, link);
    if (key === null) return null;
    const links = this.wholeRecording(link);
    const seed = {
      name: reference.name || event.name || link.expected.name,
      binPath,
      mediaKey: links[0] === link ? key : placeMediaKey(links[0]!.place!),
      mediaStart: mediaStartOf(reference, link, this.book),
      madeBy,
      links,
      ...(reference.byFrame ? { conform: 'by-frame' as const } : {}),
      ...words,
    };
    const clip = newClip(seed, this.newId);
    this.catalogue.bins.ensure(this.projectId, binPath);
    this.catalogue.clips.put(this.projectId, clip);
    this.made++;
    return { id: clip.id, position: links.length > 1 ? links.indexOf(link) : null };
  }

  /** Picture and sound of one recording that stand in files of their own belong to one clip. */
  private wholeRecording(link: MediaLink): readonly MediaLink[] {
    const item = link.place ? this.book.itemAt(link.place) : null;
    if (!item) return [link];
    const recording = recordingOf(item, this.catalogue.items.tiedTo(item));
    const isFree = (place: Place) => this.catalogue.clips.idByPlace(this.projectId, place) === null;
    return recording.every((other) => other === item || isFree(other.place))
      ? recording.map((other) => (samePlace(other.place, item.place) ? link : linkTo(other, '')))
      : [link];
  }
}

function hasMedia({ kind }: MediaReference): boolean {
  return kind !== 'generator' && kind !== 'unknown';
}

/** The reference of the source; where that says nothing at all, the active one. Null for what has no media of its own. */
function mediaOf(event: ClipEvent): MediaReference | null {
  const source = sourceReference(event.references, event.activeKey);
  const active = activeReference(event);
  const reference = source && (source === active || (hasMedia(source) && (source.url || source.reel))) ? source : active;
  return reference && hasMedia(reference) ? reference : null;
}

/** Where the timelines count the item's first frame: a reference may name frames from the middle of a sequence. */
function mediaStartOf(reference: MediaReference, link: MediaLink, book: AddressBook): Moment | null {
  const start = reference.availableStart;
  const own = link.place ? book.itemAt(link.place)?.facts.sequence : null;
  if (!start || !reference.sequence || !own) return start;
  return { value: start.value - (reference.sequence.startNumber - own.firstNumber), rate: start.rate };
}

function linkOf(reference: MediaReference, event: ClipEvent, book: AddressBook): MediaLink {
  const place = book.placeOf(reference);
  const item = place ? book.itemAt(place) : null;
  const url = reference.url ?? '';
  if (item && place) return linkTo(item, url);
  return { place, url, expected: expectedOf(reference, event, place) };
}

/** What the timeline alone tells of its media. */
function expectedOf(reference: MediaReference, event: ClipEvent, place: Place | null): Expected {
  const segments = reference.url ? (readAddress(reference.url)?.segments ?? []) : [];
  const start = reference.availableStart;
  const length = reference.availableDuration;
  const name = place
    ? fileName(place.path)
    : reference.sequence
      ? sequenceLabel(reference)
      : (segments.at(-1) ?? (reference.kind === 'missing' ? '' : event.name));
  return {
    name,
    sizeBytes: null,
    fingerprint: null,
    rate: length?.rate ?? start?.rate ?? null,
    durationFrames: length?.value ?? null,
    startFrame: start ? statedTimecode(start, length?.rate ?? start.rate) : null,
    reel: reference.reel,
    kind: reference.sequence ? 'sequence' : null,
  };
}

/** Start timecode as a timeline states it; null between two frames, and at 0: timelines that count from 0 say nothing of the file's. */
function statedTimecode(start: Moment, rate: Rate): number | null {
  const frame = floorFrames(start, rate);
  return frame !== 0 && ceilFrames(start, rate) === frame ? frame : null;
}

function sequenceLabel(reference: MediaReference): string {
  const { prefix, suffix, padding, startNumber } = reference.sequence!;
  const count = reference.availableDuration?.value ?? 1;
  return sequenceName({ prefix, suffix, padding, firstNumber: startNumber, lastNumber: startNumber + count - 1 });
}

/** Without a file the reel and name tell clips apart. Null: nothing to go by. */
function mediaKey(reference: MediaReference, event: ClipEvent, link: MediaLink): string | null {
  if (link.place) return placeMediaKey(link.place);
  if (link.url !== '') return `url ${link.url.normalize('NFC')}`;
  if (reference.reel) return `reel ${reference.reel} ${event.name}`;
  return event.name === '' ? null : `name ${event.name}`;
}
