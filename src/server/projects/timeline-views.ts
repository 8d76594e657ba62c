/** A timeline as the screen draws it: events at their record positions, nested timelines with their own tracks inside. */
import { fileName, placeKey } from '../../core/media/item';
import type { Snapshot, TimelineSnapshot } from '../../core/planning/plan/snapshot';
import { stockOf, type StockView } from '../../core/planning/plan/stock-view';
import { type EventUse, framesRead } from '../../core/planning/taking/event-use';
import { eventUses } from '../../core/planning/taking/used-media';
import { asRead, isInPartCopy } from '../../core/planning/taking/part-read';
import { clipState, isOffline, linksRead, renditionRead, sourceState, type Clip, type LinkState, type MediaLink } from '../../core/project/clip';
import { timelineFamily } from '../../core/project/compare';
import { ceilFrames, floorFrames } from '../../core/project/moment';
import { activeReference, clipEvents, type ClipEvent, type Marker, type NestedStack, type Track } from '../../core/project/timeline';
import { chosenCount } from '../../core/interchange/otio/counted-clip';
import { ownMetadata } from '../../core/interchange/otio/otio-values';
import { countAtFirst } from '../../core/interchange/timeline-formats';
import { countedBySourceAt, eventsAtOtherRates, settleCounts, type CountedFile } from '../../core/project/count-events';
import { clamp, totalFrames, unite, type FrameRange } from '../../core/time/range';
import { sumTimelines, type TimelineSums } from '../../core/usage/timeline-sums';
import { framesToSeconds } from '../../core/time/convert';
import { rateAsNumber } from '../../core/time/rate';
import { frameToTimecode } from '../../core/time/timecode';
import type {
  EventCountView,
  TimelineCounts,
  DrawnEvent,
  DrawnMarker,
  DrawnNested,
  DrawnTrack,
  SourceUse,
  TimelineSummary,
  TimelineView,
} from './views/timeline';
import type { Catalogue } from '../catalogue/catalogue';
import type { TimelineEntry } from '../catalogue/timelines';
import type { ProjectLines } from './project-lines';

/** `figures`: what was summed up before, by timeline; the rest is summed up now and put into it. */
export function timelineSummaries(
  catalogue: Catalogue,
  snapshot: Snapshot,
  lines: ProjectLines,
  figures: Map<string, TimelineSums>,
): TimelineSummary[] {
  const offline = lines.clips.filter((clip) => isOffline(clipState(clip, lines))).map(({ id }) => id);
  const offlineCounts = catalogue.timelines.eventsOf(offline);
  const fresh = snapshot.timelines.filter(({ id }) => !figures.has(id));
  if (fresh.length > 0) sumTimelines(snapshot, fresh).forEach((sums, id) => figures.set(id, sums));
  const formerly = catalogue.timelines.formerIds(snapshot.project.id);
  return catalogue.timelines
    .entries(snapshot.project.id)
    .map((entry) => timelineSummary(entry, formerly.get(entry.id) ?? [], figures.get(entry.id)!, offlineCounts.get(entry.id) ?? 0));
}

function figuresOfSources({ clipIds }: TimelineSnapshot, sources: readonly SourceUse[]): TimelineSums {
  const seconds = (frames: (source: SourceUse) => number) =>
    sources.reduce((sum, source) => sum + (source.facts?.rate ? framesToSeconds(frames(source), source.facts.rate) : 0), 0);
  return {
    clips: new Set(clipIds.filter((id) => id !== null)).size,
    mediaSeconds: seconds((source) => source.lengthFrames),
    usedSeconds: seconds((source) => source.usedFrames),
  };
}

