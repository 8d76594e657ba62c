/** Whether a file has the frames that are read, and by which count. */
import type { MediaFacts } from '../media/item';
import { ceilFrames, floorFrames, hoursBefore, type Moment } from '../project/moment';
import { labelAt } from '../project/source-count';
import { canDropFrame, nominalFps, sameRate, type Rate } from '../time/rate';
import { framesPerDay, frameToTimecode } from '../time/timecode';
import type { ReadSpan } from './told';

export type HeldFacts = Pick<MediaFacts, 'kind' | 'rate' | 'durationFrames' | 'startFrame' | 'dropFrame' | 'sequence'>;

/**
 * By which count a file holds what is read: its own `timecode`, the start that the timeline `states`, from `zero` or from a
 * whole `hour` (files without timecode alone); a `still` holds everything, `unread` is what nothing reads.
 */
export type HeldBy = 'timecode' | 'states' | 'zero' | 'hour' | 'still' | 'unread';

/** Null: it does not hold all of it, or its length is not known. Of several spans the count that says least. */
export function heldBy(reads: readonly ReadSpan[], facts: HeldFacts): HeldBy | null {
  if (reads.length === 0) return 'unread';
  if (facts.kind === 'still') return 'still';
  // Where frames are not there nobody can tell which of them are read.
  if ((facts.sequence?.missingRuns.length ?? 0) > 0) return null;
  let least: HeldBy | null = null;
  for (const span of reads) {
    const by = (span.start ? statedBy(span, span.start, facts) : unstatedBy(span, facts)) ?? byOwnLabels(span, facts);
    if (by === null) return null;
    least = least === null || RANK.indexOf(by) > RANK.indexOf(least) ? by : least;
  }
  return least;
}

const RANK: readonly HeldBy[] = ['timecode', 'states', 'zero', 'hour', 'still', 'unread'];

function statedBy(span: ReadSpan, start: Moment, facts: HeldFacts): HeldBy | null {
  const rate = facts.rate ?? span.first.rate;
  if (facts.durationFrames === null) return null;
  const begin = floorFrames(start, rate);
  const slack = sameRate(span.first.rate, rate) ? 0 : 1;
  const first = floorFrames({ value: span.first.value + slack, rate: span.first.rate }, rate);
  const within = first >= begin && ceilFrames(span.last, rate) <= begin + facts.durationFrames;
  if (!within) return null;
  return begin !== 0 && begin === facts.startFrame ? 'timecode' : 'states';
}

function unstatedBy(span: ReadSpan, facts: HeldFacts): HeldBy | null {
  const rate = facts.rate ?? span.first.rate;
  const length = facts.durationFrames;
  if (length === null) return null;
  const [first, last] = [floorFrames(span.first, rate), ceilFrames(span.last, rate)];
  // A frame of another rate is rounded down: it may begin before the file does, by less than itself.
  const begins = sameRate(span.first.rate, rate) ? first : floorFrames({ value: span.first.value + 1, rate: span.first.rate }, rate);
  const within = (start: number) => begins >= start && last <= start + length;
  if (facts.startFrame !== null) {
    const day = dayOf(rate, facts);
    if (within(facts.startFrame) || within(facts.startFrame - day)) return facts.startFrame === 0 ? 'zero' : 'timecode';
    // A count from 0 that only happens to lie within the file is none of its timecode.
    return null;
  }
  if (within(0)) return 'zero';
  return hoursBefore(span.first, rate).some(within) ? 'hour' : null;
}

/** Lists may count a source of another rate by its own labels; only a file with timecode can tell. */
function byOwnLabels({ first, last, start }: ReadSpan, { kind, rate, durationFrames, startFrame, dropFrame }: HeldFacts): HeldBy | null {
  const units = first.rate;
  if (kind !== 'video' || !rate || !startFrame || durationFrames === null || start || sameRate(rate, units) || nominalFps(units) > MOST_FPS)
    return null;
  const at = (frame: number) => labelAt(frameToTimecode(frame, units, canDropFrame(units) && dropFrame), { rate, dropFrame });
  const [from, to] = [at(first.value), at(ceilFrames(last, units))];
  return from !== null && to !== null && from >= startFrame && to <= startFrame + durationFrames ? 'timecode' : null;
}

/** Finer units are parts of frames. */
const MOST_FPS = 1000;

function dayOf(rate: Rate, facts: HeldFacts): number {
  return facts.kind === 'audio' ? (rate.num / rate.den) * 86_400 : framesPerDay(rate, facts.dropFrame);
}
