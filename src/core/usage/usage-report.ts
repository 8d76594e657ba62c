/** Usage: for each item the frames that timelines, bins and clips use, by whom; and what nobody uses. */
import { isInside } from '../project/bins';
import { fileName, placeKey, type Item, type ItemKind, type Place } from '../media/item';
import { byName } from '../naming/by-name';
import { clipState, linkState, linksRead, sourceRendition, type Clip, type LinkState, type MediaLink, type Part } from '../project/clip';
import { countsFrom, type CountedFacts } from '../project/counting';
import { partName } from '../project/part-name';
import { ReadRanges } from '../project/read-ranges';
import { itemRange } from '../project/usage';
import { clamp, subtract, totalFrames, unite, type FrameRange, type RangeSet } from '../time/range';
import { RangeSets } from '../time/range-sets';
import type { Rate } from '../time/rate';
import type { Snapshot } from '../planning/plan/snapshot';
import { stockOf, type StockView } from '../planning/plan/stock-view';
import { framesRead, shiftRead, type EventUse } from '../planning/taking/event-use';
import { readsIn } from '../planning/taking/used-media';

export interface UsageChoice {
  readonly timelineIds: readonly string[];
  /** Bins whose clips count as used between their marks, or whole: their own clips and those of bins below. */
  readonly bins: readonly string[];
  readonly clipIds: readonly string[];
  /** Count events and tracks that are switched off. */
  readonly countDisabled: boolean;
  /** Files that hold parts of the items are told as well, with what is used of each; absent: they are not. */
  readonly parts?: boolean;
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
  /** `used`, split into what picture tracks and what sound tracks read. */
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
  /** Of which clip the file holds frames, and its name in lists: a part that is told beside its source. Absent of whole files. */
  readonly partOf?: string;
}

export interface UsageReport {
  readonly items: readonly ItemUsage[];
  /** Linked by clips, used by none of the choice. */
  readonly neverUsed: readonly ItemUsage[];
  /** Clips that lie in bins and on no timeline of the project. */
  readonly binOnly: readonly { readonly id: string; readonly name: string; readonly binPath: string; readonly state: LinkState }[];
}

interface Gathered {
  readonly key: string;
  readonly number: number;
  readonly link: MediaLink;
  readonly item: Item | null;
  readonly facts: CountedFacts;
  readonly clips: Clip[];
  /** Null unless it is asked for. */
  readonly uses: PartUse[] | null;
  /** Of a part: which frames of its source it holds, half-open; absent of whole files. */
  readonly range?: FrameRange;
}

/** A clip, and what is gathered of each of its items. */
interface Reader {
  readonly clip: Clip;
  readonly links: readonly MediaLink[];
  readonly entries: readonly Gathered[];
}

/** `onTimelines`: clips that any timeline of the project uses, where that is known already. */
export function reportUsage(snapshot: Snapshot, choice: UsageChoice, onTimelines: ReadonlySet<string> = clipsOnTimelines(snapshot)): UsageReport {
  const gathering = new Gathering(snapshot, choice, null);
  const stock = stockOf(snapshot);
  const { used, unused } = gathering.told();
  return {
    items: used,
    neverUsed: unused,
    binOnly: snapshot.clips
      .filter((clip) => !onTimelines.has(clip.id))
      .map((clip) => ({ id: clip.id, name: clip.name, binPath: clip.binPath, state: clipState(clip, stock) })),
  };
}

/** One item with every use of it, in the order of the timelines; null where no clip links it. */
export function reportItem(snapshot: Snapshot, choice: UsageChoice, key: string): ItemUsage | null {
  const links = (clip: Clip) => [...(sourceRendition(clip)?.links ?? []), ...(choice.parts ? (clip.parts ?? []) : []).map((part) => part.links[0])];
  const clips = snapshot.clips.filter((clip) => links(clip).some((link) => usageKey(clip, link) === key));
  const { project, timelines, items, shelves, retiredShelves } = snapshot;
  const narrow = { project, clips, timelines, items, shelves, ...(retiredShelves ? { retiredShelves } : {}) };
  const { used, unused } = new Gathering(narrow, choice, key).told();
  return [...used, ...unused].find((entry) => entry.key === key) ?? null;
}

function clipsOnTimelines(snapshot: Snapshot): ReadonlySet<string> {
  return new Set(snapshot.timelines.flatMap((timeline) => timeline.clipIds.filter((id) => id !== null)));
}

class Gathering {
  private readonly stock: StockView;
  private readonly byKey = new Map<string, Gathered>();
  private readonly entries: Gathered[] = [];
  /** By number of the entry of a source: its parts. Nothing where they are not asked for. */
  private readonly partsOf = new Map<number, (Gathered & { readonly range: FrameRange })[]>();
  private readonly readers: readonly Reader[];
  /** By number of an entry: its pictures at twice the number, its sounds beside them. */
  private readonly ranges: RangeSets;
  private readonly isUsed: Uint8Array;
  /** By number of an entry: the timeline that used it last (they are gone through one after the other), and how many there are. */
  private readonly lastTimeline: Int32Array;
  private readonly timelineCount: Uint32Array;

