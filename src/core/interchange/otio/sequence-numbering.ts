/** How a new reference numbers the frames of a sequence: as the one in whose place it stands did. */
import { isObject, schemaName, type OtioObject } from './otio-types';
import type { SequenceFacts } from '../../media/item';

/**
 * Every how manieth number is a frame, and the number the count begins at: that of the old reference where the sequence
 * still has it, else the first. `partStart`: first frame of a part of it, counted from 0; the count then begins at the
 * first number of the old one's steps that is in the part.
 */
export function numbering(sequence: SequenceFacts, old: OtioObject | null, partStart: number | null): { startNumber: number; step: number } {
  const stated = isObject(old) && schemaName(old) === 'ImageSequenceReference' ? old : null;
  const step = wholeNumber(stated?.frame_step) ?? 1;
  const start = wholeNumber(stated?.start_frame);
  const { firstNumber, lastNumber } = sequence;
  const isThere = start !== null && start >= firstNumber && start <= lastNumber;
  if (partStart === null) return { startNumber: isThere ? start : firstNumber, step: Math.max(1, step) };
  const first = firstNumber + partStart;
  return { startNumber: step > 1 && isThere ? first + nonNegative(start - first, step) : first, step: Math.max(1, step) };
}

/** First item frame that is shown when `frame` is asked for: with steps a frame stays until the next. */
export function steppedBack(frame: number, sequence: SequenceFacts | null, stated: { startNumber: number; step: number } | null): number {
  if (!sequence || !stated || stated.step <= 1) return frame;
  return frame - nonNegative(sequence.firstNumber + frame - stated.startNumber, stated.step);
}

function nonNegative(value: number, divisor: number): number {
  return ((value % divisor) + divisor) % divisor;
}

function wholeNumber(value: unknown): number | null {
  return typeof value === 'number' && Number.isSafeInteger(value) ? value : null;
}
