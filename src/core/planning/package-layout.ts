/**
 * How taken media and its timelines are laid out below one root folder, by pull and by crate alike:
 *   media/picture, media/sound, media/stills, media/other   and   timelines/*.otio with relative links.
 */
import { relativeAddress } from '../interchange/otio/target-url';
import { isObject, type OtioObject } from '../interchange/otio/otio-types';
import { externalReference, formatOtio, sequenceReference, timeRange, withReferences } from '../interchange/otio/otio-writer';
import { findSequences, frameName, presentNumbers, sequenceName } from '../media/image-sequence';
import { fileName, folderOf, joinPath, placeKey, type ItemKind, type Place, type SequenceFacts } from '../media/item';
import { NameRegister, portableName, splitExtension } from '../naming/safe-name';
import { countsFrom } from '../project/clip';
import { ceilFrames, floorFrames } from '../project/moment';
import { itemRange } from '../project/usage';
import { totalFrames, type FrameRange } from '../time/range';
import type { Rate } from '../time/rate';
import { frameToTimecode } from '../time/timecode';
import { precondition, type CutPart, type FramesStep, type Snapshot, type Step, type TimelineSnapshot } from './plan';
import { partBytes, type UsedItem, type UsedMedia } from './used-media';

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
      expectedBytes: partBytes(item, totalFrames([range])),
      bytesExact: false,
      reason: used.kept.length === 1 ? 'the used part with handles' : `part ${index + 1} of ${used.kept.length} with handles`,
    };
    return { range, path, step };
  });
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
  const label = splitExtension(sequenceName(sequence))[0].replace(/[._-]*\[.*$/, '') || 'sequence';
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
      holds,
      sequence,
      expectedBytes: partBytes(item, present.length),
      bytesExact: false,
      reason: kept.length === 1 && used.method === 'whole' ? 'all frames' : 'the used frames with handles',
    };
    return { range, path, step };
  });
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

export function below(root: Place, path: string): Place {
  return { shelfId: root.shelfId, path: joinPath(root.path, path) };
}

export interface PackagedTimeline {
  readonly name: string;
  /** Below the package's root. */
  readonly path: string;
  readonly text: string;
  /** Cut files it links. */
  readonly parts: readonly CutPart[];
}

/**
 * The timelines with their links pointed at the taken parts, relative to `timelines/`. Source ranges, effects,
 * markers and names are untouched; only media references change. Events whose media was not taken keep theirs.
 */
export function packageTimelines(
  snapshot: Snapshot,
  timelineIds: readonly string[],
  media: UsedMedia,
  layout: PackageLayout,
  nameOf: (name: string) => string,
): PackagedTimeline[] {
  const names = new NameRegister();
  const parts = cutParts(media, layout);
  const usedByClip = new Map<string, UsedItem[]>();
  for (const used of media.items) for (const clip of used.clips) usedByClip.set(clip.id, [...(usedByClip.get(clip.id) ?? []), used]);
  return snapshot.timelines
    .filter((timeline) => timelineIds.includes(timeline.id))
    .map((timeline) => {
      const name = nameOf(timeline.model.name);
      const document = withReferences({ ...timeline.document, name }, referenceFor(timeline, usedByClip, media, layout));
      return { name, path: names.claim('timelines', `${portableName(name)}.otio`), text: formatOtio(document), parts };
    });
}

/** Every cut file of a package, as its timelines address it. */
function cutParts(media: UsedMedia, layout: PackageLayout): CutPart[] {
  return media.items.flatMap((used) =>
    (layout.parts.get(placeKey(used.item.place)) ?? []).flatMap((part): CutPart[] => {
      if (part.step.action !== 'trim' || used.item.facts.durationFrames === null) return [];
      const whole = { start: 0, end: used.item.facts.durationFrames };
      const wholeRange = availableRange(used, whole, used.item.facts.rate ?? { num: 1, den: 1 });
      return [{ url: addressOf(part), to: part.step.to!, wholeRange }];
    }),
  );
}

/** A part as a timeline in the folder `timelines` addresses it. */
function addressOf(part: TakenPart): string {
  return relativeAddress(['..', ...part.path.split('/')]);
}