function timelineSummary(row: TimelineEntry, formerIds: readonly string[], figures: TimelineSums, offlineEvents: number): TimelineSummary {
  const { head } = row;
  return {
    id: row.id,
    formerIds,
    name: row.name,
    format: row.format,
    sourceName: row.sourceName,
    broughtInAt: row.broughtInAt,
    rate: head.rate,
    dropFrame: head.dropFrame,
    startFrame: head.startFrame,
    durationFrames: head.durationFrames,
    events: head.eventCount,
    clips: figures.clips,
    offlineEvents,
    mediaSeconds: figures.mediaSeconds,
    usedSeconds: figures.usedSeconds,
    family: timelineFamily(row.name),
    findings: row.findings,
  };
}

export function timelineView(catalogue: Catalogue, row: TimelineEntry, timeline: TimelineSnapshot, snapshot: Snapshot): TimelineView {
  const stock = stockOf(snapshot);
  const { sources, reads, away, files } = sourcesOf(timeline, snapshot, stock);
  const { counts, ofEvent } = countsOf(timeline, files, row.format);
  const draw = new Drawing(timeline, snapshot, stock, reads, away, ofEvent);
  return {
    ...timelineSummary(
      row,
      catalogue.timelines.knownAs(row.id).slice(1),
      figuresOfSources(timeline, sources),
      offlineEvents(timeline, snapshot, stock) + away.size,
    ),
    tracks: timeline.model.tracks.map((track, index) => draw.track(track, String(index))),
    markers: timeline.model.markers.map((marker) => drawnMarker(marker, floorFrames(marker.at, timeline.model.rate))),
    sources,
    counts,
  };
}

function offlineEvents({ clipIds }: TimelineSnapshot, snapshot: Snapshot, stock: StockView): number {
  const offline = new Set(snapshot.clips.filter((clip) => isOffline(clipState(clip, stock))).map(({ id }) => id));
  return clipIds.filter((id) => id !== null && offline.has(id)).length;
}

function drawnMarker(marker: Marker, at: number): DrawnMarker {
  return { at, name: [marker.name, marker.note].filter((text) => text !== '').join(': '), colour: marker.colour };
}

/** The item that stands for a clip on a track: what an event of it shows. */
function linkRead({ clip, use, named }: EventUse, stock: StockView): MediaLink | null {
  return linksRead(clip, use.trackKind === 'audio', named, stock)[0] ?? null;
}

/** Sources of a timeline with what it uses of each, and the item frames each event reads. */
function sourcesOf(timeline: TimelineSnapshot, snapshot: Snapshot, stock: StockView): Reading {
  const away = new Map<number, LinkState>();
  const reads = new Map<number, FrameRange>();
  const files = new Map<number, CountedFile>();
  const gathered = new Map<string, { clip: Clip; link: MediaLink | null; ranges: FrameRange[]; events: number }>();
  for (const told of eventUses(snapshot, [timeline.id], true)) {
    const use = asRead(told, stock);
    const isPartless = (use.clip.parts ?? use.clip.partCopies) !== undefined && renditionRead(use.clip, stock) === null && !isInPartCopy(told, stock);
    if (isPartless) away.set(use.use.event.index, sourceState(use.clip, stock));
    const link = linkRead(use, stock);
    const key = link?.place ? placeKey(link.place) : link?.url || `clip ${use.clip.id}`;
    const item = link?.place ? stock.itemAt(link.place) : null;
    const facts = item?.facts ?? { kind: 'other' as const, rate: link?.expected.rate ?? null, startFrame: link?.expected.startFrame ?? null };
    if (item && !link?.expected.partOf && use.clip.conform === 'by-time') files.set(use.use.event.index, { key, facts: item.facts });
    const range = framesRead(use, facts);
    const entry = gathered.get(key) ?? { clip: use.clip, link, ranges: [], events: 0 };
    entry.ranges.push(range);
    entry.events++;
    gathered.set(key, entry);
    reads.set(use.use.event.index, range);
  }
  const sources = [...gathered].map(([key, entry]) => sourceUse(key, entry, stock));
  const collator = new Intl.Collator('en', { numeric: true });
  return { sources: sources.sort((a, b) => collator.compare(a.name, b.name)), reads, away, files };
}

