/** Usage: for each item the frames that timelines, bins and clips use, by whom; and what nobody uses. */
import { fileName, placeKey, type Item, type ItemKind, type Place } from '../media/item';
import { byName } from '../naming/by-name';
import { clipState, linksRead, sourceRendition, type Clip, type LinkState, type MediaLink } from '../project/clip';
import { countsFrom, type CountedFacts } from '../project/counting';
import { forEachRead } from '../project/reads';
import { itemRange } from '../project/usage';
import { clamp, subtract, totalFrames, unite, type FrameRange, type RangeSet } from '../time/range';
import { RangeGathering } from '../time/range-gathering';
import type { Rate } from '../time/rate';
import type { Snapshot } from '../planning/plan/snapshot';
import { stockOf, type StockView } from '../planning/plan/stock-view';
import { framesRead, readsIn, type EventUse } from '../planning/taking/used-media';

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
  readonly facts: CountedFacts;
  readonly clips: Set<Clip>;
  readonly picture: RangeGathering;
  readonly sound: RangeGathering;
  /** The one that used it last: they are gone through one after the other. */
  timeline: string | null;
  timelineCount: number;
  isUsed: boolean;
  /** Null unless it is asked for. */
  readonly uses: PartUse[] | null;
}

/** `onTimelines`: clips that any timeline of the project uses, where that is known already. */
export function reportUsage(snapshot: Snapshot, choice: UsageChoice, onTimelines: ReadonlySet<string> = clipsOnTimelines(snapshot)): UsageReport {
  const gathering = new Gathering(snapshot, choice, null);
  const stock = stockOf(snapshot);
  const { used, all } = gathering.told();
  return {
    items: all.filter((entry) => used.has(entry.key)).sort(inOrder),
    neverUsed: all.filter((entry) => !used.has(entry.key)).sort(inOrder),
    binOnly: snapshot.clips
      .filter((clip) => !onTimelines.has(clip.id))
      .map((clip) => ({ id: clip.id, name: clip.name, binPath: clip.binPath, state: clipState(clip, stock) })),
  };
}

/** One item with every use of it, in the order of the timelines; null where no clip links it. */
export function reportItem(snapshot: Snapshot, choice: UsageChoice, key: string): ItemUsage | null {
  const clips = snapshot.clips.filter((clip) => sourceRendition(clip)?.links.some((link) => usageKey(clip, link) === key));
  const { project, timelines, items, shelves, retiredShelves } = snapshot;
  const narrow = { project, clips, timelines, items, shelves, ...(retiredShelves ? { retiredShelves } : {}) };
  return new Gathering(narrow, choice, key).told().all.find((entry) => entry.key === key) ?? null;
}

function clipsOnTimelines(snapshot: Snapshot): ReadonlySet<string> {
  return new Set(snapshot.timelines.flatMap((timeline) => timeline.clipIds.filter((id) => id !== null)));
}

/** A clip, and what is gathered of its item where it has only the one. */
interface Reader {
  readonly clip: Clip;
  readonly alone: Gathered | null;
}

class Gathering {
  private readonly byKey = new Map<string, Gathered>();
  private readonly byLink = new Map<MediaLink, Gathered>();
  private readonly stock: StockView;

  constructor(
    private readonly snapshot: Snapshot,
    private readonly choice: UsageChoice,
    /** Key of the item for which every use is told; the others are only counted. */
    private readonly whoUses: string | null,
  ) {
    this.stock = stockOf(snapshot);
  }

  told(): { used: ReadonlySet<string>; all: ItemUsage[] } {
    this.readTimelines();
    this.readBins();
    const used = new Set([...this.byKey].filter(([, { isUsed }]) => isUsed).map(([key]) => key));
    for (const clip of this.snapshot.clips) for (const link of sourceRendition(clip)?.links ?? []) this.at(clip, link);
    return { used, all: [...this.byKey].map(([key, entry]) => usageOf(key, entry, this.stock)) };
  }

  private at(clip: Clip, link: MediaLink): Gathered {
    const known = this.byLink.get(link);
    if (known) return known;
    const key = usageKey(clip, link);
    const item = link.place ? this.stock.itemAt(link.place) : null;
    const entry = this.byKey.get(key) ?? newEntry(link, item, key === this.whoUses);
    entry.clips.add(clip);
    this.byKey.set(key, entry);
    this.byLink.set(link, entry);
    return entry;
  }