function referenceFor(timeline: TimelineSnapshot, usedByClip: ReadonlyMap<string, readonly UsedItem[]>, media: UsedMedia, layout: PackageLayout) {
  const byIndex = new Map<number, { used: UsedItem; entry: UsedItem['uses'][number] }>();
  for (const used of media.items) {
    for (const entry of used.uses)
      if (entry.timelineId === timeline.id && !byIndex.has(entry.use.event.index)) byIndex.set(entry.use.event.index, { used, entry });
  }
  return (index: number, old: OtioObject | null): OtioObject | null => {
    const found = byIndex.get(index);
    const used = found?.used ?? usedByClip.get(timeline.clipIds[index] ?? '')?.[0];
    if (!used) return null;
    const parts = layout.parts.get(placeKey(used.item.place))!;
    const entry = found?.entry;
    const wanted = entry ? itemRange(entry.use, countsFrom(entry.clip, used.item.facts), used.item.facts, entry.clip.conform) : null;
    // A muted event has no use; it is pointed at the part nearest its in point, so that its link resolves.
    const part = (wanted && (parts.find(({ range }) => wanted.start < range.end && wanted.end > range.start) ?? null)) ?? parts[0];
    return part ? partReference(used, part, entry?.use.rate ?? timeline.model.rate, entry?.clip.name ?? used.clips[0]!.name, old) : null;
  };
}

function partReference(used: UsedItem, part: TakenPart, units: Rate, name: string, old: OtioObject | null): OtioObject {
  const facts = used.item.facts;
  const metadata = old !== null && isObject(old.metadata) ? old.metadata : {};
  const available = availableRange(used, part.range, units) ?? keptRange(old);
  if (facts.kind === 'sequence' && facts.sequence) {
    const { prefix, suffix, padding, firstNumber } = facts.sequence;
    return sequenceReference(
      { folderUrl: addressOf(part), prefix, suffix, padding, startNumber: firstNumber + part.range.start, rate: facts.rate ?? units },
      name,
      available ?? timeRange(0, totalFrames([part.range]), units),
      metadata,
    );
  }
  return externalReference(addressOf(part), name, available, metadata);
}

/** Where a part lies in the count the events use: at the events' rate where that is exact, else at the item's. */
function availableRange(used: UsedItem, range: FrameRange, units: Rate): OtioObject | null {
  const facts = used.item.facts;
  if (facts.durationFrames === null) return null;
  const rate = facts.rate ?? units;
  const itemStart = used.mediaStart ? floorFrames(used.mediaStart, rate) : countedFrom(used, rate);
  const start = itemStart + range.start;
  const length = totalFrames([range]);
  const inUnits = { start: { value: start, rate }, length: { value: length, rate } };
  const exact = (value: { value: number; rate: Rate }) => floorFrames(value, units) === ceilFrames(value, units);
  return exact(inUnits.start) && exact(inUnits.length)
    ? timeRange(floorFrames(inUnits.start, units), floorFrames(inUnits.length, units), units)
    : timeRange(start, length, rate);
}

/** A still has no length of its own: what the timeline said of it stays. */
function keptRange(old: OtioObject | null): OtioObject | null {
  return old !== null && isObject(old.available_range) ? old.available_range : null;
}

/** Without a stated start the events count from the file's timecode or from 0, as itemRange decides. */
function countedFrom(used: UsedItem, rate: Rate): number {
  const own = used.item.facts.startFrame ?? 0;
  const first = used.uses[0];
  if (!first) return own;
  return itemRange(first.use, null, used.item.facts).start === itemRange(first.use, { value: 0, rate }, used.item.facts).start ? 0 : own;
}

/** Start timecode label of a part, for the cut file; null where the source carries none. */
export function partTimecode(facts: { rate: Rate | null; startFrame: number | null; dropFrame: boolean }, startFrame: number): string | null {
  return facts.rate === null || facts.startFrame === null ? null : frameToTimecode(facts.startFrame + startFrame, facts.rate, facts.dropFrame);
}
