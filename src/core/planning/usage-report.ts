/** Usage: for each item the frames that timelines, bins and clips use, by whom; and what nobody uses. */
import { fileName, placeKey, type Item, type ItemKind, type Place } from '../media/item';
import { byName } from '../naming/by-name';
import { clipState, linksRead, sourceRendition, type Clip, type LinkState, type MediaLink } from '../project/clip';
import { countsFrom } from '../project/counting';
import { itemRange } from '../project/usage';
import { clamp, subtract, totalFrames, unite, type FrameRange, type RangeSet } from '../time/range';
import type { Rate } from '../time/rate';
import type { Snapshot } from './plan';
import { stockOf, type StockView } from './stock-view';
import { forEachEventUse, framesRead } from './used-media';

export interface UsageChoice {
  readonly timelineIds: readonly string[];
  /** Bins whose clips count as used between their marks, or whole: their own clips and those of bins below. */
  readonly bins: readonly string[];
  readonly clipIds: readonly string[];
  /** Count events and tracks that are switched off. */
  readonly countDisabled: boolean;
}

/** Who uses a part of an item. */
export interface PartUse {
  /** Null where a bin or a chosen clip uses it. */
  readonly timelineId: string | null;
  readonly eventIndex: number | null;
  /** Name of the event, or of the bin. */
  readonly name: string;
  readonly track: string;
  readonly nestedIn: readonly string[];
  /** Frames of the timeline from its first. */
  readonly recordStart: number;
  /** Item frames. */
  readonly range: FrameRange;
  readonly sound: boolean;
}

export interface ItemUsage {
  /** Place of the item, or address of what is at no known place. */
  readonly key: string;
  readonly itemId: string | null;
  readonly name: string;
  readonly place: Place | null;
  readonly reel: string | null;
  readonly kind: ItemKind | null;
  readonly state: LinkState;
  readonly clips: readonly { readonly id: string; readonly name: string }[];
  readonly rate: Rate | null;
  /** Null for stills and where it is not known. */
  readonly lengthFrames: number | null;
  readonly sizeBytes: number | null;
  readonly used: RangeSet;
  /** The same apart: what picture tracks and what sound tracks read. */
  readonly picture: RangeSet;
  readonly sound: RangeSet;
  /** What of the item nobody uses. */
  readonly unused: RangeSet;
  readonly usedFrames: number;
  /** How many events, bins and clips use it, and how many timelines. */
  readonly useCount: number;
  readonly timelineCount: number;
  /** Who uses which part; empty unless it was asked for. */
  readonly uses: readonly PartUse[];
}

export interface UsageReport {
  readonly items: readonly ItemUsage[];
  /** Linked by clips, used by none of the choice. */
  readonly neverUsed: readonly ItemUsage[];
  /** Clips that lie in bins and on no timeline of the project. */
  readonly binOnly: readonly { readonly id: string; readonly name: string; readonly binPath: string; readonly state: LinkState }[];
}

interface Gathered {
  readonly link: MediaLink;
  readonly item: Item | null;
  readonly clips: Set<Clip>;
  readonly picture: FrameRange[];
  readonly sound: FrameRange[];
  readonly timelines: Set<string>;
  readonly uses: PartUse[];
}