  private readTimelines(): void {
    const { clips, timelines } = this.snapshot;
    const readers = new Map(
      clips.map((clip): [string, Reader] => {
        const links = sourceRendition(clip)?.links ?? [];
        return [clip.id, { clip, alone: links.length === 1 ? this.at(clip, links[0]!) : null }];
      }),
    );
    const wanted = new Set(this.choice.timelineIds);
    for (const timeline of timelines) {
      if (!wanted.has(timeline.id)) continue;
      const reads = readsIn(timeline);
      const owners = reads.clipIds.map((id) => readers.get(id) ?? null);
      forEachRead(reads, owners, this.choice.countDisabled, ({ clip, alone }, use, named, span) => {
        const read = { timelineId: timeline.id, clip, use, named, span };
        if (alone) return this.add(alone, read);
        for (const link of linksRead(clip, use.trackKind === 'audio', named, this.stock)) this.add(this.at(clip, link), read);
      });
    }
  }

  private add(entry: Gathered, read: EventUse): void {
    const { timelineId, clip, use } = read;
    const range = framesRead(read, entry.facts);
    const sound = use.trackKind === 'audio';
    entry.isUsed = true;
    (sound ? entry.sound : entry.picture).add(range.start, range.end);
    if (entry.timeline !== timelineId) {
      entry.timeline = timelineId;
      entry.timelineCount++;
    }
    if (!entry.uses) return;
    const { event, trackName: track, nestedIn, recordStart } = use;
    entry.uses.push({ timelineId, eventIndex: event.index, name: event.name || clip.name, track, nestedIn, recordStart, range, sound });
  }

  private readBins(): void {
    const { bins } = this.choice;
    const chosen = new Set(this.choice.clipIds);
    for (const clip of this.snapshot.clips) {
      const bin = bins.find((path) => clip.binPath === path || clip.binPath.startsWith(`${path}/`));
      if (bin === undefined && !chosen.has(clip.id)) continue;
      for (const link of sourceRendition(clip)?.links ?? []) {
        const entry = this.at(clip, link);
        entry.isUsed = true;
        const range = markedRange(clip, entry);
        if (!range) continue;
        const sound = entry.facts.kind === 'audio';
        (sound ? entry.sound : entry.picture).add(range.start, range.end);
        const name = bin === undefined ? clip.name : clip.binPath;
        entry.uses?.push({ timelineId: null, eventIndex: null, name, track: '', nestedIn: [], recordStart: 0, range, sound });
      }
    }
  }
}

function newEntry(link: MediaLink, item: Item | null, withUses: boolean): Gathered {
  const { kind, rate, startFrame } = link.expected;
  return {
    link,
    item,
    facts: item?.facts ?? { kind: kind ?? 'other', rate, startFrame },
    clips: new Set(),
    picture: new RangeGathering(),
    sound: new RangeGathering(),
    timeline: null,
    timelineCount: 0,
    isUsed: false,
    uses: withUses ? [] : null,
  };
}

/** What an item is known by in a report: its place, or the address of what is at no known place. */
export function usageKey(clip: Pick<Clip, 'id'>, link: Pick<MediaLink, 'place' | 'url'>): string {
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

function usageOf(key: string, { link, item, clips, uses, timelineCount, ...read }: Gathered, stock: StockView): ItemUsage {
  const first = [...clips][0]!;
  const lengthFrames = item?.facts.durationFrames ?? link.expected.durationFrames;
  const limits = lengthFrames === null ? null : { start: 0, end: lengthFrames };
  const inside = (set: RangeSet) => (limits ? clamp(set, limits) : set);
  const picture = inside(read.picture.set);
  const sound = inside(read.sound.set);
  const used = sound.length === 0 ? picture : picture.length === 0 ? sound : unite([...picture, ...sound]);
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
    picture,
    sound,
    unused: limits ? subtract([limits], used) : [],
    usedFrames: totalFrames(used),
    useCount: read.picture.count + read.sound.count,
    timelineCount,
    uses: uses ?? [],
  };
}
