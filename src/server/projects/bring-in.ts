/** Bringing timelines into a project: every media reference becomes a clip; the same source is one clip. */
import { isObject, type OtioObject } from '../../core/interchange/otio/otio-types';
import { ownMetadata, text } from '../../core/interchange/otio/otio-values';
import { withReferences } from '../../core/interchange/otio/otio-writer';
import { withSourceWord, type SourceWord } from '../../core/interchange/otio/source-word';
import { readOtioDocument, type OtioTimeline } from '../../core/interchange/otio/otio-reader';
import type { TimelineFile } from '../../core/interchange/read-timeline-file';
import { matchedBy } from '../../core/matching/judge';
import { sourcesOf, type Source, type Sources } from '../../core/matching/sources';
import type { Place } from '../../core/media/item';
import { notes, type Finding } from '../../core/words/finding';
import type { TimelineSnapshot } from '../../core/planning/plan/snapshot';
import { withoutSettled } from '../../core/project/count-events';
import { binName } from '../../core/project/bins';
import type { ClipMarks } from '../../core/project/clip';
import { ceilFrames, floorFrames } from '../../core/project/moment';
import { clipEvents, type ClipEvent, type Timeline } from '../../core/project/timeline';
import { parseRate } from '../../core/time/rate';
import type { Catalogue } from '../catalogue/catalogue';
import { digest } from '../catalogue/timelines';
import type { EventClips } from '../catalogue/timeline-reads';
import type { Places } from '../stock/mounts';
import { AddressBook } from './address-book';
import { ClipFinder } from './clip-finder';
import type { Matched } from './event-link';
import { enterTimeline, keepFigures, readAgain, type TimelineText } from './enter-timeline';
import { countSources } from './source-counts';
import { matchSources, type MatchChoice, type Matches } from './match-sources';
import { plural } from '../../core/words/figures';

export interface BroughtIn {
  readonly timelineIds: string[];
  /** Of these, the ones that were not there before. */
  readonly madeIds: string[];
  readonly newClips: number;
  readonly events: number;
  /** Clips that read a file which was matched, not proven. */
  readonly matchedClips: number;
  readonly findings: readonly Finding[];
}

/**
 * Writes the timelines and their clips into the catalogue, all or nothing. `folder`: where the document stands. `match`: how
 * media is looked for where an address leads to none; null leaves such clips without.
 */
export function bringIn(
  catalogue: Catalogue,
  mounts: Pick<Places, 'rootOf'>,
  projectId: string,
  file: TimelineFile,
  sourceName: string,
  folder: Place | null,
  newId: () => string,
  match: MatchChoice | null = null,
): BroughtIn {
  const book = new AddressBook(catalogue, mounts, folder);
  const named = namedBy(file);
  const timelineIds: string[] = [];
  const madeIds: string[] = [];
  const findings: Finding[] = [...file.findings];
  const made: TimelineSnapshot[] = [];
  let events = 0;
  // Looking takes its time; in the transaction it is only asked whether each file still stands there.
  const taken = match === null ? undefined : takenOf(matchNamed(catalogue, mounts, book, named, match));
  return catalogue.transaction(() => {
    const matched = taken && stillThere(taken, catalogue);
    const clips = new ClipFinder(catalogue, book, projectId, newId, matched);
    for (const [index, { timeline, document, bins }] of file.timelines.entries()) {
      const sources = named.timelines[index]!;
      const text = JSON.stringify(document);
      // An equal document in another folder may link other files: it is the same timeline only if each event finds the same clip.
      const known = catalogue.timelines
        .withDocument(projectId, text)
        .find((row) => clips.findsAgain(timeline.tracks, sources, catalogue.timelines.eventClips(row.id).clipIds));
      if (known) {
        // Other copies of the same sources may stand at its addresses this time: they are linked too.
        clipsOfEvents(timeline, sources, clips, '');
        findings.push(notes('already-here', `"${known.name}" is here already, event for event; it was not brought in again.`));
        timelineIds.push(known.id);
        continue;
      }
      const id = newId();
      const { said, ...eventClips } = clipsOfEvents(timeline, sources, clips, binPath(bins));
      const spoken = withSourceWords({ model: timeline, document, text }, said);
      const matchedHere = matchedAs(sources, eventClips, matched);
      const format = file.format ?? 'otio';
      const { findings: counted, ...own } = countSources(catalogue, projectId, spoken, eventClips, format);
      const row = {
        id,
        name: timeline.name,
        format,
        sourceName,
        broughtInAt: new Date().toISOString(),
        findings: [...withoutSettled(file.findings, own.model, ({ count }) => count?.isSource === true), ...matchedHere, ...counted],
        cameAs: own.text === text ? null : digest(text),
      };
      findings.push(...counted);
      events += timeline.eventCount;
      made.push(enterTimeline(catalogue, projectId, row, own, eventClips));
      timelineIds.push(id);
      madeIds.push(id);
    }
    keepFigures(catalogue, projectId, made);
    for (const [index, { document, bins }] of file.clips.entries()) {
      const source = named.clips[index];
      if (source)
        clips.of(source.event, source, binPath(bins), 'list', { note: text(ownMetadata(document).note), marks: marksOf(document, source.event) });
    }
    return { timelineIds, madeIds, newClips: clips.made, events, matchedClips: clips.matchedIds.size, findings };
  });
}

