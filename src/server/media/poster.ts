/** Poster frames of items, made by ffmpeg and kept in the data folder. */
import { createHash } from 'node:crypto';
import { access, stat } from 'node:fs/promises';
import type { Item } from '../../core/media/item';
import { jpegColours } from '../../core/rendition/colours';
import { frameToMicroseconds } from '../../core/time/convert';
import { inputArguments, LOOK_ARGUMENTS, LOOK_MEMORY_BYTES, MOST_PIXELS, pictureArguments, runTool } from './ffmpeg';
import { PictureCache } from './picture-cache';
import { PictureQueue, TooManyPictures } from './picture-queue';
import { entryAt, leadsInto, pictureDelay } from './entry';

const POSTER_WIDTH = 480;
const POSTER_MS = 20_000;
export const POSTERS_AT_ONCE = 2;
const MOST_WAITING = 200;
export const POSTER_CACHE_BYTES = 2 * 1024 ** 3;

export class Posters {
  private readonly queue = new PictureQueue(POSTERS_AT_ONCE, MOST_WAITING);
  private readonly cache: PictureCache;

  constructor(folder: string, mostBytes = POSTER_CACHE_BYTES) {
    this.cache = new PictureCache(folder, mostBytes);
  }

  /**
   * JPEG of item frame `frame` (from 0) of `file`, which is that very frame where the item is a sequence; null when the
   * item has no picture, has too large a one, or it cannot be read. Rejects with TooManyPictures.
   */
  async frame(item: Item, file: string, frame: number, signal?: AbortSignal): Promise<Buffer | null> {
    const { video } = item.facts;
    if (!video || video.width * video.height > MOST_PIXELS) return null;
    const key = createHash('sha256')
      .update(JSON.stringify(['poster 3', item.fingerprint, item.sizeBytes, item.modifiedMs, item.place, frame]))
      .digest('hex');
    const make = (gone: AbortSignal) => this.cache.put(key, (part) => makePoster(item, file, frame, part, gone));
    return (await this.cache.get(key)) ?? this.queue.get(key, make, signal);
  }
}

async function makePoster({ facts }: Item, file: string, frame: number, part: string, signal: AbortSignal): Promise<boolean> {
  const { kind, container, sequence, rate, video } = facts;
  const isPicture = kind === 'still' || sequence !== null;
  const input = isPicture ? pictureArguments(file, container) : inputArguments(file);
  const filter = `scale=${POSTER_WIDTH}:-2:flags=area${video ? jpegColours(video) : ''},format=yuvj420p`;
  const output = ['-frames:v', '1', '-vf', filter, '-q:v', '4', '-f', 'mjpeg', '-y', part];
  const limits = { signal, timeLimitMs: POSTER_MS, mostMemoryBytes: LOOK_MEMORY_BYTES, inBackground: true };
  const source = { path: file, facts };
  const isSought = rate !== null && !isPicture && frame > 0;
  const at = isSought ? frameToMicroseconds(2 * frame - 1, { num: rate.num * 2, den: rate.den }) / 1e6 : 0;
  const delay = isSought ? await pictureDelay(source, signal) : 0;
  for (const lead of isSought ? leadsInto(source) : [0]) {
    const { seek, skip } = isSought ? entryAt(source, at, delay, lead) : { seek: 0, skip: 0 };
    const from = (seconds: number) => (seconds > 0 ? ['-ss', `${Math.round(seconds * 1e6)}us`] : []);
    const result = await runTool('ffmpeg', [...LOOK_ARGUMENTS, ...from(seek), ...input, ...from(skip), ...output], limits);
    // A machine that was too busy, or a drive that went away, says nothing of the picture.
    if (result.wasEnded) throw new TooManyPictures();
    // Nothing may come where it was entered too late.
    if (result.exitCode === 0 && (await stat(part)).size > 0) return true;
  }
  await access(file);
  return false;
}
