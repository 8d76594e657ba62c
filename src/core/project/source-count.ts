/**
 * In which frames a list counts the timecode of sources that run at another rate than it: some systems write those of the
 * list, others those of each source. What the media holds tells which is meant.
 */
import type { MediaFacts } from '../media/item';
import { ceilToRate, floorToRate } from '../time/convert';
import { nominalFps, rateAsNumber, type Rate } from '../time/rate';
import { framesPerDay, parseTimecode } from '../time/timecode';
import type { Speed } from '../time/retime';
import { hoursBefore } from './moment';

export const SOURCE_COUNTS = ['list', 'source'] as const;
export type SourceCount = (typeof SOURCE_COUNTS)[number];

/** What is said of how the source timecode of an event is counted. */
export interface EventCount {
  /** Source in and out as the list gives them, where its count in the list's frames does not say all of it; no out where a speed is stated. */
  readonly labels: readonly [string, string | null] | null;
  /** Counted in the frames of its source. */
  readonly isSource: boolean;
  /** As the user wants it; null where the media decides. */
  readonly chosen: SourceCount | null;
}

export type CountFacts = Pick<MediaFacts, 'startFrame' | 'durationFrames' | 'dropFrame'> & { readonly rate: Rate };

/** What one event says of its source, and what is known of the file. */
export interface CountQuestion {
  /** Rate of the list, and whether its labels drop. */
  readonly rate: Rate;
  readonly dropFrame: boolean;
  /** Source in and out, out exclusive, as labels. `out` is null where the list does not give it: a speed is stated. */
  readonly labels: { readonly in: string; readonly out: string | null };
  /** Record frames at `rate`. */
  readonly recordFrames: number;
  readonly facts: CountFacts;
}

/** `open`: either way all of it lies within the file; `neither`: it does in no way. */
export type Settled = SourceCount | 'open' | 'neither';

/** Label of a frame, and its frame at another rate under the same label; null where that rate has no such label. */
export function labelAt(label: string, { rate, dropFrame }: Pick<CountFacts, 'rate' | 'dropFrame'>): number | null {
  const read = parseTimecode(label.replaceAll(/[;.,]/g, ':'), rate, dropFrame);
  return read.ok ? read.frame : null;
}

interface Points {
  /** At the rate of the file, `end` exclusive. */
  readonly start: number;
  readonly end: number;
  /** How far before the file it may begin: a frame of the list is rounded down. */
  readonly slack: number;
  /** By how many frames of the slower of both the source is longer than the record; null where that tells nothing. */
  readonly longer: number | null;
  /** Whether it is of no whole seconds: those are of one length in every count. */
  readonly isTelling: boolean;
}

/** All events that read one file. */
export function settle(questions: readonly CountQuestion[]): Settled {
  const fits = (count: SourceCount) => {
    const points = questions.map((question) => pointsOf(question, count));
    const within = points.filter((own, index) => own !== null && isWithin(own, questions[index]!)).length;
    const isAll = within === questions.length;
    const isLong = (own: Points | null) => isAll && own !== null && Math.abs(own.longer ?? 0) <= 1 + 1e-6;
    const told = points.filter((own) => own?.longer != null && own.isTelling);
    return { within, isAll, lengths: points.every(isLong), told: told.length, exact: told.filter((own) => Math.abs(own!.longer!) < 0.51).length };
  };
  const [list, source] = [fits('list'), fits('source')];
  if (list.lengths !== source.lengths) return list.lengths ? 'list' : 'source';
  if (list.isAll !== source.isAll) return list.isAll ? 'list' : 'source';
  // A cut may read beyond its file in one place: most of its events tell.
  if (!list.isAll) return mostOf(list.within, source.within, questions.length);
  // Counted in frames of the list no event is a frame off; so many never are by chance.
  return list.told >= TELLING_EVENTS && list.exact === list.told && source.exact < source.told ? 'list' : 'open';
}

function mostOf(list: number, source: number, all: number): Settled {
  const [less, more] = list < source ? [list, source] : [source, list];
  return more * 2 <= all || less * 4 > more ? 'neither' : list > source ? 'list' : 'source';
}

const TELLING_EVENTS = 16;

/** One system wrote the list: where the media leaves it open, the way of the others holds, and `atFirst` where there are none. */
export function settleAll(bySource: ReadonlyMap<string, Settled>, atFirst: SourceCount): Map<string, SourceCount> {
  const votes = (count: Settled) => [...bySource.values()].filter((settled) => settled === count).length;
  const [list, source] = [votes('list'), votes('source')];
  const most = list === source ? atFirst : list > source ? 'list' : 'source';
  return new Map([...bySource].map(([key, settled]) => [key, settled === 'open' ? most : settled === 'source' ? 'source' : 'list']));
}

/** Null where the labels cannot be counted so. */
function pointsOf({ rate, dropFrame, labels, recordFrames, facts }: CountQuestion, count: SourceCount): Points | null {
  const at = count === 'list' ? { rate, dropFrame } : facts;
  const first = labelAt(labels.in, at);
  if (first === null) return null;
  const out = labels.out === null ? null : labelAt(labels.out, at);
  if (labels.out !== null && out === null) return null;
  const length = out === null ? null : out < first ? out + framesPerDay(at.rate, at.dropFrame) - first : out - first;
  const toFile = (frames: number) => (count === 'list' ? floorToRate(frames, rate, facts.rate) : frames);
  const slower = Math.min(rateAsNumber(at.rate), rateAsNumber(rate));
  const seconds = (frames: number, r: Rate) => frames / rateAsNumber(r);
  const longer = length === null ? null : isSameLength(length, at.rate, recordFrames, rate) ? 0 : (seconds(length, at.rate) - seconds(recordFrames, rate)) * slower; // prettier-ignore
  const last = count === 'list' ? ceilToRate(first + (length ?? recordFrames), rate, facts.rate) : first + (length ?? ceilToRate(recordFrames, rate, facts.rate)); // prettier-ignore
  return {
    start: toFile(first),
    end: last,
    slack: count === 'list' ? ceilToRate(1, rate, facts.rate) : 0,
    longer,
    isTelling: length !== null && length % nominalFps(at.rate) !== 0,
  };
}

function isWithin({ start, end, slack }: Points, { facts }: CountQuestion): boolean {
  const length = facts.durationFrames;
  if (length === null) return false;
  const holds = (from: number) => start >= from - slack && end <= from + length;
  const own = facts.startFrame;
  if (own !== null) return holds(own) || holds(own - framesPerDay(facts.rate, facts.dropFrame));
  return holds(0) || hoursBefore({ value: start, rate: facts.rate }, facts.rate).some(holds);
}

/** Where labels of both rates are the same, frames may also be laid down one for one. */
function isSameLength(sourceFrames: number, at: Rate, recordFrames: number, rate: Rate): boolean {
  return sourceFrames === recordFrames && nominalFps(at) === nominalFps(rate);
}

/** Speed of an event whose source points are counted in its own frames; null at normal speed: to one frame of the slower rate. */
export function speedOf(sourceFrames: number, at: Rate, recordFrames: number, rate: Rate): Speed | null {
  if (recordFrames === 0 || isSameLength(sourceFrames, at, recordFrames, rate)) return null;
  const [own, record] = [rateAsNumber(at), rateAsNumber(rate)];
  if (Math.abs(sourceFrames / own - recordFrames / record) * Math.min(own, record) <= 1 + 1e-6) return null;
  return { num: sourceFrames * at.den * rate.num, den: recordFrames * at.num * rate.den };
}