/** Code of the finding that says what of a timeline was matched as it came in. */
export const MATCHED = 'matched';

export function isMatched(findings: readonly Finding[]): boolean {
  return findings.some(({ code }) => code === MATCHED);
}

function matchedAs(sources: readonly (Source | null)[], { clipIds }: EventClips, matched: ReadonlyMap<string, Matched> | undefined): Finding[] {
  const ids = new Set(sources.flatMap((source, index) => (source && matched?.has(source.key) ? [clipIds[index] ?? ''] : [])));
  if (ids.size === 0) return [];
  const how = [...new Set(sources.flatMap((source) => (source ? (matched?.get(source.key)?.by ?? []) : [])))];
  const clips = plural(ids.size, 'clip was', 'clips were');
  return [
    notes(
      MATCHED,
      `${clips} linked by ${how.join(' or by ')} as this came in. Names and timecode are no proof.`,
      'Compare a few pictures, or take the links back.',
    ),
  ];
}

/** Clips of all events of a timeline, made where they are new. */
export function clipsOfEvents(timeline: Timeline, sources: readonly (Source | null)[], clips: ClipFinder, bin: string): SpokenClips {
  const clipIds: (string | null)[] = [];
  const positions: (number | null)[] = [];
  const said = new Map<number, SourceWord>();
  for (const event of clipEvents(timeline.tracks)) {
    const clip = clips.of(event, sources[event.index] ?? null, bin, 'timeline');
    clipIds[event.index] = clip?.id ?? null;
    positions[event.index] = clip?.position ?? null;
    if (clip?.says) said.set(event.index, clip.says);
  }
  return { clipIds, positions, said };
}

/** With what must be said of the sources of some events, by their index. */
interface SpokenClips extends EventClips {
  readonly said: ReadonlyMap<number, SourceWord>;
}

/** The timeline with what is known here of its files, and was not said in it. */
function withSourceWords(text: TimelineText, said: SpokenClips['said']): TimelineText {
  if (said.size === 0) return text;
  const document = withReferences(text.document, (index, old) => {
    const word = said.get(index);
    return word && old ? { ...old, metadata: withSourceWord(isObject(old.metadata) ? old.metadata : {}, word) } : null;
  });
  return readAgain(document, text.model.rate);
}

/** What a file names: by event of its timelines, and the clips of its bins. Keys are of the whole file. */
export interface NamedSources {
  readonly timelines: readonly (readonly (Source | null)[])[];
  readonly clips: readonly (Source | null)[];
  readonly all: readonly Source[];
}

export function namedBy(file: TimelineFile): NamedSources {
  const all: Source[] = [];
  const keyed = ({ all: own, ofEvent }: Sources, prefix: string) => {
    const byKey = new Map(own.map((source) => [source.key, { ...source, key: `${prefix} ${source.key}` }]));
    all.push(...byKey.values());
    return ofEvent.map((source) => (source ? byKey.get(source.key)! : null));
  };
  const timelines = file.timelines.map(({ timeline, document }, index) => keyed(sourcesOf(timeline, document), `timeline ${index}`));
  const clips = file.clips.map(({ document }, index) => {
    const loose = looseClip(document);
    return loose ? (keyed(sourcesOf(loose.timeline, loose.document, true), `clip ${index}`)[0] ?? null) : null;
  });
  return { timelines, clips, all };
}

/** Files for what has none by its address. */
export function matchNamed(
  catalogue: Catalogue,
  mounts: Pick<Places, 'rootOf'>,
  book: AddressBook,
  named: NamedSources,
  match: MatchChoice,
): MatchedSources {
  const attached = new Set(catalogue.shelves.list().map(({ id }) => id).filter((id) => mounts.rootOf(id) !== null)); // prettier-ignore
  const isAttached = (id: string) => attached.has(id);
  const finder = new ClipFinder(catalogue, book, '', () => '');
  const open = named.all.filter((source) => !finder.leadsSomewhere(source, isAttached));
  return { open, linked: named.all.length - open.length, ...matchSources(catalogue, isAttached, open, match) };
}

export interface MatchedSources extends Matches {
  /** Those whose address leads to no file, and how many have one that does. */
  readonly open: readonly Source[];
  readonly linked: number;
}

function stillThere(taken: ReadonlyMap<string, Matched>, catalogue: Catalogue): Map<string, Matched> {
  return new Map(
    [...taken].filter(([, { item }]) => {
      const now = catalogue.items.at(item.place);
      return now !== null && now.id === item.id && now.fingerprint === item.fingerprint;
    }),
  );
}

function takenOf({ decisions, item }: MatchedSources): Map<string, Matched> {
  const taken = new Map<string, Matched>();
  for (const [key, { taken: own }] of decisions) {
    const found = own ? item(own.candidate.id) : null;
    if (found) taken.set(key, { item: found, by: matchedBy(own!) ?? 'file name' });
  }
  return taken;
}

function binPath(bins: readonly string[]): string {
  return bins
    .filter((name) => name.trim() !== '')
    .map(binName)
    .join('/');
}

/** A clip that stands in a bin on no timeline, as a timeline of it alone. */
function looseClip(document: OtioObject): OtioTimeline | null {
  const wrapped: OtioObject = { OTIO_SCHEMA: 'Stack.1', name: '', children: [document] };
  return readOtioDocument(wrapped, { num: 25, den: 1 }).timelines[0] ?? null;
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
