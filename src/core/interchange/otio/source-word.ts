/**
 * What a media reference says of its source in our own metadata (`mill_shelf.source`), so that the source is known again in
 * another house: its identifier there, which of its items the file is, and of a part which frames it holds.
 */
import { formatRate, parseRate, type Rate } from '../../time/rate';
import type { FrameRange } from '../../time/range';
import { isObject, type OtioObject } from './otio-types';

/** Frames of an item that a file holds, half-open, in units of the item's rate. */
export interface PartWord {
  readonly range: FrameRange;
  /** Length of the whole item. */
  readonly ofFrames: number;
  readonly rate: Rate;
  /** Name of the whole file; absent where it is not known. */
  readonly of?: string;
}

export interface SourceWord {
  readonly id: string;
  /** Name of the file the reference leads to, or what its frames' names begin with: another name is another file. */
  readonly file: string;
  /** Which item of the source it is: picture first. */
  readonly position: number;
  /** Fingerprint of the whole item; null where it is not known. */
  readonly print: string | null;
  /** Null for the whole item. */
  readonly part: PartWord | null;
}

const LONGEST_ID = 100;

/** `own`: our own metadata of a reference. Null where nothing is said, where it is said of another file than `file`, or cannot be read. */
export function readSourceWord(own: OtioObject, file: string): SourceWord | null {
  const said = own.source;
  if (!isObject(said) || typeof said.id !== 'string' || said.id === '' || said.id.length > LONGEST_ID) return null;
  if (typeof said.file !== 'string' || said.file.normalize('NFC') !== file.normalize('NFC')) return null;
  const part = partOf(said);
  if (part === undefined) return null;
  return {
    id: said.id,
    file: said.file,
    position: isCount(said.position) ? said.position : 0,
    print: typeof said.fingerprint === 'string' ? said.fingerprint : null,
    part,
  };
}

function partOf(said: OtioObject): PartWord | null | undefined {
  if (said.first_frame === undefined) return null;
  const rate = typeof said.rate === 'string' ? parseRate(said.rate) : null;
  const { first_frame: start, frames, of_frames: ofFrames } = said;
  const of = typeof said.of_file === 'string' && said.of_file !== '' ? { of: said.of_file } : {};
  return rate && isCount(start) && isCount(frames) && isCount(ofFrames)
    ? { range: { start, end: start + frames }, ofFrames, rate, ...of }
    : undefined;
}

function isCount(value: unknown): value is number {
  return typeof value === 'number' && Number.isSafeInteger(value) && value >= 0;
}

/** Metadata of a reference with what is said of its source. */
export function withSourceWord(metadata: OtioObject, { id, file, position, print, part }: SourceWord): OtioObject {
  const own = isObject(metadata.mill_shelf) ? metadata.mill_shelf : {};
  const source: OtioObject = {
    id,
    file,
    position,
    ...(print === null ? {} : { fingerprint: print }),
    ...(part
      ? {
          first_frame: part.range.start,
          frames: part.range.end - part.range.start,
          of_frames: part.ofFrames,
          rate: formatRate(part.rate),
          ...(part.of === undefined ? {} : { of_file: part.of }),
        }
      : {}),
  };
  return { ...metadata, mill_shelf: { ...own, source } };
}
