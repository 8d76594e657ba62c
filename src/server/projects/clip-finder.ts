/** The clip of an event: the one that is there, or a new one. The same source is one clip. */
import { readAddress } from '../../core/interchange/otio/target-url';
import type { SourceWord } from '../../core/interchange/otio/source-word';
import { comparePrints } from '../../core/media/fingerprint';
import { hasMedia, mediaOf, type Source } from '../../core/matching/sources';
import { recordingOf } from '../../core/media/companions';
import { samePlace, type Place } from '../../core/media/item';
import { isInParts, sourceRendition, type Clip, type Expected, type MediaLink, type Rendition } from '../../core/project/clip';
import { formerMediaKey, placeMediaKey } from '../../core/project/media-key';
import { clipEvents, type ClipEvent, type MediaReference, type Timeline } from '../../core/project/timeline';
import { renditionOfKey } from '../../core/rendition/reference-keys';
import type { Catalogue } from '../catalogue/catalogue';
import type { ClipOfFile } from '../catalogue/sources';
import type { AddressBook } from './address-book';
import {
  mediaStartOf,
  linkOf,
  matchedLink,
  wholesOf,
  readsByTimecode,
  withPart,
  isOfOtherLength,
  samePart,
  sameRange,
  withTold,
  clipName,
  mediaKey,
  type Matched,
} from './event-link';
import { linkTo, newClip } from './make-clip';

/** Clip of an event, and which of its items the event names where it has several. */
interface EventClip {
  readonly id: string;
  readonly position: number | null;
  /** Of which source its file is a part, where the event does not say so itself; absent where there is nothing to say. */
  readonly says?: SourceWord;
}

export class ClipFinder {
  made = 0;
  /** Clips that read a file which was matched. */
  readonly matchedIds = new Set<string>();
  private readonly found = new Map<string, EventClip | null>();
  private readonly others = new Set<string>();
  private readonly parts = new Set<string>();
  private lastRun: number | null = null;

  /** `matched`: by the key of a source, where its address leads to no file. `passesMatched`: a clip that reads a matched file is another clip. */
  constructor(
    private readonly catalogue: Catalogue,
    private readonly book: AddressBook,
    private readonly projectId: string,
    private readonly newId: () => string,
    private readonly matched: ReadonlyMap<string, Matched> = new Map(),
    private readonly passesMatched = false,
  ) {}

  /** The clip an event uses, made if it is new; null for what has no media of its own. `source`: all that is told of it. */
  of(
    event: ClipEvent,
    source: Source | null,
    binPath: string,
    madeBy: Clip['madeBy'],
    words: Partial<Pick<Clip, 'note' | 'marks'>> = {},
  ): EventClip | null {
    const reference = mediaOf(event);
    if (!reference) return null;
    // Events of one source repeat the same address: looked up once.
    const said = reference.source ? `${reference.source.id} ${reference.source.position}` : '';
    const asked = (source?.key ?? JSON.stringify([reference.url, reference.url ? '' : [reference.reel, event.name], reference.sequence])) + said;
    const known = this.found.get(asked);
    const clip =
      known !== undefined
        ? known
        : (this.find(reference, event, source, madeBy === 'list') ?? this.make(reference, event, source, binPath, madeBy, words));
    this.found.set(asked, clip);
    if (clip) this.addPart(clip.id, reference, event, source);
    if (clip) this.addOthers(clip.id, reference, event);
    if (clip && source && this.matched.has(source.key)) this.matchedIds.add(clip.id);
    return clip;
  }

