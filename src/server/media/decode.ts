/** Decoding every frame of a file, and finding those that do not come out. Nothing is kept of the pictures. */
import { isIntraFrame } from '../../core/media/codec-traits';
import { presentNumbers } from '../../core/media/image-sequence';
import type { MediaFacts } from '../../core/media/item';
import { rate, rateAsNumber } from '../../core/time/rate';
import { unite, type FrameRange } from '../../core/time/range';
import { frameToTimecode } from '../../core/time/timecode';
import { formatCount } from '../../core/words/figures';
import { sequenceArguments } from './encode-arguments';
import { probeTimed } from './probe';
import { complaint, inputArguments, MOST_PIXELS, pictureArguments, runTool } from './ffmpeg';

/** What came of it. Frames are counted from the first of the item. */
export interface Decoded {
  readonly frames: number;
  readonly wanted: number;
  /** Stretches of frames that do not decode, half-open, in order; none where none is known by its number. */
  readonly faults: readonly FrameRange[];
  /** What the decoder said; null where it said nothing. */
  readonly complaint: string | null;
}

export interface DecodeLimits {
  readonly signal: AbortSignal;
  readonly mustWait: () => boolean;
  /** Told after every piece: how many of the wanted frames were gone through. */
  readonly tell: (frames: number) => void;
  /** How often the decoder may be started to find out more of a fault; absent: MOST_LOOKS. */
  readonly mostLooks?: number;
}

/** How many frames go through one decoder: it can be stopped between, and what is wrong is found nearby. */
const PIECE = 1_000;
const ARGUMENTS = ['-max_pixels', String(MOST_PIXELS)];
/** Containers in which a frame is found by its time. */
const INDEXED = new Set(['mov', 'mxf', 'matroska']);

/** `path`: the file, or the folder of a sequence. Resolves with what was decoded by then where it is stopped. */
export async function decodeFrames(path: string, facts: MediaFacts, ranges: readonly FrameRange[], limits: DecodeLimits): Promise<Decoded> {
  const wanted = ranges.reduce((sum, { start, end }) => sum + end - start, 0);
  if (facts.kind === 'audio') return decodeSound(path, facts, wanted, limits);
  if (facts.kind === 'still') return decodeStill(path, facts, limits);
  if (facts.sequence) return inPieces(runsOf(facts, ranges), limits, (range) => countSequence(path, facts, range, limits));
  const canSeek = INDEXED.has(facts.container) && facts.rate !== null && facts.steadyRate !== false;
  if (canSeek) {
    // Sound may begin before the first picture: moments of the file are counted from the sound then.
    const { delay } = await probeTimed(path);
    return inPieces(ranges, limits, (range) => countVideo(path, facts, delay, range, limits));
  }
  return decodeThrough(path, facts, wanted, limits);
}

interface Count {
  readonly frames: number;
  readonly complaint: string | null;
}

/** Frames that are there, as stretches without holes. */
function runsOf({ sequence }: MediaFacts, ranges: readonly FrameRange[]): FrameRange[] {
  const runs: { start: number; end: number }[] = [];
  for (const range of ranges)
    for (const number of presentNumbers(sequence!, range)) {
      const frame = number - sequence!.firstNumber;
      const last = runs.at(-1);
      if (last?.end === frame) last.end++;
      else runs.push({ start: frame, end: frame + 1 });
    }
  return runs;
}

async function inPieces(ranges: readonly FrameRange[], limits: DecodeLimits, count: (range: FrameRange) => Promise<Count>): Promise<Decoded> {
  const found = { frames: 0, faults: [] as FrameRange[], complaint: null as string | null };
  const search: Search = { count, limits, left: limits.mostLooks ?? MOST_LOOKS };
  const wanted = ranges.reduce((sum, { start, end }) => sum + end - start, 0);
  let gone = 0;
  for (const { start, end } of ranges)
    for (let at = start; at < end; at += PIECE) {
      const piece = { start: at, end: Math.min(end, at + PIECE) };
      const own = await count(piece);
      if (limits.signal.aborted) return { ...found, wanted };
      found.frames += own.frames;
      if (own.frames < piece.end - piece.start) {
        found.complaint ??= own.complaint;
        found.faults.push(...(await faultsIn(piece, own.frames, search)));
      }
      gone += piece.end - piece.start;
      limits.tell(gone);
    }
  return { ...found, faults: unite(found.faults), wanted };
}

interface Search {
  readonly count: (range: FrameRange) => Promise<Count>;
  readonly limits: DecodeLimits;
  /** How often a decoder may still be started to find out more. */
  left: number;
}

/** Of a file with faults all over: what is left is told by the stretch they lie in. */
const MOST_LOOKS = 150;

/** Halves until no frame of a stretch comes out. `came`: how many of its frames do, which is fewer than it has. */
async function faultsIn(range: FrameRange, came: number, search: Search): Promise<FrameRange[]> {
  const { start, end } = range;
  if (came === 0 || end - start === 1 || search.left <= 0 || search.limits.signal.aborted) return [range];
  const middle = start + Math.floor((end - start) / 2);
  const faults: FrameRange[] = [];
  for (const half of [
    { start, end: middle },
    { start: middle, end },
  ]) {
    search.left--;
    const { frames } = await search.count(half);
    if (frames < half.end - half.start) faults.push(...(await faultsIn(half, frames, search)));
  }
  // What comes out of both halves and not of the whole lies somewhere in it.
  return faults.length === 0 ? [range] : faults;
}

