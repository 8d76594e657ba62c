/**
 * How taken media and its timelines are laid out below one root folder, by pull and by crate alike:
 *   media/picture, media/sound, media/stills, media/other   and   timelines/*.otio with relative links.
 */
import { readAddress, relativeAddress } from '../../interchange/otio/target-url';
import { handedOn } from '../../interchange/otio/handed-on';
import { isObject, type OtioObject } from '../../interchange/otio/otio-types';
import { externalReference, formatOtio, inPlaceOf, sequenceReference, timeRange, withReferences } from '../../interchange/otio/otio-writer';
import { findSequences, frameName, presentNumbers } from '../../media/image-sequence';
import { below, fileName, folderOf, placeKey, type ItemKind, type Place, type SequenceFacts } from '../../media/item';
import { NameRegister, portableName, portablePrefix, splitExtension } from '../../naming/safe-name';
import { trimEndOf } from '../../naming/trim-end';
import { withSourceWord } from '../../interchange/otio/source-word';
import { linksRead, sourceRendition, type Clip } from '../../project/clip';
import { sourceWordOf } from '../../project/source-word-of';
import { fewNames } from '../../words/figures';
import { totalFrames, type FrameRange } from '../../time/range';
import type { Rate } from '../../time/rate';
import { frameToTimecode } from '../../time/timecode';
import type { PlanText, TextKeeper } from '../plan/plan-text';
import { precondition, type CutPart, type FramesStep, type Step } from '../plan/step';
import { timelineName, type Snapshot, type TimelineSnapshot } from '../plan/snapshot';
import { numbering } from '../../interchange/otio/sequence-numbering';
import { stockOf } from '../plan/stock-view';
import { framesRead, type EventUse } from '../taking/event-use';
import { forEachEventUse, partBytes, type UsedItem, type UsedMedia } from '../taking/used-media';
import { countedRange, countsByFrame } from './counted-range';

const FOLDERS: Record<ItemKind, string> = {
  video: 'media/picture',
  sequence: 'media/picture',
  audio: 'media/sound',
  still: 'media/stills',
  other: 'media/other',
};

/** One new file (or folder of frames) and the item frames it holds. */
export interface TakenPart {
  readonly range: FrameRange;
  /** Below the package's root. For a sequence: the folder of its frames. */
  readonly path: string;
  readonly step: Step;
}

export interface PackageLayout {
  /** By place key of the item the parts come from. */
  readonly parts: ReadonlyMap<string, readonly TakenPart[]>;
  readonly steps: readonly Step[];
}

/** By item id, as in Snapshot. */
type FrameIdentities = Snapshot['frames'];

/** Steps that bring the used media under `root` and where each part goes. `taken`: paths below root that exist. */
export function layMedia(media: UsedMedia, root: Place, phase: number, frames: FrameIdentities, taken: Iterable<string> = []): PackageLayout {
  const standing = [...taken];
  const names = new NameRegister(standing);
  const asRun = namesThatWouldRun(media, standing);
  const parts = new Map<string, TakenPart[]>();
  for (const used of media.items) parts.set(placeKey(used.item.place), partsOf(used, root, phase, names, frames, asRun));
  return { parts, steps: [...parts.values()].flatMap((list) => list.map((part) => part.step)) };
}

/**
 * Names of whole pictures that a stocktake would take for a sequence once they lie in one folder: numbered stills of
 * several folders do.
 */
function namesThatWouldRun(media: UsedMedia, standing: readonly string[]): ReadonlySet<string> {
  const out = new Set<string>();
  for (const folder of [FOLDERS.still, FOLDERS.other]) {
    const there = standing.filter((path) => folderOf(path) === folder).map(fileName);
    const own = media.items.filter(({ item }) => FOLDERS[item.facts.kind] === folder).map(({ item }) => portableName(fileName(item.place.path)));
    for (const { files } of findSequences([...there, ...own]).sequences) for (const name of files) out.add(`${folder}/${name}`);
  }
  return out;
}

