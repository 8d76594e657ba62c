/** Poster frames of items, made by ffmpeg and kept in the data folder. */
import { createHash } from 'node:crypto';
import { access } from 'node:fs/promises';
import type { Item } from '../../core/media/item';
import { frameToMicroseconds } from '../../core/time/convert';
import { inputArguments, LOOK_ARGUMENTS, LOOK_MEMORY_BYTES, MOST_PIXELS, pictureArguments, runTool } from './ffmpeg';
import { PictureCache } from './picture-cache';
import { PictureQueue, TooManyPictures } from './picture-queue';

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
      .update(JSON.stringify([item.fingerprint, item.sizeBytes, item.modifiedMs, item.place, frame]))
      .digest('hex');
    const make = (gone: AbortSignal) => this.cache.put(key, (part) => makePoster(item, file, frame, part, gone));
    return (await this.cache.get(key)) ?? this.queue.get(key, make, signal);
  }
}

async function makePoster({ facts }: Item, file: string, frame: number, part: string, signal: AbortSignal): Promise<boolean> {
  const { kind, container, sequence, rate } = facts;
  const seek = rate && !sequence ? ['-ss', `${frameToMicroseconds(frame, rate)}us`] : [];
  const input = kind === 'still' || sequence ? pictureArguments(file, container) : inputArguments(file);
  const filter = `scale=${POSTER_WIDTH}:-2:flags=area,format=yuvj420p`;
  const output = ['-frames:v', '1', '-vf', filter, '-q:v', '4', '-f', 'mjpeg', '-y', part];
  const limits = { signal, timeLimitMs: POSTER_MS, mostMemoryBytes: LOOK_MEMORY_BYTES, inBackground: true };
  const result = await runTool('ffmpeg', [...LOOK_ARGUMENTS, ...seek, ...input, ...output], limits);
  if (result.exitCode === 0) return true;
  // A machine that was too busy, or a drive that went away, says nothing of the picture.
  if (result.wasEnded) throw new TooManyPictures();
  await access(file);
  return false;
}
