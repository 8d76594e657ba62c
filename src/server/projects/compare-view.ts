/** Two versions of a timeline, in words. */
import type { Snapshot, TimelineSnapshot } from '../../core/planning/plan/snapshot';
import { compareTimelines, type ChangeKind, type EventChange, type PlacedEvent } from '../../core/project/compare';
import { ceilFrames, floorFrames } from '../../core/project/moment';
import { rateAsNumber } from '../../core/time/rate';
import { frameToTimecode } from '../../core/time/timecode';
import type { ComparedEvent, CompareView } from '../api/views';

/** Null when one of the two is not there. */
export function compareView(snapshot: Snapshot, beforeId: string, afterId: string): CompareView | null {
  const before = snapshot.timelines.find((timeline) => timeline.id === beforeId);
  const after = snapshot.timelines.find((timeline) => timeline.id === afterId);
  if (!before || !after) return null;
  const all = compareTimelines(before.model, after.model, (version, event) => {
    const clipId = (version === 'before' ? before : after).clipIds[event.index];
    return clipId ?? `made here ${event.name}`;
  });
  const counts: Record<ChangeKind, number> = { added: 0, removed: 0, moved: 0, trimmed: 0, retimed: 0, switched: 0, pushed: 0, same: 0 };
  for (const change of all) counts[change.kind]++;
  return { counts, changes: all.filter((change) => change.kind !== 'same').map((change) => words(change, before, after)) };
}

function words(change: EventChange, before: TimelineSnapshot, after: TimelineSnapshot): ComparedEvent {
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