function partsOf(used: UsedItem, root: Place, phase: number, names: NameRegister, frames: FrameIdentities, asRun: ReadonlySet<string>): TakenPart[] {
  const { item } = used;
  const folder = FOLDERS[item.facts.kind];
  const whole: FrameRange = { start: 0, end: item.facts.durationFrames ?? 0 };
  const base = { phase, from: item.place, mustHold: precondition(item) };
  if (item.facts.kind === 'sequence') return sequenceParts(used, root, phase, names, used.method === 'whole' ? [whole] : used.kept, frames);
  if (used.method === 'whole') {
    const own = fileName(item.place.path);
    const [stem, extension] = splitExtension(own);
    const path = names.claim(folder, asRun.has(`${folder}/${portableName(own)}`) ? `${stem}_still${extension}` : own);
    const step: Step = {
      ...base,
      action: 'copy',
      to: below(root, path),
      expectedBytes: item.sizeBytes,
      bytesExact: true,
      reason: `whole: ${used.why ?? 'as it is'}`,
    };
    return [{ range: whole, path, step }];
  }
  const [stem, extension] = splitExtension(fileName(item.place.path));
  return used.kept.map((range, index) => {
    const path = names.claim(folder, used.kept.length === 1 ? `${stem}${extension}` : `${stem}_part${index + 1}${extension}`);
    const step: Step = {
      ...base,
      action: 'trim',
      to: below(root, path),
      range,
      facts: item.facts,
      usedBy: fewNames(
        [...new Set(used.uses.flatMap((use) => (overlaps(framesRead(use, item.facts), range) ? [use.use.event.name || use.clip.name] : [])))],
        5,
      ),
      expectedBytes: partBytes(item, totalFrames([range])),
      bytesExact: false,
      reason: used.kept.length === 1 ? 'the used part with handles' : `part ${index + 1} of ${used.kept.length} with handles`,
    };
    return { range, path, step };
  });
}

function overlaps(a: FrameRange, b: FrameRange): boolean {
  return a.start < b.end && b.start < a.end;
}

function sequenceParts(
  used: UsedItem,
  root: Place,
  phase: number,
  names: NameRegister,
  kept: readonly FrameRange[],
  frames: FrameIdentities,
): TakenPart[] {
  const { item } = used;
  const sequence = item.facts.sequence!;
  const label = trimEndOf(sequence.prefix.split('[', 1)[0]!, /[._-]/) || 'sequence';
  return kept.map((range) => {
    const path = names.claim(FOLDERS.sequence, kept.length === 1 ? label : `${label}_${sequence.firstNumber + range.start}`);
    const { names: present, holds } = framesOf(sequence, frames?.get(item.id) ?? null, range);
    const step: FramesStep = {
      phase,
      action: 'frames',
      from: { shelfId: item.place.shelfId, path: folderOf(item.place.path) },
      to: below(root, path),
      mustHold: precondition(item),
      names: present,
      ...portableFrames(sequence, present),
      holds,
      sequence,
      expectedBytes: partBytes(item, present.length),
      bytesExact: false,
      reason: kept.length === 1 && used.method === 'whole' ? 'all frames' : 'the used frames with handles',
    };
    return { range, path, step };
  });
}

/** Frames whose names no plain checker of the manifest could read get portable ones. */
function portableFrames({ prefix }: SequenceFacts, names: readonly string[]): { asNames?: readonly string[] } {
  const safe = portablePrefix(prefix);
  return safe === prefix ? {} : { asNames: names.map((name) => safe + name.slice(prefix.length)) };
}

/** Names of the frames that are there in a range counted from the first, and what is known of each. */
export function framesOf(
  sequence: SequenceFacts,
  known: readonly string[] | null,
  range?: FrameRange,
): { names: readonly string[]; holds: readonly string[] | null } {
  const numbers = presentNumbers(sequence, range);
  const before = range && range.start > 0 ? presentNumbers(sequence, { start: 0, end: range.start }).length : 0;
  return {
    names: numbers.map((number) => frameName(sequence, number)),
    holds: known === null ? null : known.slice(before, before + numbers.length),
  };
}

export interface PackagedTimeline {
  readonly name: string;
  /** Below the package's root. */
  readonly path: string;
  readonly text: PlanText;
  /** Bytes of the text in UTF-8. */
  readonly bytes: number;
  /** Cut files it links. */
  readonly parts: readonly CutPart[];
  /** Files that it names and that are not in the package, where it is handed on. */
  readonly unlinked: readonly string[];
  /** Texts of its metadata that named a folder, where it is handed on. */
  readonly shortened: number;
}

/**
 * The timelines with their links pointed at the taken parts, relative to `timelines/`. Source ranges, effects,
 * markers and names are untouched; only media references change. Events whose media was not taken keep theirs, unless it
 * is `handOn`: then nothing leads out of the package.
 */