  /** Whether the address of a source leads to a file, to one that stood there, or to a shelf that is unplugged: then nothing is to be matched. */
  leadsSomewhere(source: Source, isAttached: (shelfId: string) => boolean): boolean {
    const { place, expected } = linkOf(source.reference, source.event, this.book);
    return place !== null && (!isAttached(place.shelfId) || expected.fingerprint !== null);
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
  findsAgain(tracks: Timeline['tracks'], sources: readonly (Source | null)[], clipIds: readonly (string | null)[]): boolean {
    for (const event of clipEvents(tracks)) {
      const reference = mediaOf(event);
      const found = reference ? this.find(reference, event, sources[event.index] ?? null) : null;
      if ((found?.id ?? null) !== (clipIds[event.index] ?? null)) return false;
    }
    return true;
  }

  /** `isRow`: a row of a list has marks, a note and a bin of its own, so that it is no other clip of the same matched file. */
  private find(reference: MediaReference, event: ClipEvent, source: Source | null, isRow = false): EventClip | null {
    const { clips } = this.catalogue;
    const link = linkOf(reference, event, this.book);
    const linked = this.asFile(link.place && this.catalogue.sources.idByLink(this.projectId, link.place), reference, source, link.place);
    if (linked) return linked;
    const said = this.bySaid(reference, link);
    if (said) return said;
    const copy = this.asFile(link.place && this.catalogue.sources.idByPlace(this.projectId, link.place), reference, source, link.place);
    if (copy) return copy;
    const key = mediaKey(reference, event, link, source);
    const id = key === null ? null : (clips.idByMediaKey(this.projectId, key) ?? this.formerlyAt(link));
    const matched = source ? this.matched.get(source.key) : undefined;
    if (!matched) return id === null || (this.passesMatched && this.isMatched(id)) ? null : { id, position: null };
    if (id !== null && this.linkNow(id, source!, matched)) return { id, position: null };
    const { place } = matched.item;
    return isRow ? null : this.asFile(this.catalogue.sources.idByPlace(this.projectId, place), reference, source, place);
  }

  /**
   * The clip of a file. Who names a part and says nothing of its source counts from the first frame of the part: that is
   * said for it, or, where it cannot be told how it counts, the part is another clip.
   */
  private asFile(
    found: ClipOfFile | null,
    { source: said, availableStart, sequence, url }: MediaReference,
    source: Source | null,
    place: Place | null,
  ): EventClip | null {
    if (!found || found.part === null || said) return found && { id: found.id, position: found.position };
    const [clip] = this.catalogue.clips.ofProject(this.projectId, [found.id]);
    const part = clip?.parts?.find(({ id }) => id === found.part);
    const of = part?.links[0].expected.partOf;
    const item = place ? this.book.itemAt(place) : null;
    if (!clip || !part || !of || !item) return null;
    const { id, position } = found;
    if (!availableStart) return readsByTimecode(source, item) ? { id, position } : null;
    const file = sequence ? sequence.prefix : (readAddress(url ?? '')?.segments.at(-1) ?? '');
    return { id, position, says: { id: clip.sourceId ?? clip.id, file, position, print: of.print, part: of } };
  }

  /** Of which source a file is a part that some clip of the project has. */
  private partAt(place: Place | null): Pick<Expected, 'partOf'> {
    const found = place && this.catalogue.sources.idByPlace(this.projectId, place);
    if (!found?.part) return {};
    const [clip] = this.catalogue.clips.ofProject(this.projectId, [found.id]);
    const of = clip?.parts?.find(({ id }) => id === found.part)?.links[0].expected.partOf;
    return of ? { partOf: of } : {};
  }

  /**
   * The clip of the source that the reference says it is of. Where the file or what is said of it speaks against that, it is
   * of none: whoever wrote it may have linked something else.
   */
  private bySaid({ source: said }: MediaReference, link: MediaLink): EventClip | null {
    if (!said) return null;
    const id = this.catalogue.sources.idBySource(this.projectId, said.id);
    const [clip] = id === null ? [] : this.catalogue.clips.ofProject(this.projectId, [id]);
    const links = (clip && sourceRendition(clip)?.links) ?? [];
    const own = links[said.position];
    // Of a recording that is here in parts, picture and sound come one after the other.
    if (clip && !own && said.part && isInParts(clip)) return { id: clip.id, position: said.position };
    if (!clip || !own) return null;
    const known = own.expected.partOf ? own.expected.partOf.print : own.expected.fingerprint;
    if (said.print !== null && known !== null && comparePrints(said.print, known) === false) return null;
    if (said.part && isOfOtherLength(own.expected, said.part)) return null;
    // A whole file that stands there and is another one.
    if (!said.part && !own.expected.partOf && comparePrints(link.expected.fingerprint, own.expected.fingerprint) === false) return null;
    // A clip that reads a part itself reads no other part.
    if (own.expected.partOf && !samePart(own.expected.partOf, said.part)) return null;
    return { id: clip.id, position: links.length > 1 ? said.position : null };
  }

  /** A file that holds frames of a source is a part of the clip; the whole of which only parts were here is linked. */
  private addPart(clipId: string, reference: MediaReference, event: ClipEvent, source: Source | null): void {
    const said = reference.source;
    if (!said || this.parts.has(`${clipId} ${reference.url}`)) return;
    this.parts.add(`${clipId} ${reference.url}`);
    const link = this.linkRead(reference, event, source);
    const [clip] = this.catalogue.clips.ofProject(this.projectId, [clipId]);
    const rendition = clip && sourceRendition(clip);
    if (!rendition || !link.place) return;
    if (said.part && isInParts(clip)) this.knowWhole(rendition, reference, link);
    const own = rendition.links[said.position];
    if (!said.part) {
      if (own && own.place === null && comparePrints(own.expected.fingerprint, link.expected.fingerprint) === true)
        this.catalogue.clips.setSourceLinks(rendition.id, rendition.links.map((old) => (old === own ? link : old))); // prettier-ignore
      return;
    }
    if (own?.expected.partOf || samePlace(link.place, own?.place ?? null)) return;
    const { position, part, print } = said;
    // A part that is known, where nothing stands any more: the other place of it says enough.
    const isKnown = clip.parts?.some((known) => known.position === position && sameRange(known.range, part.range)) ?? false;
    if (isKnown && !this.book.itemAt(link.place)) return;
    const expected = { ...link.expected, partOf: { ...part, print, position } };
    this.catalogue.parts.addPart(clipId, { id: this.newId(), links: [{ ...link, expected }], position, range: part.range });
  }

  /** Another item of a source that is here in parts. */
  private knowWhole({ id, links }: Rendition, reference: MediaReference, link: MediaLink): void {
    const { position } = reference.source!;
    if (links[position] && links[position].expected.durationFrames !== null) return;
    const whole = wholesOf(reference, link, this.book);
    this.catalogue.clips.setSourceLinks(
      id,
      Array.from({ length: Math.max(links.length, whole.length) }, (_, at) => (at === position ? whole[at]! : (links[at] ?? whole[at]!))),
    );
  }

  /** What an event links: by its address, or the file that was matched with it. */
  private linkRead(reference: MediaReference, event: ClipEvent, source: Source | null): MediaLink {
    const told = linkOf(reference, event, this.book);
    const matched = source ? this.matched.get(source.key) : undefined;
    return matched ? matchedLink(matched, told.url, source!) : told;
  }

  private isMatched(clipId: string): boolean {
    const [clip] = this.catalogue.clips.ofProject(this.projectId, [clipId]);
    return (clip ? sourceRendition(clip) : null)?.links.some(({ expected }) => expected.matchedBy !== undefined) ?? false;
  }

  /** A clip of the same words that reads nothing yet reads the file from now on; one that reads another file is another clip. */
  private linkNow(clipId: string, source: Source, matched: Matched): boolean {
    const [clip] = this.catalogue.clips.ofProject(this.projectId, [clipId]);
    const rendition = clip ? sourceRendition(clip) : null;
    const [link] = rendition?.links ?? [];
    if (!rendition || !link) return false;
    if (link.place !== null) return samePlace(link.place, matched.item.place);
    this.catalogue.clips.relink(rendition.id, 0, matchedLink(matched, link.url, source));
    this.matchedIds.add(clipId);
    return true;
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
    source: Source | null,
    binPath: string,
    madeBy: Clip['madeBy'],
    words: Partial<Pick<Clip, 'note' | 'marks'>>,
  ): EventClip | null {
    const matched = source ? this.matched.get(source.key) : undefined;
    const told = linkOf(reference, event, this.book);
    const key = mediaKey(reference, event, told, source);
    if (key === null) return null;
    const link: MediaLink = matched
      ? matchedLink(matched, told.url, source!)
      : {
          ...told,
          expected: { ...withPart(withTold(told.expected, source), reference.source), ...(reference.source ? {} : this.partAt(told.place)) },
        };
    // Of a part that is here the clip is that of its source.
    const isPart = reference.source?.part != null && link.place !== null;
    const links = isPart ? wholesOf(reference, link, this.book) : this.wholeRecording(link);
    // A clip of the same words that reads another file keeps them.
    const isFree = this.catalogue.clips.idByMediaKey(this.projectId, key) === null;
    const seed = {
      name: clipName(reference, event, source, matched, link),
      binPath,
      mediaKey: isPart
        ? `source ${reference.source.id} ${this.newId()}`
        : links[0] !== link
          ? placeMediaKey(links[0]!.place!)
          : isFree
            ? key
            : `${key} ${this.newId()}`,
      mediaStart: isPart ? null : mediaStartOf(reference, link, this.book),
      madeBy,
      links,
      ...(reference.byFrame ? { conform: 'by-frame' as const } : {}),
      ...(this.mayBeCalled(reference.source, told, isPart ? reference.source.position : links.indexOf(link))
        ? { sourceId: reference.source!.id }
        : {}),
      ...words,
    };
    const clip = newClip(seed, this.newId);
    this.catalogue.bins.ensure(this.projectId, binPath);
    this.catalogue.clips.put(this.projectId, clip);
    this.made++;
    return { id: clip.id, position: isPart ? reference.source.position : links.length > 1 ? links.indexOf(link) : null };
  }

  /** Whether a new clip is the source that a reference says it is of: as far as its file speaks for it, and no other clip is. */
  private mayBeCalled(said: MediaReference['source'], { expected: { fingerprint } }: MediaLink, position: number): boolean {
    if (!said || said.position !== position || this.catalogue.sources.idBySource(this.projectId, said.id) !== null) return false;
    return said.part !== null || said.print === null || comparePrints(said.print, fingerprint) !== false;
  }

  /** Picture and sound of one recording that stand in files of their own belong to one clip. */
  private wholeRecording(link: MediaLink): readonly MediaLink[] {
    const item = link.place ? this.book.itemAt(link.place) : null;
    if (!item) return [link];
    const recording = recordingOf(item, this.catalogue.items.tiedTo(item));
    const isFree = (place: Place) => this.catalogue.sources.idByPlace(this.projectId, place) === null;
    return recording.every((other) => other === item || isFree(other.place))
      ? recording.map((other) => (samePlace(other.place, item.place) ? link : linkTo(other, '')))
      : [link];
  }
}
