/** Usage as the API tells it: one row an item; who uses it only where one item is asked for. */
import type { Snapshot } from '../../core/planning/plan';
import type { ItemUsage, UsageReport } from '../../core/planning/usage-report';
import { frameToTimecode } from '../../core/time/timecode';
import { notFound } from '../api/problem';
import type { ItemUsageView, PartUseView, UsageView } from '../api/views';

const MOST_USES_TOLD = 5_000;

export function usageView(report: UsageReport): UsageView {
  return { items: report.items.map(itemView), neverUsed: report.neverUsed.map(itemView), binOnly: report.binOnly };
}

/** One item with everyone who uses it, in record order. */
export function itemUsageView(report: UsageReport, snapshot: Snapshot, key: string): ItemUsageView {
  const item = [...report.items, ...report.neverUsed].find((entry) => entry.key === key);
  if (!item) throw notFound('item in this project');
  const timelines = new Map(snapshot.timelines.map((timeline) => [timeline.id, timeline.model]));
  const uses = item.uses.slice(0, MOST_USES_TOLD).map((use): PartUseView => {
    const timeline = timelines.get(use.timelineId ?? '');
    return {
      timelineId: use.timelineId,
      timelineName: timeline?.name ?? '',
      eventIndex: use.eventIndex,
      name: use.name,
      track: use.track,
      nestedIn: use.nestedIn,
      record: timeline ? frameToTimecode(timeline.startFrame + use.recordStart, timeline.rate, timeline.dropFrame) : '',
      range: use.range,
      sound: use.sound,
    };
  });
  return { ...itemView(item), uses };
}

function itemView({ uses: _uses, ...item }: ItemUsage): ItemUsageView {
  const share = item.lengthFrames ? item.usedFrames / item.lengthFrames : 1;
  return {
    ...item,
    usedBytes: item.sizeBytes === null ? null : Math.round(item.sizeBytes * share),
  };
}
