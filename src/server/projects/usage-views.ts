/** Usage as the API tells it: sums, windows of its lists, and one item with who uses it. */
import type { ItemUsage, PartUse, UsageChoice, UsageReport } from '../../core/usage/usage-report';
import { byName } from '../../core/naming/by-name';
import { frameToTimecode } from '../../core/time/timecode';
import { notFound } from '../errors/problem';
import type { BinOnlyView, ItemUsageView, ItemUsesView, PartUseView, UsageTotals } from './views/usage';
import { filterWords, fits } from '../../core/words/filter-words';
import { cutOut, type Window, type WindowQuery } from '../../core/lists/list-window';
import type { TimelineEntry } from '../catalogue/timelines';

export const USAGE_SORTS = ['name', 'share', 'events', 'timelines', 'size', 'used'] as const;
type UsageSort = (typeof USAGE_SORTS)[number];

export interface UsageRequest extends Omit<UsageChoice, 'timelineIds'>, WindowQuery<UsageSort> {
  readonly timelineIds: UsageChoice['timelineIds'] | 'all';
  /** One item, with a window of those who use it; see placeKey. */
  readonly key?: string;
  /** Uses by this event are left out. */
  readonly but?: { readonly timelineId: string; readonly eventIndex: number };
  /** One of the lists; the sums where neither is asked for. */
  readonly list?: 'used' | 'never' | 'bins';
}

export function usageTotals({ items, neverUsed, binOnly }: UsageReport): UsageTotals {
  const bytes = (list: readonly ItemUsage[]) => list.reduce((sum, item) => sum + (item.sizeBytes ?? 0), 0);
  // A source counts once: its parts are listed beside it, and add nothing to the sums.
  const whole = (list: readonly ItemUsage[]) => list.filter(({ partOf }) => partOf === undefined);
  const [used, never] = [whole(items), whole(neverUsed)];
  return {
    used: { items: used.length, parts: items.length - used.length, bytes: bytes(used), usedBytes: used.reduce((sum, item) => sum + (usedBytes(item) ?? 0), 0) }, // prettier-ignore
    never: { items: never.length, parts: neverUsed.length - never.length, bytes: bytes(never) },
    binOnly: binOnly.length,
  };
}

export function usageWindow(report: UsageReport, request: UsageRequest): Window<ItemUsageView | BinOnlyView> {
  const words = filterWords(request.filter);
  if (request.list === 'bins') {
    const clips = report.binOnly.filter(({ name, binPath }) => fits(words, `${name} ${binPath}`));
    return cutOut(inOrder(clips, request, ({ name }) => name), request); // prettier-ignore
  }
  const items = (request.list === 'never' ? report.neverUsed : report.items).filter(({ name, reel, clips, partOf }) =>
    fits(words, `${name} ${partOf ?? ''} ${reel ?? ''} ${clips.map((clip) => clip.name).join(' ')}`),
  );
  const { total, rows } = cutOut(inOrder(items, request, SORT_BY[request.sort]), request);
  return { total, rows: rows.map(itemView) };
}

const SORT_BY: Record<UsageSort, (item: ItemUsage) => string | number> = {
  name: ({ name }) => name,
  share: share,
  events: ({ useCount }) => useCount,
  timelines: ({ timelineCount }) => timelineCount,
  size: ({ sizeBytes }) => sizeBytes ?? -1,
  used: (item) => usedBytes(item) ?? -1,
};

/** By name they are in order already. */
function inOrder<Row>(rows: readonly Row[], { sort, down }: UsageRequest, by: (row: Row) => string | number): readonly Row[] {
  if (sort === 'name' && !down) return rows;
  const compare = (a: Row, b: Row) => {
    const [x, y] = [by(a), by(b)];
    return typeof x === 'number' ? x - (y as number) : byName(x, y as string);
  };
  return [...rows].sort((a, b) => (down ? compare(b, a) : compare(a, b)));
}

/** One item with a window of everyone who uses it, in record order. */
export function itemUsesView(item: ItemUsage | null, timelines: readonly TimelineEntry[], request: UsageRequest): ItemUsesView {
  if (!item) throw notFound('item in this project');
  const byId = new Map(timelines.map((timeline) => [timeline.id, timeline]));
  const { but } = request;
  const others = but ? item.uses.filter((use) => use.timelineId !== but.timelineId || use.eventIndex !== but.eventIndex) : item.uses;
  const { total, rows } = cutOut(others, request);
  return { ...itemView(item), uses: { total, rows: rows.map((use) => useView(use, byId.get(use.timelineId ?? ''))) } };
}

function useView({ recordStart, ...use }: PartUse, timeline: TimelineEntry | undefined): PartUseView {
  const { startFrame, rate, dropFrame } = timeline?.head ?? { startFrame: 0, rate: null, dropFrame: false };
  return { ...use, timelineName: timeline?.name ?? '', record: rate ? frameToTimecode(startFrame + recordStart, rate, dropFrame) : '' };
}

function itemView({ uses: _uses, ...item }: ItemUsage): ItemUsageView {
  return { ...item, usedBytes: usedBytes(item) };
}

function share({ lengthFrames, usedFrames }: Pick<ItemUsage, 'lengthFrames' | 'usedFrames'>): number {
  return lengthFrames ? usedFrames / lengthFrames : 1;
}

function usedBytes(item: Pick<ItemUsage, 'lengthFrames' | 'usedFrames' | 'sizeBytes'>): number | null {
  return item.sizeBytes === null ? null : Math.round(item.sizeBytes * share(item));
}
