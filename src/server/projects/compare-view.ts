/** Two versions of a timeline, in words. */
import { fileName } from '../../core/media/item';
import type { Snapshot, TimelineSnapshot } from '../../core/planning/plan/snapshot';
import { stockOf } from '../../core/planning/plan/stock-view';
import { shotSource } from '../../core/planning/taking/shot-source';
import { framesRead, shiftRead } from '../../core/planning/taking/event-use';
import { forEachEventUse } from '../../core/planning/taking/used-media';
import { compareTimelines, type ChangeKind, type EventChange, type PlacedEvent } from '../../core/project/compare';
import { linksReadOf, renditionRead, sourceRendition } from '../../core/project/clip';
import { ceilFrames, floorFrames } from '../../core/project/moment';
import type { ClipEvent } from '../../core/project/timeline';
import { rateAsNumber } from '../../core/time/rate';
import { frameToTimecode } from '../../core/time/timecode';
import type { ComparedEvent, CompareView, ShotLook } from './views/compare';

/** Null when one of the two is not there. */
export function compareView(snapshot: Snapshot, beforeId: string, afterId: string): CompareView | null {
  const before = snapshot.timelines.find((timeline) => timeline.id === beforeId);
  const after = snapshot.timelines.find((timeline) => timeline.id === afterId);
  if (!before || !after) return null;
  const clipOf = (version: 'before' | 'after', event: ClipEvent) => (version === 'before' ? before : after).clipIds[event.index] ?? null;
  const firsts = { before: firstsOf(snapshot, beforeId), after: firstsOf(snapshot, afterId) };
  // Where one version cannot be told, both count as they stand.
  const isTold = (clipId: string | null) => clipId !== null && !firsts.before.untold.has(clipId) && !firsts.after.untold.has(clipId);
  const all = compareTimelines(
    before.model,
    after.model,
    (version, event) => clipOf(version, event) ?? `made here ${event.name}`,
    (version, event) => (isTold(clipOf(version, event)) ? (firsts[version].first.get(event.index) ?? 0) : 0),
  );
  const counts: Record<ChangeKind, number> = {
    added: 0,
    removed: 0,
    exchanged: 0,
    moved: 0,
    trimmed: 0,
    retimed: 0,
    switched: 0,
    pushed: 0,
    same: 0,
  };
  for (const change of all) counts[change.kind]++;
  const looks = { before: looksOf(snapshot, beforeId), after: looksOf(snapshot, afterId) };
  return { counts, changes: all.filter((change) => change.kind !== 'same').map((change) => words(change, before, after, looks)) };
}

/** What each event counts the first frame of its source, by its index; clips of which some event does not tell. */
function firstsOf(snapshot: Snapshot, timelineId: string): { first: ReadonlyMap<number, number>; untold: ReadonlySet<string> } {
  const stock = stockOf(snapshot);
  const first = new Map<number, number>();
  const untold = new Set<string>();
  forEachEventUse(snapshot, [timelineId], true, (use) => {
    const source = shotSource(use, stock);
    const shift = source && !source.isCounted ? shiftRead(use, source.facts) : null;
    if (shift === null) untold.add(use.clip.id);
    else first.set(use.use.event.index, -shift);
  });
  return { first, untold };
}

type Looks = Readonly<Record<'before' | 'after', ReadonlyMap<number, ShotLook>>>;

/** By event index: what can be looked at. What is read is of the same frames as the source, where it is not the source. */
function looksOf(snapshot: Snapshot, timelineId: string): Map<number, ShotLook> {
  const stock = stockOf(snapshot);
  const looks = new Map<number, ShotLook>();
  forEachEventUse(snapshot, [timelineId], true, (use) => {
    const source = shotSource(use, stock);
    if (!source || source.rate === null) return;
    const sound = use.use.trackKind === 'audio';
    const own = renditionRead(use.clip, stock);
    const link = own && own !== sourceRendition(use.clip) ? linksReadOf(own.links, sound, use.named, stock)[0] : source.link;
    const item = link?.place ? stock.itemAt(link.place) : null;
    if (item) looks.set(use.use.event.index, { itemId: item.id, name: fileName(item.place.path), range: framesRead(use, source.facts) });
  });
  return looks;
}

function words(change: EventChange, before: TimelineSnapshot, after: TimelineSnapshot, looks: Looks): ComparedEvent {
  const shown = (change.after ?? change.before)!;
  const percent = ({ speed }: PlacedEvent) => (speed === null ? 'varies' : `${Math.round((speed.num / speed.den) * 1000) / 10} %`);
  return {
    kind: change.kind,
    name: shown.event.name || 'Unnamed',
    track: shown.track,
    nestedIn: shown.nestedIn,
    before: change.before && record(change.before, before),
    after: change.after && record(change.after, after),
    inShift: change.inShift,
    outShift: change.outShift,
    beforeSource: change.before && source(change.before, before),
    afterSource: change.after && source(change.after, after),
    speed: change.kind === 'retimed' ? `${percent(change.before!)} → ${percent(change.after!)}` : null,
    switched: change.switched,
    afterIndex: change.after?.event.index ?? null,
    beforeLook: (change.before && looks.before.get(change.before.event.index)) ?? null,
    afterLook: (change.after && looks.after.get(change.after.event.index)) ?? null,
  };
}

function record(placed: PlacedEvent, { model }: TimelineSnapshot): string {
  return frameToTimecode(model.startFrame + placed.start, model.rate, model.dropFrame);
}

function source({ event, source: { start, end } }: PlacedEvent, { model }: TimelineSnapshot): string {
  const units = event.units;
  const rate = rateAsNumber(units) > 1000 ? model.rate : units;
  const label = (frame: number) => frameToTimecode(frame, rate, model.dropFrame);
  return `${label(floorFrames({ value: start, rate: units }, rate))} – ${label(ceilFrames({ value: end, rate: units }, rate))}`;
}