interface Reading {
  readonly sources: SourceUse[];
  /** By event index: the item frames it reads. */
  readonly reads: Map<number, FrameRange>;
  /** Events of which no attached part of their source holds the frames. */
  readonly away: ReadonlyMap<number, LinkState>;
  /** By event index: the file it reads, where how that is counted can be asked. */
  readonly files: ReadonlyMap<number, CountedFile>;
}

/** How the events of sources at other rates are counted. */
function countsOf(
  { model, document }: TimelineSnapshot,
  files: Reading['files'],
  format: string,
): { counts: TimelineCounts | null; ofEvent: ReadonlyMap<number, EventCountView> } {
  const ofEvent = new Map<number, EventCountView>();
  const byList = eventsAtOtherRates(model, ({ index }) => files.get(index) ?? null);
  for (const { event, question } of [...byList.values()].flat())
    ofEvent.set(event.index, {
      as: 'list',
      chosen: event.count?.chosen ?? null,
      sourceRate: question.facts.rate,
      sourceDropFrame: question.facts.dropFrame,
    });
  for (const { index, count, units } of clipEvents(model.tracks))
    if (count?.isSource)
      ofEvent.set(index, { as: 'source', chosen: count.chosen, sourceRate: units, sourceDropFrame: files.get(index)?.facts.dropFrame ?? false });
  if (ofEvent.size === 0) return { counts: null, ofEvent };
  const chosen = chosenCount(ownMetadata(document));
  const wanted = settleCounts(byList, chosen, countAtFirst(format)).counts;
  const isOutdated = [...byList.values()].flat().some((own) => wanted.get(own.event.index) === 'source' && countedBySourceAt(own) !== null);
  const bySource = [...ofEvent.values()].filter(({ as }) => as === 'source').length;
  return { counts: { events: ofEvent.size, bySource, chosen, isOutdated }, ofEvent };
}

function sourceUse(
  key: string,
  { clip, link, ranges, events }: { clip: Clip; link: MediaLink | null; ranges: FrameRange[]; events: number },
  stock: StockView,
): SourceUse {
  const item = link?.place ? stock.itemAt(link.place) : null;
  const used = unite(ranges);
  const length = item ? item.facts.durationFrames : (link?.expected.durationFrames ?? null);
  const inside = length === null ? used : clamp(used, { start: 0, end: length });
  return {
    itemId: item?.id ?? null,
    clipId: clip.id,
    key,
    name: link?.expected.name || (link?.place ? fileName(link.place.path) : clip.name),
    clipName: clip.name,
    reel: item?.facts.reel ?? link?.expected.reel ?? null,
    state: clipState(clip, stock),
    lengthFrames: length ?? totalFrames(used),
    usedFrames: totalFrames(inside),
    used: inside,
    events,
    sizeBytes: item?.sizeBytes ?? link?.expected.sizeBytes ?? null,
    facts: item?.facts ?? null,
    posterFrame: inside[0]?.start ?? 0,
  };
}

/** Where the frames of a nested timeline lie on the outermost record, and which of them are shown. */
interface Lane {
  readonly toRecord: (frame: number) => number;
  readonly from: number;
  readonly to: number;
  readonly nestedIn: string | null;
}

const WHOLE: Lane = { toRecord: (frame) => frame, from: -Infinity, to: Infinity, nestedIn: null };

class Drawing {
  private readonly clips;
  private readonly states = new Map<string, LinkState>();

  constructor(
    private readonly timeline: TimelineSnapshot,
    snapshot: Snapshot,
    private readonly stock: StockView,
    private readonly reads: ReadonlyMap<number, FrameRange>,
    private readonly away: ReadonlyMap<number, LinkState>,
    private readonly counts: ReadonlyMap<number, EventCountView>,
  ) {
    this.clips = new Map(snapshot.clips.map((clip) => [clip.id, clip]));
  }

