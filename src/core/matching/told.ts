/** What a timeline or a list says of one source: all that its media can be told by. */
import type { Moment } from '../project/moment';
import type { Rate } from '../time/rate';

/** What events read, from the first in point to the last out point. `start`: where their reference counts its first frame; null where it does not say. */
export interface ReadSpan {
  readonly first: Moment;
  readonly last: Moment;
  readonly start: Moment | null;
}

export interface Told {
  /** Names as written, the best evidence first: of the file, then of the clip. */
  readonly names: readonly string[];
  readonly reels: readonly string[];
  /** Reads with and without a stated start of counting; empty if nothing is read. */
  readonly reads: readonly ReadSpan[];
  readonly wants: 'picture' | 'sound' | 'any';
  /** Length of the media, and its start timecode, as far as they are stated. */
  readonly length: Moment | null;
  readonly start: Moment | null;
}

/** The rate at which events count; null where nothing is read. */
export function toldRate({ reads }: Told): Rate | null {
  return reads[0]?.first.rate ?? null;
}

/** Two spans as one that holds both. */
export function widened(a: ReadSpan, b: ReadSpan): ReadSpan {
  return { first: isBefore(b.first, a.first) ? b.first : a.first, last: isBefore(a.last, b.last) ? b.last : a.last, start: a.start };
}

export function isBefore(a: Moment, b: Moment): boolean {
  return BigInt(a.value) * BigInt(a.rate.den) * BigInt(b.rate.num) < BigInt(b.value) * BigInt(b.rate.den) * BigInt(a.rate.num);
}

/** Words and event numbers that lists give instead of a name: nothing is told by them. */
const NO_NAME = /^(?:ax|bl|black|untitled|unnamed|clip|\d{1,4})?$/i;

/** Names that tell something, each once. */
export function tellingNames(names: readonly (string | null | undefined)[]): string[] {
  const telling: string[] = [];
  for (const name of names) {
    const own = name?.trim() ?? '';
    if (own !== '' && !telling.includes(own) && !NO_NAME.test(own)) telling.push(own);
  }
  return telling;
}
