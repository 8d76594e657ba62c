/** A file that holds a part of a source, named after it in lists. */
import type { MediaFacts } from '../media/item';
import type { FrameRange } from '../time/range';
import { rateAsNumber } from '../time/rate';
import { frameToTimecode } from '../time/timecode';

type PartFacts = Pick<MediaFacts, 'kind' | 'rate' | 'startFrame' | 'durationFrames' | 'dropFrame' | 'sequence'>;

/**
 * What a part holds of its source, in words: its timecode, in point and out point (exclusive), where the file has one; the numbers of
 * frames, first and last; else seconds or timecode from the first frame of the source. `range`: in units of the source's rate, half-open.
 */
export function partSpan({ kind, rate, startFrame, durationFrames, dropFrame, sequence }: PartFacts, range: FrameRange): string {
  if (sequence) return `part ${sequence.firstNumber}–${sequence.lastNumber}`;
  if (rate === null) return `part ${range.start}–${range.end}`;
  const seconds = (units: number) => `${(units / rateAsNumber(rate)).toFixed(1)} s`;
  if (kind === 'audio' || rateAsNumber(rate) > 1000) return `part ${seconds(range.start)}–${seconds(range.end)}`;
  const label = (frame: number) => frameToTimecode(frame, rate, dropFrame);
  if (startFrame !== null && durationFrames !== null) return `part ${label(startFrame)}–${label(startFrame + durationFrames)}`;
  return `part ${label(range.start)}–${label(range.end)} from its first frame`;
}

export function partName(clip: string, facts: PartFacts, range: FrameRange): string {
  return `${clip} · ${partSpan(facts, range)}`;
}