  track(track: Track, id: string, lane: Lane = WHOLE): DrawnTrack {
    const events: DrawnEvent[] = [];
    const transitions: { start: number; end: number; name: string }[] = [];
    const nested: DrawnNested[] = [];
    track.items.forEach((item, index) => {
      const from = Math.max(item.start, lane.from);
      const to = Math.min(item.start + item.durationFrames, lane.to);
      if (item.type === 'transition') {
        const early = floorFrames(item.inOffset, this.timeline.model.rate);
        if (item.start < lane.from || item.start > lane.to) return;
        const start = lane.toRecord(item.start - early);
        transitions.push({ start, end: start + item.durationFrames, name: item.name });
      } else if (to > from && item.type === 'clip') {
        const start = lane.toRecord(from);
        events.push(this.event(item, start, Math.max(1, lane.toRecord(to) - start), lane));
      } else if (to > from && item.type === 'nested') {
        nested.push(this.nested(item, `${id}.${index}`, lane, from, to));
      }
    });
    return { name: track.name, kind: track.kind, enabled: track.enabled, events, transitions, nested };
  }

  private nested(item: NestedStack, id: string, lane: Lane, from: number, to: number): DrawnNested {
    const name = item.name || 'Nested timeline';
    const forward = !item.map && item.speed.num > 0;
    const speed = item.speed.num / item.speed.den;
    // Backwards or with a speed that varies the inside is drawn from its begin, at normal speed.
    const inside: Lane = {
      toRecord: (frame) => lane.toRecord(Math.min(to, Math.max(from, item.start + Math.floor((frame - item.windowStart) / (forward ? speed : 1))))),
      from: item.windowStart + (from - item.start) * (forward ? speed : 1),
      to: item.windowStart + (to - item.start) * (forward ? speed : 1),
      nestedIn: name,
    };
    return {
      id,
      name,
      start: lane.toRecord(from),
      end: lane.toRecord(to),
      enabled: item.enabled,
      speed: item.map ? null : speed,
      tracks: item.tracks.map((track, index) => this.track(track, `${id}.${index}`, inside)),
    };
  }

  private event(event: ClipEvent, start: number, durationFrames: number, lane: Lane): DrawnEvent {
    const clip = this.clips.get(this.timeline.clipIds[event.index] ?? '');
    // Sound may be counted in samples: its points are shown at the timeline's rate.
    const shown = rateAsNumber(event.units) > 1000 ? this.timeline.model.rate : event.units;
    const count = this.counts.get(event.index);
    const drops = count?.as === 'source' ? count.sourceDropFrame : this.timeline.model.dropFrame;
    const label = (frame: number) => frameToTimecode(frame, shown, drops);
    const sourceIn = floorFrames(event.sourceIn, shown);
    const reads = this.reads.get(event.index);
    const speed = event.speed.num / event.speed.den;
    const markers = event.markers.map((marker) => {
      const passed = floorFrames(marker.at, shown) - sourceIn;
      return drawnMarker(marker, lane.toRecord(event.start + (speed > 0 ? Math.floor(passed / speed) : 0)));
    });
    return {
      index: event.index,
      name: event.name || clip?.name || activeReference(event)?.makes || 'Unnamed',
      start,
      durationFrames,
      clipId: clip?.id ?? null,
      state: this.away.get(event.index) ?? (clip ? this.stateOf(clip) : 'made-here'),
      enabled: event.enabled,
      speed: event.map || event.retimeUnknown ? null : speed,
      nestedIn: lane.nestedIn,
      sourceIn: label(sourceIn),
      sourceOut: label(sourceIn + (count?.as === 'source' ? ceilFrames : floorFrames)(event.sourceDuration, shown)),
      ...(reads ? { reads } : {}),
      ...(count ? { count } : {}),
      ...(markers.length > 0 ? { markers } : {}),
    };
  }

  private stateOf(clip: Clip): LinkState {
    const known = this.states.get(clip.id) ?? clipState(clip, this.stock);
    this.states.set(clip.id, known);
    return known;
  }
}
