/** Bringing timelines into a project: every media reference becomes a clip; the same source is one clip. */
import { isObject, type OtioObject } from '../../core/interchange/otio/otio-types';
import { readAddress } from '../../core/interchange/otio/target-url';
import { readOtioDocument } from '../../core/interchange/otio/otio-reader';
import { clipDocument } from '../../core/interchange/otio/otio-writer';
import type { TimelineFile } from '../../core/interchange/read-timeline-file';
import { fileName, type Place } from '../../core/media/item';
import { sequenceName } from '../../core/media/image-sequence';
import { expectedFrom, type Expected, type MediaLink } from '../../core/project/clip';
import { activeReference, clipEvents, type ClipEvent, type MediaReference } from '../../core/project/timeline';
import type { Moment } from '../../core/project/moment';
import type { Catalogue } from '../catalogue/catalogue';
import type { Mounts } from '../stock/mounts';
import { AddressBook } from './address-book';

export interface BroughtIn {
  readonly timelineIds: string[];
  readonly newClips: number;
  readonly events: number;
}

/** Writes the timelines and their clips into the catalogue, all or nothing. `folder`: where the document stands. */
export function bringIn(
  catalogue: Catalogue,
  mounts: Mounts,
  projectId: string,
  file: TimelineFile,
  sourceName: string,
  folder: Place | null,
  newId: () => string,
): BroughtIn {
  const book = new AddressBook(catalogue, mounts, folder);
  const result: BroughtIn = { timelineIds: [], newClips: 0, events: 0 };
  let newClips = 0;
  let events = 0;
  catalogue.transaction(() => {
    const clipOf = (event: ClipEvent, binPath: string): string | null => {
      const reference = activeReference(event);
      if (!reference || reference.kind === 'generator' || reference.kind === 'unknown') return null;
      const link = linkOf(reference, event, book);
      const key = mediaKey(reference, event, link);
      if (key === null) return null;
      const known = catalogue.clips.idByMediaKey(projectId, key);
      if (known) return known;
      const id = newId();
      const name = reference.name || event.name || link.expected.name;
      catalogue.clips.add(projectId, {
        id,
        name,
        binPath,
        mediaKey: key,
        mediaStart: mediaStartOf(reference, link, book),
        renditionId: newId(),
        link,
      });
      newClips++;
      return id;
    };
    for (const { timeline, document, bins } of file.timelines) {
      const id = newId();
      const clipIds: (string | null)[] = [];
      for (const event of clipEvents(timeline.tracks)) clipIds[event.index] = clipOf(event, bins.join('/'));
      events += timeline.eventCount;
      catalogue.timelines.add(
        projectId,
        {
          id,
          name: timeline.name,
          format: file.format ?? 'otio',
          sourceName,
          broughtInAt: new Date().toISOString(),
          document: JSON.stringify(document),
          findings: file.findings,
        },
        clipIds,
      );
      result.timelineIds.push(id);
    }
    for (const { document, bins } of file.clips) {
      const event = looseClip(document);
      if (event) clipOf(event, bins.join('/'));
    }
  });
  return { ...result, newClips, events };
}

/** The event model of a clip that stands in a bin on no timeline. */
function looseClip(document: OtioObject): ClipEvent | null {
  const reference = isObject(document.media_reference) ? document.media_reference : null;
  const clip =
    reference && !document.media_references ? clipDocument(typeof document.name === 'string' ? document.name : '', null, reference) : document;
  const wrapped: OtioObject = { OTIO_SCHEMA: 'Stack.1', name: '', children: [clip] };
  const timeline = readOtioDocument(wrapped, { num: 25, den: 1 }).timelines[0]?.timeline;
  return timeline ? ([...clipEvents(timeline.tracks)][0] ?? null) : null;
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
  if (item && place) return { place: item.place, url, expected: expectedFrom(item, fileName(item.place.path)) };
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
    startFrame: start?.value ?? null,
    reel: reference.reel,
    kind: reference.sequence ? 'sequence' : null,
  };
}

function sequenceLabel(reference: MediaReference): string {
  const { prefix, suffix, padding, startNumber } = reference.sequence!;
  const count = reference.availableDuration?.value ?? 1;
  return sequenceName({ prefix, suffix, padding, firstNumber: startNumber, lastNumber: startNumber + count - 1, missingNumbers: [] });
}

/** The same file is the same clip; without a file the reel and name tell clips apart. Null: nothing to go by. */
function mediaKey(reference: MediaReference, event: ClipEvent, link: MediaLink): string | null {
  if (link.place) return `place ${link.place.shelfId} ${link.place.path}`;
  if (link.url !== '') return `url ${link.url.normalize('NFC')}`;
  if (reference.reel) return `reel ${reference.reel} ${event.name}`;
  return event.name === '' ? null : `name ${event.name}`;
}