export function packageTimelines(
  snapshot: Snapshot,
  timelineIds: readonly string[],
  media: UsedMedia,
  layout: PackageLayout,
  nameOf: (name: string) => string,
  keepText: TextKeeper,
  taken: Iterable<string> = [],
  handOn = false,
): PackagedTimeline[] {
  const names = new NameRegister(taken);
  const usedByClip = new Map<string, UsedItem[]>();
  for (const used of media.items) for (const clip of used.clips) usedByClip.set(clip.id, [...(usedByClip.get(clip.id) ?? []), used]);
  const clips = new Map(snapshot.clips.map((clip) => [clip.id, clip]));
  const chosen = new Set(timelineIds);
  const byTimeline = usesByTimeline(media);
  return snapshot.timelines
    .filter((timeline) => chosen.has(timeline.id))
    .map((timeline) => {
      const name = nameOf(timelineName(timeline));
      const linked = new Map<TakenPart, UsedItem>();
      const link = referenceFor(snapshot, timeline, usedByClip, byTimeline.get(timeline.id) ?? noUses(), layout, linked);
      const own = withReferences(
        { ...timeline.document, name },
        handOn ? (index, old) => link(index, old) ?? saidOfLost(timeline, clips, index, old) : link,
      );
      const inside = new Set([...linked.keys()].map(addressOf));
      const { document, unlinked, shortened } = handOn
        ? handedOn(own, (url) => inside.has(url.endsWith('/') ? url.slice(0, -1) : url))
        : { document: own, unlinked: [], shortened: 0 };
      const text = formatOtio(document);
      const bytes = new TextEncoder().encode(text).length;
      const path = names.claim('timelines', `${portableName(name)}.otio`);
      return { name, path, text: keepText(text), bytes, parts: [...linked].flatMap(cutPart), unlinked, shortened };
    });
}

/** Media that is not in the package is known by its content where it is found again: what is remembered of it goes along. */
function saidOfLost(timeline: TimelineSnapshot, clips: ReadonlyMap<string, Clip>, index: number, old: OtioObject | null): OtioObject | null {
  const clip = clips.get(timeline.clipIds[index] ?? '');
  const position = timeline.positions?.[index] ?? 0;
  const expected = clip && sourceRendition(clip)?.links[position]?.expected;
  if (!old || !clip || !expected?.fingerprint || expected.partOf) return null;
  const file = typeof old.name_prefix === 'string' ? old.name_prefix : typeof old.target_url === 'string' ? readAddress(old.target_url)?.segments.at(-1) : null; // prettier-ignore
  if (!file) return null;
  const kept = isObject(old.metadata) ? old.metadata : {};
  return { ...old, metadata: withSourceWord(kept, { id: clip.sourceId ?? clip.id, file, position, print: expected.fingerprint, part: null }) };
}

/** A cut file of a package, as a timeline addresses it; none for other files. */
function cutPart([part, used]: readonly [TakenPart, UsedItem]): CutPart[] {
  const { durationFrames: wholeFrames, rate } = used.item.facts;
  if (part.step.action !== 'trim' || wholeFrames === null || rate === null) return [];
  return [{ url: addressOf(part), to: part.step.to!, startFrame: part.range.start, wholeFrames, rate }];
}

/** What an event reads, by its index. */
type ByEvent = Map<number, { used: UsedItem; entry: EventUse }>;

const noUses = (): ByEvent => new Map<number, { used: UsedItem; entry: EventUse }>();

/** The first item that each event was taken for, by timeline. */
function usesByTimeline(media: UsedMedia): Map<string, ByEvent> {
  const out = new Map<string, ByEvent>();
  for (const used of media.items)
    for (const entry of used.uses) {
      const own = out.get(entry.timelineId) ?? noUses();
      out.set(entry.timelineId, own);
      if (!own.has(entry.use.event.index)) own.set(entry.use.event.index, { used, entry });
    }
  return out;
}

/** A part as a timeline in the folder `timelines` addresses it. */
function addressOf(part: TakenPart): string {
  return relativeAddress(['..', ...part.path.split('/')]);
}

