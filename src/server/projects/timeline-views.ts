/** A timeline as the screen draws it: events at their record positions, nested ones laid flat below their parent. */
import { fileName } from '../../core/media/item';
import type { Snapshot, TimelineSnapshot } from '../../core/planning/plan';
import { StockView } from '../../core/planning/stock-view';
import { eventUses } from '../../core/planning/used-media';
import { clipState, isOffline, sourceLink, type Clip } from '../../core/project/clip';
import { floorFrames } from '../../core/project/moment';
import { clipEvents, type ClipEvent, type Track } from '../../core/project/timeline';
import { itemRange, usedRanges } from '../../core/project/usage';
import { clamp, totalFrames, type FrameRange } from '../../core/time/range';
import { rateAsNumber } from '../../core/time/rate';
import { frameToTimecode } from '../../core/time/timecode';
import type { DrawnEvent, DrawnTrack, SourceUse, TimelineSummary, TimelineView } from '../api/views';
import type { TimelineRow } from '../catalogue/timelines';

export function timelineSummary(row: TimelineRow, timeline: TimelineSnapshot, snapshot: Snapshot): TimelineSummary {
  const stock = new StockView(snapshot);
  const clips = new Map(snapshot.clips.map((clip) => [clip.id, clip]));
  const ids = timeline.clipIds.filter((id): id is string => id !== null && id !== undefined);
  const offline = new Set([...new Set(ids)].filter((id) => clips.has(id) && isOffline(clipState(clips.get(id)!, stock))));
  const { model } = timeline;
  return {
    id: row.id,
    name: row.name,
    format: row.format,
    sourceName: row.sourceName,
    broughtInAt: row.broughtInAt,
    rate: model.rate,
    dropFrame: model.dropFrame,
    startFrame: model.startFrame,
    durationFrames: model.durationFrames,
    events: model.eventCount,
    clips: new Set(ids).size,
    offlineEvents: ids.filter((id) => offline.has(id)).length,
    findings: row.findings,
  };
}

export function timelineView(row: TimelineRow, timeline: TimelineSnapshot, snapshot: Snapshot): TimelineView {
  const draw = new Drawing(timeline, snapshot);
  const uses = eventUses(snapshot, [timeline.id], true);
  const eventRanges: Record<number, FrameRange> = {};
  const stock = new StockView(snapshot);
  const byClip = new Map<string, typeof uses>();
  for (const use of uses) {
    const list = byClip.get(use.clip.id);
    if (list) list.push(use);
    else byClip.set(use.clip.id, [use]);
    const item = itemOf(use.clip, stock);
    eventRanges[use.use.event.index] = itemRange(use.use, use.clip.mediaStart, item?.facts ?? { rate: null, startFrame: null });
  }
  const sources = [...byClip.values()].map((list): SourceUse => sourceUse(list[0]!.clip, list, stock));
  return {
    ...timelineSummary(row, timeline, snapshot),
    tracks: timeline.model.tracks.map((track) => draw.track(track)),
    sources: sources.sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true })),
    eventRanges,
  };
}

function itemOf(clip: Clip, stock: StockView) {
  const place = sourceLink(clip)?.place;
  return place ? stock.itemAt(place) : null;
}

function sourceUse(clip: Clip, uses: ReturnType<typeof eventUses>, stock: StockView): SourceUse {
  const item = itemOf(clip, stock);
  const link = sourceLink(clip);
  const facts = item?.facts ?? { rate: link?.expected.rate ?? null, startFrame: link?.expected.startFrame ?? null };
  const used = usedRanges(
    uses.map((entry) => entry.use),
    clip.mediaStart,
    facts,
  );
  const length = item ? item.facts.durationFrames : (link?.expected.durationFrames ?? null);
  const inside = length === null ? used : clamp(used, { start: 0, end: length });
  return {
    itemId: item?.id ?? null,
    clipId: clip.id,
    name: link?.expected.name || (link?.place ? fileName(link.place.path) : clip.name),
    state: clipState(clip, stock),
    lengthFrames: length ?? totalFrames(used),
    usedFrames: totalFrames(inside),
    used: inside,
    events: uses.length,
    sizeBytes: item?.sizeBytes ?? link?.expected.sizeBytes ?? null,
    facts: item?.facts ?? null,
    posterFrame: inside[0]?.start ?? 0,
  };
}

class Drawing {
  private readonly clips;
  private readonly stock;

  constructor(
    private readonly timeline: TimelineSnapshot,
    snapshot: Snapshot,
  ) {
    this.clips = new Map(snapshot.clips.map((clip) => [clip.id, clip]));
    this.stock = new StockView(snapshot);
  }

  track(track: Track): DrawnTrack {
    const events: DrawnEvent[] = [];
    const transitions: { start: number; end: number; name: string }[] = [];
    const nested: { start: number; end: number; name: string }[] = [];
    for (const item of track.items) {
      const end = item.start + item.durationFrames;
      if (item.type === 'clip') events.push(this.event(item, item.start, item.durationFrames, null));
      if (item.type === 'transition') {
        const early = floorFrames(item.inOffset, this.timeline.model.rate);
        transitions.push({ start: item.start - early, end: item.start - early + item.durationFrames, name: item.name });
      }
      if (item.type !== 'nested') continue;
      nested.push({ start: item.start, end, name: item.name || 'Nested timeline' });
      for (const inner of clipEvents(item.tracks)) {
        const start = Math.max(item.start, item.start + inner.start - item.windowStart);
        const stop = Math.min(end, item.start + inner.start + inner.durationFrames - item.windowStart);
        if (stop > start) events.push(this.event(inner, start, stop - start, item.name || 'Nested timeline'));
      }
    }
    return { name: track.name, kind: track.kind, enabled: track.enabled, events, transitions, nested };
  }

  private event(event: ClipEvent, start: number, durationFrames: number, nestedIn: string | null): DrawnEvent {
    const clip = this.clips.get(this.timeline.clipIds[event.index] ?? '');
    const { rate } = event.sourceIn;
    // Sound may be counted in samples: its points are shown at the timeline's rate.
    const shown = rateAsNumber(rate) > 1000 ? this.timeline.model.rate : rate;
    const label = (frame: number) => frameToTimecode(frame, shown, this.timeline.model.dropFrame);
    const sourceIn = floorFrames(event.sourceIn, shown);
    return {
      index: event.index,
      name: event.name || clip?.name || 'Unnamed',
      start,
      durationFrames,
      clipId: clip?.id ?? null,
      state: clip ? clipState(clip, this.stock) : 'made-here',
      enabled: event.enabled,
      speed: event.speed.num / event.speed.den,
      nestedIn,
      sourceIn: label(sourceIn),
      sourceOut: label(sourceIn + floorFrames(event.sourceDuration, shown)),
    };
  }
}