async function countVideo(path: string, facts: MediaFacts, delay: number, { start, end }: FrameRange, limits: DecodeLimits): Promise<Count> {
  const perSecond = rateAsNumber(facts.rate!);
  // A little early, so that rounding never takes the frame before or loses the first; and a little short at the end.
  const seek = start > 0 ? ['-ss', (delay + (start - 0.25) / perSecond).toFixed(6)] : [];
  const length = ['-t', ((start > 0 ? 0 : delay) + (end - start - 0.4) / perSecond).toFixed(6)];
  return countPictures([...ARGUMENTS, ...seek, ...inputArguments(path, facts.container), '-map', '0:V:0', ...length], end - start, limits);
}

async function countSequence(folder: string, { sequence }: MediaFacts, { start, end }: FrameRange, limits: DecodeLimits): Promise<Count> {
  const input = sequenceArguments(folder, sequence!, rate(25), sequence!.firstNumber + start);
  // A frame that does not come out must not let the one behind the last count for it.
  const length = ['-t', ((end - start - 0.5) / 25).toFixed(6)];
  return countPictures([...ARGUMENTS, ...input, '-map', '0:V:0', ...length], end - start, limits);
}

/** Pictures that come out, at most `most`. */
async function countPictures(input: readonly string[], most: number, { signal, mustWait }: DecodeLimits): Promise<Count> {
  const show = ['-an', '-sn', '-dn', '-fps_mode', 'passthrough', '-frames:v', String(most), '-f', 'framecrc', '-'];
  const result = await runTool('ffmpeg', [...input, ...show], { signal, mustWait, inBackground: true });
  const frames = result.stdout.split('\n').filter((line) => line.startsWith('0,')).length;
  return { frames: Math.min(most, frames), complaint: result.stderr.trim() === '' ? null : complaint(result.stderr) };
}

async function decodeStill(path: string, facts: MediaFacts, limits: DecodeLimits): Promise<Decoded> {
  const { frames, complaint: words } = await countPictures([...ARGUMENTS, ...pictureArguments(path, facts.container), '-map', '0:V:0'], 1, limits);
  limits.tell(1);
  return { frames, wanted: 1, faults: frames === 1 ? [] : [{ start: 0, end: 1 }], complaint: words };
}

/** Compressed sound says what is wrong with it; what is not compressed has nothing that could be. */
async function decodeSound(path: string, facts: MediaFacts, wanted: number, { signal, mustWait, tell }: DecodeLimits): Promise<Decoded> {
  const result = await runTool('ffmpeg', [...inputArguments(path, facts.container), '-map', '0:a', '-f', 'null', '-'], { signal, mustWait, inBackground: true }); // prettier-ignore
  const words = result.stderr.trim() === '' && result.exitCode === 0 ? null : complaint(result.stderr);
  tell(wanted);
  return { frames: words === null ? wanted : 0, wanted, faults: [], complaint: words };
}

/** From its begin to its end: in such files no frame is found by its time. */
async function decodeThrough(path: string, facts: MediaFacts, wanted: number, limits: DecodeLimits): Promise<Decoded> {
  const all = facts.durationFrames ?? wanted;
  const { frames, complaint: words } = await countPictures([...ARGUMENTS, ...inputArguments(path, facts.container), '-map', '0:V:0'], all, limits);
  limits.tell(wanted);
  // The first pictures of a stream that begins in the middle of a group do not come, and are missed by nobody who says nothing.
  const isWhole = frames >= all || (words === null && !isIntraFrame(facts));
  return {
    frames: isWhole ? wanted : Math.min(wanted, Math.max(0, wanted - (all - frames))),
    wanted,
    faults: [],
    complaint: isWhole ? null : words,
  };
}

/** How many faults of one file are named; a file with more is of no use anyway. */
const MOST_NAMED = 24;

/** How many frames come out, and which do not: "48 of 50 frames decode, 2 faults: 10:00:00:05 (frame 5) and 10:00:00:40 (frame 40)". */
export function decodedWords(facts: MediaFacts, { frames, wanted, faults }: Decoded, what = 'frames'): string {
  return `${formatCount(frames)} of ${formatCount(wanted)} ${what} decode${faults.length === 0 ? '' : `, ${faultWords(facts, faults)}`}`;
}

/** Every fault by its first frame, and by its length where it is longer than one. */
function faultWords(facts: MediaFacts, faults: readonly FrameRange[]): string {
  const named = faults.slice(0, MOST_NAMED).map(({ start, end }) => `${frameWords(facts, start)}${end - start > 1 ? `, ${formatCount(end - start)} frames` : ''}`); // prettier-ignore
  const more = faults.length > MOST_NAMED ? [`${formatCount(faults.length - MOST_NAMED)} more`] : [];
  const list = [...named, ...more];
  if (faults.length === 1) return `the fault is at ${list[0]}`;
  return `${formatCount(faults.length)} faults: ${list.slice(0, -1).join('; ')} and ${list.at(-1)}`;
}

/** A frame of an item as people name it: by its timecode, or its number. */
export function frameWords({ startFrame, rate: own, dropFrame, sequence }: MediaFacts, frame: number): string {
  if (sequence) return `frame number ${sequence.firstNumber + frame}`;
  return own === null ? `frame ${frame}` : `${frameToTimecode((startFrame ?? 0) + frame, own, dropFrame)} (frame ${formatCount(frame)})`;
}