  constructor(
    private readonly snapshot: Snapshot,
    private readonly choice: UsageChoice,
    /** Key of the item for which every use is told; the others are only counted. */
    private readonly whoUses: string | null,
  ) {
    this.stock = stockOf(snapshot);
    this.readers = snapshot.clips.map((clip) => {
      const links = sourceRendition(clip)?.links ?? [];
      const entries = links.map((link) => this.entryOf(clip, link));
      if (choice.parts) for (const part of clip.parts ?? []) this.addPart(clip, part, entries[part.position]);
      return { clip, links, entries };
    });
    const { length } = this.entries;
    this.ranges = new RangeSets(2 * length);
    this.isUsed = new Uint8Array(length);
    this.lastTimeline = new Int32Array(length).fill(-1);
    this.timelineCount = new Uint32Array(length);
  }

  told(): { used: ItemUsage[]; unused: ItemUsage[] } {
    this.readTimelines();
    this.readBins();
    const { isUsed } = this;
    // By name, each source before its parts.
    const sources = new Map([...this.partsOf].flatMap(([source, parts]) => parts.map((part) => [part.number, source] as const)));
    const told = (entries: readonly Gathered[]) =>
      entries
        .map((entry) => ({
          usage: this.usageOf(entry),
          of: this.nameOf(this.entries[sources.get(entry.number) ?? entry.number]!),
          start: entry.range?.start ?? -1,
        }))
        .sort((a, b) => byName(a.of, b.of) || a.start - b.start)
        .map(({ usage }) => usage);
    return {
      used: told(this.entries.filter(({ number }) => isUsed[number] === 1)),
      unused: told(this.entries.filter(({ number }) => isUsed[number] === 0)),
    };
  }

  private entryOf(clip: Clip, link: MediaLink): Gathered {
    const key = usageKey(clip, link);
    const known = this.byKey.get(key);
    if (known) {
      if (known.clips.at(-1) !== clip) known.clips.push(clip);
      return known;
    }
    const item = link.place ? this.stock.itemAt(link.place) : null;
    const { kind, rate, startFrame } = link.expected;
    const facts = item?.facts ?? { kind: kind ?? 'other', rate, startFrame };
    const entry = { key, number: this.entries.length, link, item, facts, clips: [clip], uses: key === this.whoUses ? [] : null };
    this.byKey.set(key, entry);
    this.entries.push(entry);
    return entry;
  }

  private addPart(clip: Clip, { links: [link], range }: Part, source: Gathered | undefined): void {
    const key = usageKey(clip, link);
    if (!source || this.byKey.has(key)) return;
    const item = link.place ? this.stock.itemAt(link.place) : null;
    const { kind, rate, startFrame } = link.expected;
    const facts = item?.facts ?? { kind: kind ?? 'other', rate, startFrame };
    const entry = { key, number: this.entries.length, link, item, facts, clips: [clip], uses: key === this.whoUses ? [] : null, range };
    this.byKey.set(key, entry);
    this.entries.push(entry);
    this.partsOf.set(source.number, [...(this.partsOf.get(source.number) ?? []), entry]);
  }

  private readTimelines(): void {
    const { readers, choice, stock } = this;
    const numbers = new Map(readers.map(({ clip }, number) => [clip.id, number]));
    // By reader: its entry where it has only the one.
    const alone = Int32Array.from(readers, ({ entries }) => (entries.length === 1 ? entries[0]!.number : -1));
    const wanted = new Set(choice.timelineIds);
    let timelineId = '';
    let timeline = -1;
    const isTold = (entry: Gathered) => this.isTold(entry);
    const ranges = new ReadRanges(readers.length, {
      // Who uses it, or which of several items, is told by the event itself.
      shift(reader, use, span) {
        const { clip, entries } = readers[reader]!;
        return alone[reader]! < 0 || isTold(entries[0]!) ? null : shiftRead({ clip, use, span }, entries[0]!.facts);
      },
      range: (reader, start, end, sound) => this.count(alone[reader]!, timeline, start, end, sound),
      each: (reader, use, named, span) => {
        const { clip, links, entries } = readers[reader]!;
        const read = { timelineId, clip, use, named, span };
        const which = entries.length === 1 ? links : linksRead(clip, use.trackKind === 'audio', named, stock);
        for (const link of which) this.add(entries[links.indexOf(link)]!, timeline, read);
      },
    });
    for (const snapshot of this.snapshot.timelines) {
      if (!wanted.has(snapshot.id)) continue;
      timelineId = snapshot.id;
      timeline++;
      const reads = readsIn(snapshot);
      ranges.tell(
        reads,
        Int32Array.from(reads.clipIds, (id) => numbers.get(id) ?? -1),
        choice.countDisabled,
      );
    }
  }

