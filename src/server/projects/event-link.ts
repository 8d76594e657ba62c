/** What the event of a timeline tells of its clip: the link to its media, what is expected there, its name and key. */
import { readAddress } from '../../core/interchange/otio/target-url';
import type { PartWord } from '../../core/interchange/otio/source-word';
import { sequenceLabel, type Source } from '../../core/matching/sources';
import { stemOf } from '../../core/media/card';
import { fileName, type Item, type Place } from '../../core/media/item';
import { isBefore } from '../../core/matching/told';
import { expectedFrom, type Expected, type MatchedBy, type MediaLink } from '../../core/project/clip';
import { placeMediaKey } from '../../core/project/media-key';
import { ceilFrames, floorFrames, type Moment } from '../../core/project/moment';
import { type ClipEvent, type MediaReference } from '../../core/project/timeline';
import type { FrameRange } from '../../core/time/range';
import { formatRate, sameRate, type Rate } from '../../core/time/rate';
import { frameToTimecode } from '../../core/time/timecode';
import type { AddressBook } from './address-book';
import { linkTo } from './make-clip';

/** A file that was matched with a source, and how. */
export interface Matched {
  readonly item: Item;
  readonly by: MatchedBy;
}

/** Where the timelines count the item's first frame: a reference may name frames from the middle of a sequence. */
export function mediaStartOf(reference: MediaReference, link: MediaLink, book: AddressBook): Moment | null {
  const start = reference.availableStart;
  const own = link.place ? book.itemAt(link.place)?.facts.sequence : null;
  if (!start || !reference.sequence || !own) return start;
  return { value: start.value - (reference.sequence.startNumber - own.firstNumber), rate: start.rate };
}

export function linkOf(reference: MediaReference, event: ClipEvent, book: AddressBook): MediaLink {
  const place = book.placeOf(reference);
  const item = place ? book.itemAt(place) : null;
  const url = reference.url ?? '';
  if (item && place) return linkTo(item, url);
  // What stood there once is known by its content, so that no other file of its name is taken for it.
  const gone = place ? book.goneAt(place) : null;
  return { place, url, expected: gone ? expectedFrom(gone, fileName(gone.place.path)) : expectedOf(reference, event, place) };
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
    // Of what leads nowhere: as the house it comes from remembered the whole file.
    fingerprint: place === null && reference.source?.part === null ? reference.source.print : null,
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

export function matchedLink({ item, by }: Matched, url: string, source: Source): MediaLink {
  const link = linkTo(item, url);
  const { names, reels } = source.told;
  // All that was told is kept: it is what is left when the link is taken back.
  return { ...link, expected: { ...link.expected, told: { names, reels }, matchedBy: by } };
}

/**
 * What a part says of the items of its source, which stand nowhere: of its own, with nothing known of those before it. Its
 * timecode is that of the part, from its first frame.
 */
export function wholesOf({ source: said }: MediaReference, link: MediaLink, book: AddressBook): MediaLink[] {
  const { position, print } = said!;
  const part = said!.part!;
  const facts = link.place ? book.itemAt(link.place)?.facts : null;
  const isCounted = facts?.startFrame != null && facts.rate !== null && sameRate(facts.rate, part.rate);
  const own: Expected = {
    name: part.of ?? '',
    sizeBytes: null,
    fingerprint: print,
    rate: part.rate,
    durationFrames: part.ofFrames,
    startFrame: isCounted ? facts.startFrame - part.range.start : null,
    reel: link.expected.reel,
    kind: link.expected.kind,
  };
  const unknown: Expected = { ...own, name: '', fingerprint: null, durationFrames: null, startFrame: null, rate: null, kind: null };
  return Array.from({ length: position + 1 }, (_, at) => ({ place: null, url: '', expected: at === position ? own : unknown }));
}

/** Whether what events read of a file, which do not say from where they count, lies within its timecode. */
export function readsByTimecode(source: Source | null, { facts: { startFrame, durationFrames, rate } }: Item): boolean {
  if (!source || startFrame === null || durationFrames === null || rate === null) return false;
  const [first, last] = [startFrame, startFrame + durationFrames].map((value) => ({ value, rate }));
  return source.told.reads.every((read) => !isBefore(read.first, first!) && !isBefore(last!, read.last));
}

export function withPart(expected: Expected, said: MediaReference['source']): Expected {
  return said?.part ? { ...expected, partOf: { ...said.part, print: said.print } } : expected;
}

/** Whether a part is of a whole that is longer or shorter than the one that is known. */
export function isOfOtherLength({ durationFrames, rate, partOf }: Expected, part: PartWord): boolean {
  const [length, at] = partOf ? [partOf.ofFrames, partOf.rate] : [durationFrames, rate];
  return length !== null && at !== null && sameRate(at, part.rate) && length !== part.ofFrames;
}

export function samePart(a: PartWord, b: PartWord | null): boolean {
  return b !== null && sameRange(a.range, b.range);
}

export function sameRange(a: FrameRange, b: FrameRange): boolean {
  return a.start === b.start && a.end === b.end;
}

/** With what the timeline says beyond the name and reel that are expected. */
export function withTold(expected: Expected, source: Source | null): Expected {
  const names = (source?.told.names ?? []).filter((name) => name !== expected.name);
  const reels = (source?.told.reels ?? []).filter((reel) => reel !== expected.reel);
  return names.length + reels.length === 0 ? expected : { ...expected, told: { names, reels } };
}

/** What is told by its reel or timecode alone bears the name of its file, else where it is read. */
export function clipName(reference: MediaReference, event: ClipEvent, source: Source | null, matched: Matched | undefined, link: MediaLink): string {
  const named = reference.name || event.name || link.expected.name;
  if (!source?.isNameless) return named;
  if (matched) return stemOf(fileName(matched.item.place.path));
  const first = source.told.reads[0]?.first;
  return first ? `${named} ${frameToTimecode(first.value, first.rate, false)}` : named;
}

/** Without a file the reel and name tell clips apart, and where nothing else does, where it is read. Null: nothing to go by. */
export function mediaKey(reference: MediaReference, event: ClipEvent, link: MediaLink, source: Source | null): string | null {
  if (link.place) return placeMediaKey(link.place);
  if (link.url !== '') return `url ${link.url.normalize('NFC')}`;
  const first = source?.isNameless ? source.told.reads[0]?.first : undefined;
  const at = first ? ` at ${first.value} ${formatRate(first.rate)}` : '';
  if (reference.reel) return `reel ${reference.reel} ${event.name}${at}`;
  return event.name === '' && at === '' ? null : `name ${event.name}${at}`;
}