/** `whoUses`: key of the item for which every use is told; the others are only counted. */
export function reportUsage(snapshot: Snapshot, choice: UsageChoice, whoUses: string | null = null): UsageReport {
  const stock = stockOf(snapshot);
  const gathered = new Map<string, Gathered>();
  const byLink = new Map<MediaLink, Gathered>();
  const at = (clip: Clip, link: MediaLink): Gathered => {
    const known = byLink.get(link);
    if (known) return known;
    const key = keyOf(clip, link);
    const item = link.place ? stock.itemAt(link.place) : null;
    const entry = gathered.get(key) ?? { link, item, clips: new Set<Clip>(), picture: [], sound: [], timelines: new Set<string>(), uses: [] };
    entry.clips.add(clip);
    gathered.set(key, entry);
    byLink.set(link, entry);
    return entry;
  };
  const factsOf = ({ item, link }: Gathered) =>
    item?.facts ?? { kind: link.expected.kind ?? 'other', rate: link.expected.rate, startFrame: link.expected.startFrame };

  forEachEventUse(snapshot, choice.timelineIds, choice.countDisabled, (eventUse) => {
    const { timelineId, clip, use, named } = eventUse;
    const sound = use.trackKind === 'audio';
    for (const link of linksRead(clip, sound, named, stock)) {
      const entry = at(clip, link);
      const facts = factsOf(entry);
      const range = framesRead(eventUse, facts);
      (sound ? entry.sound : entry.picture).push(range);
      entry.timelines.add(timelineId);
      if (whoUses === null || keyOf(clip, link) !== whoUses) continue;
      const { event, trackName: track, nestedIn, recordStart } = use;
      entry.uses.push({ timelineId, eventIndex: event.index, name: event.name || clip.name, track, nestedIn, recordStart, range, sound });
    }
  });
  for (const clip of snapshot.clips) {
    const bin = choice.bins.find((path) => clip.binPath === path || clip.binPath.startsWith(`${path}/`));
    if (bin === undefined && !choice.clipIds.includes(clip.id)) continue;
    for (const link of sourceRendition(clip)?.links ?? []) {
      const entry = at(clip, link);
      const range = markedRange(clip, entry);
      if (!range) continue;
      const sound = factsOf(entry).kind === 'audio';
      (sound ? entry.sound : entry.picture).push(range);
      const name = bin === undefined ? clip.name : clip.binPath;
      if (whoUses === keyOf(clip, link))
        entry.uses.push({ timelineId: null, eventIndex: null, name, track: '', nestedIn: [], recordStart: 0, range, sound });
    }
  }
  const used = new Set(gathered.keys());
  for (const clip of snapshot.clips) for (const link of sourceRendition(clip)?.links ?? []) at(clip, link);
  const all = [...gathered].map(([key, entry]) => usageOf(key, entry, stock));
  const onTimelines = new Set(snapshot.timelines.flatMap((timeline) => timeline.clipIds.filter((id) => id !== null)));
  return {
    items: all.filter((entry) => used.has(entry.key)).sort(inOrder),
    neverUsed: all.filter((entry) => !used.has(entry.key)).sort(inOrder),
    binOnly: snapshot.clips
      .filter((clip) => !onTimelines.has(clip.id))
      .map((clip) => ({ id: clip.id, name: clip.name, binPath: clip.binPath, state: clipState(clip, stock) })),
  };
}

function keyOf(clip: Clip, link: MediaLink): string {
  return link.place ? placeKey(link.place) : link.url || `clip ${clip.id}`;
}

function inOrder(a: ItemUsage, b: ItemUsage): number {
  return byName(a.name, b.name);
}

/** Item frames between the marks of a clip; all of it without marks, null where its length is not known. */
function markedRange(clip: Clip, { item, link }: Gathered): FrameRange | null {
  const length = item?.facts.durationFrames ?? link.expected.durationFrames;
  const rate = item?.facts.rate ?? link.expected.rate ?? clip.marks?.rate;
  if (clip.marks && rate) {
    const facts = { kind: item?.facts.kind ?? ('other' as const), rate, startFrame: item?.facts.startFrame ?? link.expected.startFrame };
    const { inFrame, outFrame, rate: units } = clip.marks;
    const inItem = (source: FrameRange) => itemRange({ source, rate: units }, countsFrom(null, clip, facts, null), facts, clip.conform);
    if (inFrame !== null && outFrame !== null) return inItem({ start: inFrame, end: outFrame });
    // One mark alone reaches to the begin or the end of the media.
    const start = inFrame === null ? 0 : inItem({ start: inFrame, end: inFrame + 1 }).start;
    const end = outFrame === null ? length : inItem({ start: outFrame - 1, end: outFrame }).end;
    return end === null || end <= start ? null : { start, end };
  }
  return length === null ? null : { start: 0, end: length };
}

function usageOf(key: string, { link, item, clips, picture, sound, timelines, uses }: Gathered, stock: StockView): ItemUsage {
  const first = [...clips][0]!;
  const lengthFrames = item?.facts.durationFrames ?? link.expected.durationFrames;
  const limits = lengthFrames === null ? null : { start: 0, end: lengthFrames };
  const inside = (ranges: readonly FrameRange[]) => (limits ? clamp(unite(ranges), limits) : unite(ranges));
  const used = inside([...picture, ...sound]);
  return {
    key,
    itemId: item?.id ?? null,
    name: (item ? fileName(item.place.path) : '') || link.expected.name || first.name,
    place: link.place,
    reel: item?.facts.reel ?? link.expected.reel,
    kind: item?.facts.kind ?? link.expected.kind,
    state: clipState(first, stock),
    clips: [...clips].map(({ id, name }) => ({ id, name })),
    rate: item?.facts.rate ?? link.expected.rate,
    lengthFrames,
    sizeBytes: item?.sizeBytes ?? link.expected.sizeBytes,
    used,
    picture: inside(picture),
    sound: inside(sound),
    unused: limits ? subtract([limits], used) : [],
    usedFrames: totalFrames(used),
    useCount: picture.length + sound.length,
    timelineCount: timelines.size,
    uses,
  };
}