  private add(entry: Gathered, timeline: number, read: EventUse): void {
    const { timelineId, clip, use } = read;
    const range = framesRead(read, entry.facts);
    const sound = use.trackKind === 'audio';
    this.count(entry.number, timeline, range.start, range.end, sound);
    const { event, trackName: track, nestedIn, recordStart } = use;
    const told = { timelineId, eventIndex: event.index, name: event.name || clip.name, track, nestedIn, recordStart, sound };
    entry.uses?.push({ ...told, range });
    for (const part of this.partsOf.get(entry.number) ?? []) {
      const own = within(range, part.range);
      if (own) part.uses?.push({ ...told, range: own });
    }
  }

  /** Whether it is asked who uses the item, or one of its parts. */
  private isTold({ number, uses }: Gathered): boolean {
    return uses !== null || (this.partsOf.get(number) ?? []).some((part) => part.uses !== null);
  }

  /** Counts item frames that an event of a timeline reads. */
  private count(entry: number, timeline: number, start: number, end: number, sound: boolean): void {
    for (const part of this.partsOf.get(entry) ?? []) {
      const own = within({ start, end }, part.range);
      if (own) this.count(part.number, timeline, own.start, own.end, sound);
    }
    this.isUsed[entry] = 1;
    this.ranges.add(2 * entry + (sound ? 1 : 0), start, end);
    if (this.lastTimeline[entry] === timeline) return;
    this.lastTimeline[entry] = timeline;
    this.timelineCount[entry]!++;
  }

  private readBins(): void {
    const { bins } = this.choice;
    const chosen = new Set(this.choice.clipIds);
    if (bins.length === 0 && chosen.size === 0) return;
    for (const { clip, entries } of this.readers) {
      const bin = bins.find((path) => isInside(clip.binPath, path));
      if (bin === undefined && !chosen.has(clip.id)) continue;
      for (const entry of entries) {
        this.isUsed[entry.number] = 1;
        const range = markedRange(clip, entry);
        if (!range) continue;
        const sound = entry.facts.kind === 'audio';
        const told = {
          timelineId: null,
          eventIndex: null,
          name: bin === undefined ? clip.name : clip.binPath,
          track: '',
          nestedIn: [],
          recordStart: 0,
          sound,
        };
        for (const [one, own] of [
          [entry, range] as const,
          ...(this.partsOf.get(entry.number) ?? []).map((part) => [part, within(range, part.range)] as const),
        ]) {
          if (!own) continue;
          this.isUsed[one.number] = 1;
          this.ranges.add(2 * one.number + (sound ? 1 : 0), own.start, own.end);
          one.uses?.push({ ...told, range: own });
        }
      }
    }
  }

  private nameOf({ item, link, clips }: Pick<Gathered, 'item' | 'link' | 'clips'>): string {
    return (item ? fileName(item.place.path) : '') || link.expected.name || clips[0]!.name;
  }

  private usageOf({ key, number, link, item, clips, uses, range }: Gathered): ItemUsage {
    const first = clips[0]!;
    const lengthFrames = item?.facts.durationFrames ?? link.expected.durationFrames;
    const limits = lengthFrames === null ? null : { start: 0, end: lengthFrames };
    const inside = (set: RangeSet) => (limits && set.length > 0 ? clamp(set, limits) : set);
    const picture = inside(this.ranges.of(2 * number));
    const sound = inside(this.ranges.of(2 * number + 1));
    const used = sound.length === 0 ? picture : picture.length === 0 ? sound : unite([...picture, ...sound]);
    const facts = item?.facts ?? { ...link.expected, kind: link.expected.kind ?? 'other', dropFrame: false, sequence: null };
    return {
      key,
      itemId: item?.id ?? null,
      ...(range ? { partOf: partName(first.name, facts, range) } : {}),
      name: this.nameOf({ item, link, clips }),
      place: link.place,
      reel: item?.facts.reel ?? link.expected.reel,
      kind: item?.facts.kind ?? link.expected.kind,
      state: range ? linkState(link, this.stock) : clipState(first, this.stock),
      clips: clips.map(({ id, name }) => ({ id, name })),
      rate: item?.facts.rate ?? link.expected.rate,
      lengthFrames,
      sizeBytes: item?.sizeBytes ?? link.expected.sizeBytes,
      used,
      picture,
      sound,
      unused: limits ? subtract([limits], used) : [],
      usedFrames: totalFrames(used),
      useCount: this.ranges.counts[2 * number]! + this.ranges.counts[2 * number + 1]!,
      timelineCount: this.timelineCount[number]!,
      uses: uses ?? [],
    };
  }
}

/** What an item is known by in a report: its place, or the address of what is at no known place. */
export function usageKey(clip: Pick<Clip, 'id'>, link: Pick<MediaLink, 'place' | 'url'>): string {
  return link.place ? placeKey(link.place) : link.url || `clip ${clip.id}`;
}

/** What of a range of a source a part of it holds, in frames of the part; null: nothing. */
function within({ start, end }: FrameRange, part: FrameRange): FrameRange | null {
  const [from, to] = [Math.max(start, part.start), Math.min(end, part.end)];
  return from < to ? { start: from - part.start, end: to - part.start } : null;
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