/** `linked` is told every part that is linked, with the item it was cut of. */
function referenceFor(
  snapshot: Snapshot,
  timeline: TimelineSnapshot,
  usedByClip: ReadonlyMap<string, readonly UsedItem[]>,
  byIndex: ByEvent,
  layout: PackageLayout,
  linked: Map<TakenPart, UsedItem>,
) {
  addMuted(snapshot, timeline, usedByClip, byIndex);
  return (index: number, old: OtioObject | null): OtioObject | null => {
    const found = byIndex.get(index);
    const used = found?.used ?? usedByClip.get(timeline.clipIds[index] ?? '')?.[0];
    if (!used) return null;
    const parts = layout.parts.get(placeKey(used.item.place))!;
    const entry = found?.entry;
    const part = entry ? nearest(parts, framesRead(entry, used.item.facts).start) : parts[0];
    const counted = entry ?? used.uses[0] ?? null;
    if (part) linked.set(part, used);
    return part ? partReference(used, part, counted, entry?.use.rate ?? timeline.model.rate, entry?.clip.name ?? used.clips[0]!.name, old) : null;
  };
}

/** What is switched off is not taken for its own sake, but finds its item, sound or picture, where others brought it. */
function addMuted(snapshot: Snapshot, timeline: TimelineSnapshot, usedByClip: ReadonlyMap<string, readonly UsedItem[]>, byIndex: ByEvent): void {
  const stock = stockOf(snapshot);
  forEachEventUse(snapshot, [timeline.id], true, (entry) => {
    const { event, trackKind } = entry.use;
    if (byIndex.has(event.index)) return;
    const taken = usedByClip.get(entry.clip.id) ?? [];
    const places = linksRead(entry.clip, trackKind === 'audio', entry.named, stock).flatMap(({ place }) => (place ? [placeKey(place)] : []));
    const used = taken.find(({ item }) => places.includes(placeKey(item.place)));
    if (used) byIndex.set(event.index, { used, entry });
  });
}

/** The part that holds an in point, or the one it lies nearest to. */
function nearest(parts: readonly TakenPart[], inPoint: number): TakenPart | undefined {
  const away = ({ range }: TakenPart) => Math.max(range.start - inPoint, inPoint - (range.end - 1), 0);
  return parts.reduce<TakenPart | undefined>((best, part) => (best && away(best) <= away(part) ? best : part), undefined);
}

function partReference(used: UsedItem, part: TakenPart, counted: EventUse | null, units: Rate, name: string, old: OtioObject | null): OtioObject {
  const facts = used.item.facts;
  const clip = counted?.clip ?? used.clips[0]!;
  const kept = old !== null && isObject(old.metadata) ? old.metadata : {};
  const own = isObject(kept.mill_shelf) ? kept.mill_shelf : {};
  const isByFrame = countsByFrame(facts, counted);
  const file = facts.sequence ? portablePrefix(facts.sequence.prefix) : fileName(part.path);
  const metadata = withSourceWord(
    clip.conform === 'by-frame' ? { ...kept, mill_shelf: { ...own, conform: 'by-frame' } } : kept,
    sourceWordOf(clip, used.item, part.step.action === 'copy' ? null : part.range, file, isByFrame || facts.rate === null ? units : null),
  );
  if (facts.kind === 'sequence' && facts.sequence) {
    const { prefix, suffix, padding, firstNumber } = facts.sequence;
    const { startNumber, step } = numbering(facts.sequence, old, part.range.start);
    const range = { start: startNumber - firstNumber, end: part.range.end };
    const made = sequenceReference(
      { folderUrl: addressOf(part), prefix: portablePrefix(prefix), suffix, padding, startNumber, step, rate: facts.rate ?? units },
      name,
      countedRange(facts, range, counted, units) ?? keptRange(old) ?? timeRange(0, totalFrames([range]), units),
      metadata,
    );
    return inPlaceOf(old, made);
  }
  const available = countedRange(facts, part.range, counted, units) ?? keptRange(old);
  return inPlaceOf(old, externalReference(addressOf(part), name, available, metadata));
}

/** A still has no length of its own: what the timeline said of it stays. */
function keptRange(old: OtioObject | null): OtioObject | null {
  return old !== null && isObject(old.available_range) ? old.available_range : null;
}

/** Start timecode label of a part, for the cut file; null where the source carries none. */
export function partTimecode(facts: { rate: Rate | null; startFrame: number | null; dropFrame: boolean }, startFrame: number): string | null {
  return facts.rate === null || facts.startFrame === null ? null : frameToTimecode(facts.startFrame + startFrame, facts.rate, facts.dropFrame);
}
