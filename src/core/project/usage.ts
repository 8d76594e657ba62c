/** Which frames of which clip a timeline reads. Everything that trims, copies or throws away stands on this. */
import { ceilToRate, floorToRate, rangeToRate } from '../time/convert';
import { clamp, unite, type FrameRange, type RangeSet } from '../time/range';
import type { Rate } from '../time/rate';
import { framesTravelled, retimedSourceRange } from '../time/retime';
import type { MediaFacts } from '../media/item';
import { ceilFrames, floorFrames, type Moment } from './moment';
import { windowFrames, type ClipEvent, type NestedStack, type Timeline, type Track, type TrackItem, type Transition } from './timeline';

export interface UsageOptions {
  /** Count events and tracks that are switched off. */
  readonly countDisabled: boolean;
}

/** One reading of source frames by one event. */
export interface Use {
  readonly event: ClipEvent;
  readonly trackName: string;
  readonly trackKind: Track['kind'];
  /** Names of the nested timelines around the event, outermost first. */
  readonly nestedIn: readonly string[];
  /** Position on the outermost timeline, frames at its rate. */
  readonly recordStart: number;
  readonly durationFrames: number;
  /** Source frames read, as the event counts them (media start included), at `rate`. Transitions are in it. */
  readonly source: FrameRange;
  readonly rate: Rate;
}

/** Every use of every clip event of a timeline, nested timelines at any depth included. */
export function collectUses(timeline: Timeline, options: UsageOptions): Use[] {
  const uses: Use[] = [];
  visit(timeline.tracks, { start: 0, end: Number.MAX_SAFE_INTEGER }, 0, []);
  return uses;

  /** `window` is the shown part of these tracks, in frames of the timeline; `recordOffset` lays it on the outermost. */
  function visit(tracks: readonly Track[], window: FrameRange, recordOffset: number, nestedIn: readonly string[]): void {
    for (const track of tracks) {
      if (!track.enabled && !options.countDisabled) continue;
      track.items.forEach((item, index) => {
        if (item.type === 'nested') enter(item, window, recordOffset, nestedIn);
        if (item.type !== 'clip' || (!item.enabled && !options.countDisabled)) return;
        const use = useOf(item, transitionBefore(track.items, index), transitionAfter(track.items, index), window, timeline.rate);
        if (use)
          uses.push({
            ...use,
            trackName: track.name,
            trackKind: track.kind,
            nestedIn,
            recordStart: recordOffset + Math.max(item.start, window.start) - window.start,
          });
      });
    }
  }

  function enter(item: NestedStack, window: FrameRange, recordOffset: number, nestedIn: readonly string[]): void {
    if (!item.enabled && !options.countDisabled) return;
    const [shown] = clamp([{ start: item.start, end: item.start + item.durationFrames }], window);
    if (!shown) return;
    const atNormalSpeed = item.speed.num === item.speed.den;
    // Under a speed change the whole window is counted: wider than needed rather than a frame short.
    const start = atNormalSpeed ? item.windowStart + shown.start - item.start : item.windowStart;
    const length = atNormalSpeed ? shown.end - shown.start : windowFrames(item) + 1;
    visit(item.tracks, { start, end: start + length }, recordOffset + shown.start - window.start, [...nestedIn, item.name || 'Nested timeline']);
  }
}

function transitionBefore(items: readonly TrackItem[], index: number): Transition | null {
  const before = items[index - 1];
  return before?.type === 'transition' ? before : null;
}

function transitionAfter(items: readonly TrackItem[], index: number): Transition | null {
  const after = items[index + 1];
  return after?.type === 'transition' ? after : null;
}

function useOf(event: ClipEvent, before: Transition | null, after: Transition | null, window: FrameRange, timelineRate: Rate) {
  const units = event.sourceIn.rate;
  // A transition shows the incoming clip `inOffset` before the cut and the outgoing one `outOffset` after it.
  const early = before ? ceilFrames(before.inOffset, timelineRate) : 0;
  const late = after ? ceilFrames(after.outOffset, timelineRate) : 0;
  const [visible] = clamp([{ start: event.start - early, end: event.start + event.durationFrames + late }], window);
  if (!visible) return null;
  const source = partOf(event, visible, timelineRate, units);
  return {
    event,
    source,
    rate: units,
    durationFrames: Math.min(event.start + event.durationFrames, window.end) - Math.max(event.start, window.start),
  };
}

/**
 * Whether other tools may take the source range of a slow event for the source frames themselves instead of its
 * record length: formats and their readers differ. Both readings are kept.
 */
function isSlow(event: ClipEvent): boolean {
  return event.speed.num !== 0 && Math.abs(event.speed.num) < event.speed.den;
}

/** Source frames of the record part `visible`, which may reach past the event into its transitions. */
function partOf(event: ClipEvent, visible: FrameRange, timelineRate: Rate, units: Rate): FrameRange {
  const whole = retimedSourceRange(event.sourceIn.value, ceilFrames(event.sourceDuration, units), event.speed);
  const end = event.start + event.durationFrames;
  const travel = (recordFrames: number) => framesTravelled(ceilToRate(recordFrames, timelineRate, units), event.speed);
  const backTravel = (recordFrames: number) => {
    const units0 = floorToRate(recordFrames, timelineRate, units);
    return units0 === 0 ? 0 : Math.max(0, framesTravelled(units0, event.speed) - 1);
  };
  if (event.speed.num === 0) return whole;
  const shownWhole = visible.start <= event.start && visible.end >= end;
  const nominalEnd = isSlow(event) && shownWhole ? whole.start + ceilFrames(event.sourceDuration, units) : 0;
  // Growing rounds up, trimming rounds down: the answer never lacks a frame.
  const exact = event.speed.num === event.speed.den;
  const shift = (recordFrames: number) =>
    recordFrames === 0
      ? 0
      : recordFrames > 0
        ? -travel(recordFrames)
        : exact
          ? floorToRate(-recordFrames, timelineRate, units)
          : backTravel(-recordFrames);
  const head = shift(event.start - visible.start);
  const tail = -shift(visible.end - end);
  const read = event.speed.num > 0 ? { start: whole.start + head, end: whole.end + tail } : { start: whole.start - tail, end: whole.end - head };
  return { start: read.start, end: Math.max(read.end, nominalEnd) };
}

/**
 * Item frames (from 0 at the file's first frame) that a use reads. The event counts from `mediaStart` where the
 * timeline states it; otherwise from the file's own timecode if the use lies at or above it, else from 0.
 * Rounded outwards; not clamped to the file.
 */
export function itemRange(use: Pick<Use, 'source' | 'rate'>, mediaStart: Moment | null, facts: Pick<MediaFacts, 'rate' | 'startFrame'>): FrameRange {
  const rate = facts.rate ?? use.rate;
  const source = rangeToRate(use.source, use.rate, rate);
  if (mediaStart) return { start: source.start - ceilFrames(mediaStart, rate), end: source.end - floorFrames(mediaStart, rate) };
  const own = facts.startFrame ?? 0;
  const base = source.start >= own ? own : 0;
  return { start: source.start - base, end: source.end - base };
}

/** Union of all uses, in item frames. */
export function usedRanges(uses: readonly Use[], mediaStart: Moment | null, facts: Pick<MediaFacts, 'rate' | 'startFrame'>): RangeSet {
  return unite(uses.map((use) => itemRange(use, mediaStart, facts)));
}
